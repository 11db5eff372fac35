# frozen_string_literal: true

module Handrail
  module Store
    # The first hour of a clinic: a link that works once, and what it makes.
    module SetUp
      # who sets it up: field => the most characters
      FIRST = { "person" => 100, "email" => 200 }.freeze
      LANGUAGE = "sheet_language"
      FIELDS = ClinicValues::FIELDS.merge(FIRST, LANGUAGE => 2).freeze
      GONE = "This link was used already, or is too old. Make a new one: bin/handrail clinic new"

      class << self
        # A new link's token. It works once, for two days.
        def link
          token, digest, ends = People.link("set_up")
          Store.db[:set_up_links].insert(token_digest: digest, expires_at: ends)
          token
        end

        def open?(token) = !row(token).nil?

        # Makes the clinic and its first senior. form - the fields as typed. Returns the Account.
        # Raises Faults, or Unacceptable where the link no longer works.
        def use(token, form)
          Store.db.transaction do
            link =
              Store.db[:set_up_links].where(token_digest: People.digest(token)).for_update.first
            before = link && sent_again(link, form)
            next before if before
            raise Unacceptable.new("link", GONE) unless open?(token)

            account = make(form)
            Store.db[:set_up_links].where(token_digest: People.digest(token)).update(
              used_at: Store.now
            )
            account
          end
        rescue Sequel::UniqueConstraintViolation
          raise Faults, { "email" => "This e-mail signs in here already. Use another one." }
        end

        # Removes a clinic and everything in it. Its append-only tables hold against everything but
        # this; the owner of the database alone can do it. Raises Handrail::Error for a clinic that
        # is no demo.
        def remove(clinic)
          raise Handrail::Error, "Only the demo clinic is removed." unless clinic.demo

          Store.db.run("SET LOCAL session_replication_role = replica")
          accounts = Store.db[:accounts].where(clinic_id: clinic.id).select_map(:id)
          SIGN_IN.each { |table, column| Store.db[table].where(column => accounts).delete }
          owned = Store.db.tables.select { |table| Store.db[table].columns.include?(:clinic_id) }
          owned.each { |table| Store.db[table].where(clinic_id: clinic.id).delete }
          Store.db[:clinics].where(id: clinic.id).delete
        end

        # the tables of signing in, and how they name an account
        SIGN_IN = {
          account_otp_keys: :id,
          account_recovery_codes: :id,
          account_active_session_keys: :account_id
        }.freeze

        # The same without a link, for who is at the machine. office - true for the office of a group, which has no
        # patients
        def make(form, office: false)
          clinic = ClinicValues.read(form)
          choices = Choices.read(form.slice(LANGUAGE))
          values = FIRST.to_h { |name, most| [name, form[name].to_s.strip[0, most]] }
          values["email"] = People.email(values["email"])
          password = form["password"].to_s
          whose = { email: values["email"], name: values["person"] }
          faults = [
            ClinicValues.faults(clinic),
            Choices.faults(choices),
            faults(values),
            People.password_faults(password, form["again"].to_s, **whose)
          ]
          raise Faults, faults.reduce(:merge) if faults.any?(&:any?)

          columns = { **ClinicValues.columns(clinic), choices: Store.json(choices) }
          senior(office ? made_office(columns) : Clinic.create(columns), values, password)
        end

        private

        def made_office(columns)
          key = SecureRandom.uuid
          named = { key: key, group_key: key, group_name: columns.fetch(:name) }
          Clinic.create(**columns, **named, office: true)
        end

        # the account that this very form made a moment ago, where its answer was lost
        def sent_again(link, form)
          return unless link[:used_at]

          account = Account.first(email: People.email(form["email"])) or return
          # nobody else's password is tried here: the account was made with this very link
          return unless made_at?(account, link[:used_at])

          made = { email: account.email, clinic_id: account.clinic_id, used_at: link[:used_at] }
          People.sent_again(made, form["password"].to_s)
        end

        # seconds between an account that sets up a clinic and the end of its link: one transaction
        ONE = 5
        private_constant :ONE

        def made_at?(account, moment)
          Store.db[:account_events]
            .where(account_id: account.id, what: "joined", by: account.id)
            .where(at: (moment - ONE)..(moment + ONE))
            .any?
        end

        def row(token)
          Store.db[:set_up_links]
            .where(token_digest: People.digest(token), used_at: nil)
            .where { expires_at > Store.now }
            .first
        end

        def senior(clinic, values, password)
          account =
            Account.create(
              clinic_id: clinic.id,
              name: values["person"],
              email: values["email"],
              role: "senior",
              password_hash: People.hash(password)
            )
          People.note(account, "joined", by: account.id, detail: "set up the clinic")
          unless clinic.office
            Patient.create(clinic_id: clinic.id, **Commands::MakePracticePatient::WHO)
          end
          account
        end

        def faults(values)
          {
            "person" => ("Write your name as it stands in the records." if values["person"].empty?),
            "email" =>
              (
                if !values["email"].match?(People::EMAIL)
                  "Write an e-mail, like ada@clinic.example."
                elsif Clusters.many? && People.known?(values["email"])
                  "This e-mail signs in here already. Use another one."
                end
              )
          }.compact
        end
      end
    end
  end
end
