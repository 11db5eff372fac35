# frozen_string_literal: true

module Handrail
  module Web
    # What all pages share: who is signed in, rights, how parameters are read, and how faults are
    # told.
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

      # names the entry that an answer kept: a browser lets go of one only by this, never by a status
      KEPT = "handrail-kept"
      # with it: the number of the fitting's newest entry
      VERSION = "handrail-version"
      # names the entry that an answer did not keep, with the page that says why
      REFUSED = "handrail-refused"
      CONFIRMED_SECONDS = 10 * 60
      AGAIN = Wording.t("web.password_again").freeze

      helpers Helpers::Format, Helpers::Forms, Helpers::States, Helpers::LookUp

      error(Sinatra::NotFound) { raw(ErrorPages.page(404)) }
      error(Store::NotAllowed) { not_yours(env["sinatra.error"].message) }
      not_found { raw(ErrorPages.page(404)) }

      helpers do
        def account = env.fetch("handrail.account")
        def clinic = @clinic ||= account.clinic
        def today = clinic.today
        def fragment? = !env["HTTP_HX_REQUEST"].nil?

        # Halts unless the person signed in may do clinical work.
        def clinical!
          return if account.clinical?

          not_yours(Wording.t("web.for_fitters"))
        end

        def senior!
          not_yours(Wording.t("web.for_seniors")) unless account.senior?
        end

        # Whether who sits here has shown lately that they know the password.
        def confirmed? = (Time.now.to_i - session["confirmed_at"].to_i) < CONFIRMED_SECONDS

        # Asks for the password before what someone at an open screen must not do: a senior's word,
        # what is done to accounts, what leaves the clinic. Raises Faults.
        def confirm!
          return if confirmed?

          typed = params["own_password"].to_s
          raise Store::Faults, { "own_password" => AGAIN } if typed.empty?

          right = Store::People.password?(account, typed)
          Store::SignInLog.note(
            right ? "confirmed" : "not_confirmed",
            address: request.ip,
            account: account
          )
          raise Store::Faults, { "own_password" => Wording.t("web.not_your_password") } unless right

          session["confirmed_at"] = Time.now.to_i
        end

        def not_yours(sentence)
          answers(REFUSED)
          status 403
          halt erb(:"shared/not_yours", locals: { sentence: sentence })
        end

        # Answers as if there were nothing: another clinic's rows do not exist here.
        def found(row) = row || raise(Sinatra::NotFound)

        # The instrument that is named, one of Instruments::KINDS.
        def instrument! = found(text("kind").then { |kind| kind if Instruments::KINDS.key?(kind) })

        # A parameter as a text, whatever was sent.
        def text(name) = params[name].is_a?(String) ? params[name] : ""

        # The id in the path.
        def id = @id ||= found(Store::Inputs.whole(params["id"], 1..Store::Inputs::LARGEST_ID))

        # A parameter as a Hash of texts, whatever was sent.
        def map(name) = params[name].is_a?(Hash) ? params[name] : {}

        def desk = Store::Desk.new(clinic, account, entry_key: params["entry_key"], page: page_key)

        # Names the entry that was sent in the answer. header - KEPT or REFUSED.
        def answers(header)
          key = params["entry_key"]
          headers header => key if key.is_a?(String) && key.match?(/\A[\h-]{36}\z/)
        end

        # A file that was sent with a form, as [open file, its name], or nil.
        def sent_file(name)
          file = params[name]
          return unless file.is_a?(Hash) && file["tempfile"].respond_to?(:path)

          [file["tempfile"], file["filename"].to_s]
        end

        # A whole Rack response.
        def raw((code, headers, body))
          status code
          headers(headers)
          body(body)
        end

        # After a write: the next page, also for htmx. Only the path goes out, never what the
        # request called the host. The next page says which entry was kept, so that the browser lets
        # go of its draft.
        def go(path)
          session["kept"] = params["entry_key"] if request.post? &&
            params["entry_key"].is_a?(String)
          return halt(303, { "location" => path }, "") unless fragment?

          headers "HX-Redirect" => path
          halt 204
        end
      end
    end
  end
end
