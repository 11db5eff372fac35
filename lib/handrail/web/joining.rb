# frozen_string_literal: true

module Handrail
  module Web
    # Where a link leads that someone was given: to join a clinic, to a new password, to set up a
    # clinic. Nobody is signed in here; the link alone opens it, once.
    class Joining < Base
      # Whether a path is one of these, which need no sign-in.
      def self.open?(path) = path.match?(%r{\A/(join|set-up)/[A-Za-z0-9_-]{20,100}\z})

      set :erb, escape_html: true, layout: :"joining/layout"

      helpers do
        def token_of_link = params["token"].to_s

        def gone(sentence)
          status 410
          erb :"joining/gone", locals: { sentence: sentence }
        end

        def join_page(link, values: {}, faults: {})
          erb :"joining/join",
              locals: {
                link: link,
                clinic_name: Store::Clinic[link[:clinic_id]].name,
                values: values,
                faults: faults
              }
        end

        def set_up_page(values: {}, faults: {})
          values = { "time_zone" => "Europe/London", "tape" => "cm 1 mm" }.merge(values)
          erb :"joining/set_up", locals: { values: values, faults: faults }
        end

        def welcome(account)
          erb :"joining/welcome", locals: { account_name: account.name, email: account.email }
        end
      end

      get "/join/:token" do
        link = Store::People.open_link(token_of_link) or next gone(Store::People::GONE)
        join_page(link)
      end

      post "/join/:token" do
        link = Store::People.open_link(token_of_link)
        welcome(
          Store::People.use(
            token_of_link,
            name: text("name"),
            password: text("password"),
            again: text("again")
          )
        )
      rescue Store::Unacceptable => e
        gone(e.message)
      rescue Store::Faults => e
        status 422
        join_page(link, values: params.slice("name"), faults: e.fields)
      end

      get "/set-up/:token" do
        next gone(Store::SetUp::GONE) unless Store::SetUp.open?(token_of_link)

        set_up_page
      end

      post "/set-up/:token" do
        welcome(Store::SetUp.use(token_of_link, params))
      rescue Store::Unacceptable => e
        gone(e.message)
      rescue Store::Faults => e
        status 422
        set_up_page(values: params.slice(*Store::SetUp::FIELDS.keys, "families"), faults: e.fields)
      end
    end
  end
end
