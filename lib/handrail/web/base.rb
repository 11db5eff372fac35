# frozen_string_literal: true

module Handrail
  module Web
    # What all pages share: who is signed in, rights, and how faults are told.
    class Base < Sinatra::Base
      set :views, VIEWS
      set :erb, escape_html: true, layout: :layout
      set :sessions, false
      set :protection, false
      set :static, false
      set :show_exceptions, false
      set :raise_errors, true
      set :host_authorization, { permitted_hosts: [] }
      set :default_encoding, "utf-8"

      helpers Helpers::Format, Helpers::Forms, Helpers::States

      error(Sinatra::NotFound) { raw(ErrorPages.page(404)) }

      helpers do
        def account = env.fetch("handrail.account")
        def clinic = @clinic ||= account.clinic
        def today = clinic.today
        def fragment? = !env["HTTP_HX_REQUEST"].nil?

        # Halts unless the person signed in may do clinical work.
        def clinical!
          not_yours("The front desk books and finds; readings, fittings and records are for fitters.") unless account.clinical?
        end

        def senior!
          not_yours("This is for seniors.") unless account.senior?
        end

        def not_yours(sentence)
          status 403
          halt erb(:"shared/not_yours", locals: { sentence: sentence })
        end

        # Answers as if there were nothing: another clinic's rows do not exist here.
        def found(row) = row || raise(Sinatra::NotFound)

        # A whole Rack response.
        def raw((code, headers, body))
          status code
          headers(headers)
          body(body)
        end

        # After a write: the next page, also for htmx.
        def go(path)
          return redirect(path, 303) unless fragment?

          headers "HX-Redirect" => path
          halt 204
        end
      end
    end
  end
end
