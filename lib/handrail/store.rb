# frozen_string_literal: true

require "sequel"

module Handrail
  # What is kept, in PostgreSQL. Knows the core, never the web.
  module Store
    # Someone else wrote on the same thing meanwhile. events - what they did, newest last.
    class Stale < Handrail::Error
      attr_reader :events

      def initialize(events)
        @events = events
        super("This changed while your page was open. Nothing of yours is lost.")
      end
    end

    # The work may not go on. blocks - Fitting::Blocks with the reasons.
    class Refused < Handrail::Error
      attr_reader :blocks

      def initialize(blocks)
        @blocks = Array(blocks)
        super(@blocks.map(&:sentence).join(" "))
      end
    end

    # The visit is closed: it takes corrections, nothing else.
    class Closed < Handrail::Error
      def initialize = super("This visit is closed. What was written stays; add a correction instead.")
    end

    # Something typed can not be taken. field - which; the message says what to do.
    class Unacceptable < Handrail::Error
      attr_reader :field

      def initialize(field, message)
        @field = field
        super(message)
      end
    end

    class << self
      # The database, connected once from DATABASE_URL.
      def db = @db ||= connect(ENV.fetch("DATABASE_URL") { raise Handrail::Error, "DATABASE_URL is not set. Start with bin/start." })

      # Runs a block in one transaction in which every change is audited as made by this account.
      # account_id - nil for the program itself (loading the demo).
      def as(account_id)
        db.transaction do
          db.get(Sequel.function(:set_config, "handrail.account", account_id.to_s, true))
          yield
        end
      end

      # Brings the tables up to date.
      def migrate
        Sequel.extension :migration
        Sequel::Migrator.run(db, File.join(ROOT, "db", "migrations"))
      end

      private

      def connect(url)
        Sequel.default_timezone = :utc
        Sequel.connect(url, max_connections: Integer(ENV.fetch("DATABASE_CONNECTIONS", "8")), connect_timeout: 10).tap do |db|
          db.extension :pg_json, :connection_validator
          db.wrap_json_primitives = false
          Sequel.extension :pg_json_ops
        end
      end
    end
  end
end
