# frozen_string_literal: true

require "bigdecimal"
require "bigdecimal/util"
require "securerandom"
require "sequel"
require "tzinfo"

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
        @blocks = blocks.is_a?(Array) ? blocks : [blocks]
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

    # Several fields of a form can not be taken. fields - name => sentence.
    class Faults < Handrail::Error
      attr_reader :fields

      def initialize(fields)
        @fields = fields
        super(fields.values.join(" "))
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

      # The time that is written on new rows. Inside `at` it stands still there: how the demo clinic got its past.
      def now = Thread.current[:handrail_now] || Time.now

      def at(time)
        before = Thread.current[:handrail_now]
        Thread.current[:handrail_now] = time
        yield
      ensure
        Thread.current[:handrail_now] = before
      end

      # An exact number as PostgreSQL keeps it.
      def numeric(number) = BigDecimal(number.to_r, 20)

      # A Hash or Array for a jsonb column.
      def json(object) = Sequel.pg_jsonb_wrap(object)

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
