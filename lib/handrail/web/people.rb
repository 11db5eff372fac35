# frozen_string_literal: true

module Handrail
  module Web
    # Who works in the clinic, for seniors; and for everyone their own name, password and sessions.
    class People < Base
      WORDS = Wording.names("account_events")
      TRIED = Wording.names("sign_ins")

      register HoursPages
      register PlacesPages
      register Settings
      helpers Settings::Helpers

      helpers do
        # link - [what it is for, address] of a link that was just made, shown this once
        def people_page(faults: {}, values: {}, link: nil)
          people = Store::Account.where(clinic_id: clinic.id).order(:status_id, :name).all
          erb :"people/list",
              locals: {
                people: people,
                faults: faults,
                values: values,
                link: link,
                waiting: waiting,
                events: events,
                names: people.to_h { |p| [p.id, p.name] },
                tries: Store::SignInLog.newest(clinic),
                coded: coded(people)
              }
        end

        # ids of those who use one-time codes
        def coded(people) = Store.db[:account_otp_keys].where(id: people.map(&:id)).select_map(:id)

        def waiting
          Store.db[:account_links]
            .where(clinic_id: clinic.id, purpose: "join", used_at: nil)
            .where { expires_at > Store.now }
            .order(:email)
            .all
        end

        def events
          Store.db[:account_events].where(clinic_id: clinic.id).reverse(:at, :id).limit(40).all
        end

        # kind - a command; given - what it reads
        def senior_command(kind, given, values: {})
          senior!
          confirm!
          command = kind.new(given)
          desk.run(command)
          yield command if block_given?
        rescue Store::Faults, Store::Conflict => e
          status e.is_a?(Store::Conflict) ? 409 : 422
          people_page(faults: e.fields, values: values)
        end

        # what is shown of a link: the same entry sent again does not show it twice
        def with_link(command, words)
          return go("/people") unless command.token

          people_page(link: [words, "#{Address.of(request)}/join/#{command.token}"])
        end

        def own_page(faults: {}, values: {}, calendar: nil)
          sessions =
            Store.db[:account_active_session_keys]
              .where(account_id: account.id)
              .reverse(:last_use)
              .all
          erb :"people/me",
              locals: {
                faults: faults,
                sessions: sessions,
                here: session_here,
                values: values,
                codes: Store::People.codes?(account),
                calendar: calendar
              }
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
        senior_command(Store::Commands::InvitePerson, params, values: params) do |command|
          with_link(command, Wording.t("web.join_clinic", email: command.email))
        end
      end

      post "/people/confirm" do
        senior!
        confirm!
        go("/people")
      rescue Store::Faults => e
        status 422
        people_page(faults: e.fields)
      end

      post "/people/:id/role" do
        senior_command(Store::Commands::ChangeRole, { "person" => id, "role" => text("role") }) do
          go("/people")
        end
      end

      post "/people/:id/close" do
        senior_command(Store::Commands::CloseAccount, { "person" => id }) { go("/people") }
      end

      post "/people/:id/codes" do
        senior_command(Store::Commands::TakeOffCodes, { "person" => id }) { go("/people") }
      end

      post "/people/:id/reset" do
        whom = found(Store::Account.where(clinic_id: clinic.id, id: id).first)
        senior_command(Store::Commands::SendResetLink, { "person" => id }) do |command|
          with_link(command, Wording.t("web.new_password", whom: whom.name))
        end
      end

      get("/me/?") { own_page }

      # asked by a page before a list leaves it as a file
      post "/me/confirm" do
        confirm!
        204
      rescue Store::Faults => e
        content_type "text/plain"
        halt 422, e.fields["own_password"]
      end

      post "/me/password" do
        Store::People.change_password(
          account,
          current: text("current"),
          password: text("password"),
          again: text("again"),
          keep: session_here
        )
        go("/me")
      rescue Store::Faults => e
        status 422
        own_page(faults: e.fields)
      end

      post "/me/name" do
        Store::People.change_name(account, text("name"))
        go("/me")
      rescue Store::Faults => e
        status 422
        own_page(faults: e.fields, values: params.slice("name"))
      end

      post "/me/keys" do
        Store::People.change_keys(account, map("keys"))
        go("/me")
      rescue Store::Faults => e
        status 422
        own_page(faults: e.fields, values: { "keys" => map("keys") })
      end

      post "/me/ways" do
        clinical!
        Store::Ways.change(account, Array(params["ways"]).grep(String))
        go("/me#ways-form")
      end

      # the address is shown this once
      post "/me/calendar" do
        token = params["revoke"] ? nil : Store::CalendarKeys.make(account)
        Store::CalendarKeys.revoke(account) unless token
        own_page(calendar: token && "#{Address.of(request)}/calendar/#{token}.ics")
      end

      post "/me/sessions" do
        ended = Store::People.end_sessions(account, keep: session_here)
        if ended.positive?
          Store::People.note(account, "sessions_ended", by: account.id, detail: ended.to_s)
        end
        go("/me")
      end
    end
  end
end
