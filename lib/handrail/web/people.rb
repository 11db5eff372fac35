# frozen_string_literal: true

module Handrail
  module Web
    # Who works in the clinic, for seniors; and for everyone their own name, password and sessions.
    class People < Base
      WORDS = { "joined" => "joined", "role" => "another role", "closed" => "account closed",
                "reset_link" => "link to a new password", "password" => "new password", "name" => "another name",
                "sessions_ended" => "sessions ended" }.freeze

      helpers do
        # link - [what it is for, address] of a link that was just made, shown this once
        def people_page(faults: {}, values: {}, link: nil)
          people = Store::Account.where(clinic_id: clinic.id).order(:status_id, :name).all
          erb :"people/list", locals: { people: people, faults: faults, values: values, link: link,
                                        waiting: waiting, events: events, names: people.to_h { |p| [p.id, p.name] } }
        end

        def waiting
          Store.db[:account_links].where(clinic_id: clinic.id, purpose: "join", used_at: nil)
               .where { expires_at > Store.now }.order(:email).all
        end

        def events
          Store.db[:account_events].where(clinic_id: clinic.id).reverse(:at, :id).limit(40).all
        end

        def senior_command(command, values: {})
          senior!
          desk.run(command)
          yield command if block_given?
        rescue Store::Faults, Store::Conflict => e
          status e.is_a?(Store::Conflict) ? 409 : 422
          people_page(faults: e.is_a?(Store::Faults) ? e.fields : { "form" => e.message }, values: values)
        end

        # what is shown of a link: the same entry sent again does not show it twice
        def with_link(command, words)
          return go("/people") unless command.token

          people_page(link: [words, "#{request.base_url}/join/#{command.token}"])
        end

        # stale - whether somebody else changed them while the page was open
        def settings_page(values, faults: {}, stale: false)
          erb :"people/settings", locals: { values: values, faults: faults, stale: stale,
                                            seen: Store::ClinicValues.digest(clinic) }
        end

        def own_page(faults: {})
          sessions = Store.db[:account_active_session_keys].where(account_id: account.id).reverse(:last_use).all
          erb :"people/me", locals: { faults: faults, sessions: sessions, here: session_here }
        end

        # the key under which this session is kept
        def session_here
          key = env["rodauth"]&.session&.[](:active_session_id)
          key && env["rodauth"].send(:compute_hmac, key)
        end
      end

      get "/people/?" do
        senior!
        people_page
      end

      post "/people/invite" do
        senior_command(Store::Commands::InvitePerson.new(params), values: params) do |command|
          with_link(command, "to join the clinic, for #{command.email}")
        end
      rescue Store::Faults => e
        status 422
        people_page(faults: e.fields, values: params)
      end

      post "/people/:id/role" do
        senior_command(Store::Commands::ChangeRole.new("person" => id, "role" => text("role"))) { go("/people") }
      end

      post "/people/:id/close" do
        senior_command(Store::Commands::CloseAccount.new("person" => id)) { go("/people") }
      end

      post "/people/:id/reset" do
        whom = found(Store::Account.where(clinic_id: clinic.id, id: id).first)
        senior_command(Store::Commands::SendResetLink.new("person" => id)) do |command|
          with_link(command, "to a new password, for #{whom.name}")
        end
      end

      get "/settings/?" do
        senior!
        settings_page(Store::ClinicValues.of(clinic))
      end

      post "/settings/?" do
        senior!
        desk.run(Store::Commands::ChangeSettings.new(params))
        go("/settings")
      rescue Store::Stale, Store::Faults, Store::Conflict => e
        status e.is_a?(Store::Faults) ? 422 : 409
        clinic.refresh
        settings_page(Store::ClinicValues.read(params), faults: e.is_a?(Store::Faults) ? e.fields : {},
                                                        stale: !e.is_a?(Store::Faults))
      end

      get("/me/?") { own_page }

      post "/me/password" do
        Store::People.change_password(account, current: text("current"), password: text("password"),
                                               again: text("again"), keep: session_here)
        go("/me")
      rescue Store::Faults => e
        status 422
        own_page(faults: e.fields)
      end

      post "/me/sessions" do
        ended = Store::People.end_sessions(account, keep: session_here)
        Store::People.note(account, "sessions_ended", by: account.id, detail: ended.to_s) if ended.positive?
        go("/me")
      end
    end
  end
end
