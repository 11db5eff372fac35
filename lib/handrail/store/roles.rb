# frozen_string_literal: true

module Handrail
  module Store
    # Two roles of the database: one owns the tables and migrates them, the other is the
    # application's. That one owns nothing: it reads and writes rows, adds to the tables that take
    # new rows only, and can neither truncate nor alter anything nor touch the audit, which its
    # trigger writes.
    module Roles
      NAME = /\A[a-z_][a-z0-9_]{0,62}\z/

      class << self
        # Makes the application's role where it is missing, with this password. For the owner, who
        # may make roles.
        def make(role, password)
          named!(role)
          known = Store.db[:pg_roles].where(rolname: role).any?
          Store.db.run(
            "#{known ? "ALTER" : "CREATE"} ROLE #{role} LOGIN NOSUPERUSER NOCREATEDB NOCREATEROLE " \
              "PASSWORD #{Store.db.literal(password)}"
          )
        end

        # Gives the role what the application needs on every table that there is now, and takes the
        # rest away.
        def grant(role)
          named!(role)
          appended = appended_tables
          changed = Store.db.tables - appended - %i[schema_info clinic_holds]
          Store.db.transaction do
            [
              "REVOKE ALL ON ALL TABLES IN SCHEMA public FROM #{role}",
              "REVOKE CREATE ON SCHEMA public FROM PUBLIC",
              "GRANT USAGE ON SCHEMA public TO #{role}",
              "GRANT SELECT ON ALL TABLES IN SCHEMA public TO #{role}",
              "GRANT USAGE, SELECT ON ALL SEQUENCES IN SCHEMA public TO #{role}",
              "GRANT INSERT, UPDATE, DELETE ON #{list(changed)} TO #{role}",
              "GRANT INSERT ON #{list(appended - %i[audit_entries])} TO #{role}"
            ].each { |sql| Store.db.run(sql) }
          end
        end

        # Tables that take new rows only.
        def appended_tables
          Store
            .db
            .fetch(
              "SELECT c.relname FROM pg_trigger t JOIN pg_class c ON c.oid = t.tgrelid " \
                "WHERE t.tgname = 'append_only' ORDER BY 1"
            )
            .map { |row| row[:relname].to_sym }
        end

        private

        def list(tables) =
          tables.map { |table| Store.db.literal(Sequel[:public][table]) }.join(", ")

        def named!(role)
          raise Handrail::Error, "“#{role}” is no name of a role." unless role.match?(NAME)
        end
      end
    end
  end
end
