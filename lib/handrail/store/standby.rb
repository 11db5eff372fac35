# frozen_string_literal: true

require "pg"
require "uri"

module Handrail
  module Store
    # Reading from a standby of the database, where there is one (HANDRAIL_READER_URL): what is only looked at need not
    # ask the writer, and can be looked at while there is none.
    #
    #   mark = Standby.mark                       # after a write: where its log ends
    #   Standby.read(after: mark) { Patient[7] }  # from a standby that has it, else nil
    #
    # Everything asked of `Store.db` within the block goes to one connection of one standby; what has to be written
    # there all the same goes to the writer (`writing`). It says nothing of what others wrote since: a standby is some
    # milliseconds behind.
    module Standby
      SHARD = :standby
      # what a server says that ends, begins, or only follows
      GONE = [
        PG::ReadOnlySqlTransaction,
        PG::AdminShutdown,
        PG::CrashShutdown,
        PG::CannotConnectNow
      ].freeze
      # where a log ends: "0/3000148"
      MARK = %r{\A\h{1,8}/\h{1,8}\z}
      # how long (seconds) it is said that nobody could write, unless somebody can again
      LOST_FOR = 10
      # there is nobody at the other end, or no longer
      LOST = [
        Sequel::DatabaseConnectionError,
        Sequel::DatabaseDisconnectError,
        Sequel::PoolTimeout
      ].freeze
      # has this node what a log says up to there? one that is no standby has all of it
      HAS_IT =
        "SELECT NOT pg_is_in_recovery() OR pg_last_wal_replay_lsn() >= CAST(? AS pg_lsn) AS has_it"
      BEHIND = "SELECT greatest(0, pg_current_wal_lsn() - CAST(? AS pg_lsn)) AS bytes"
      private_constant :HAS_IT, :BEHIND

      class << self
        # Options of a connection to the database that lead to a standby too; none where there is none.
        def options(url = ENV.fetch("HANDRAIL_READER_URL", ""))
          url.empty? ? {} : { SHARD => Clusters.address(url) }
        end

        # Whether the database that is asked now has one.
        def there?(db = Store.db) = db.opts.key?(:servers) && db.opts[:servers].key?(shard)

        # Whether what this thread asks goes to a standby now.
        def here? = Thread.current[:handrail_standby] == true

        # Runs a block that asks a standby, which has at least what was written up to a mark. Returns what the block
        # returns, or nil where no standby has it. Raises one of LOST where none answers.
        def read(after: nil, &block)
          Store
            .db
            .with_server(shard) do
              Store.db.synchronize do
                next if after && !(after.match?(MARK) && Store.db[HAS_IT, after].get(:has_it))

                apart(true, &block)
              end
            end
        end

        # Runs a block that asks the writer, also within `read`.
        def writing(&block)
          return yield unless here?

          apart(false) { Store.db.with_server(Clusters.shard(Clusters.here), &block) }
        end

        # Where the writer's log ends now: what was committed before lies before it.
        def mark = Store.db.get(Sequel.cast(Sequel.function(:pg_current_wal_insert_lsn), String))

        # Notes that nobody could write just now, or that somebody can again.
        def lost = @lost = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        def found = @lost = nil

        # Whether this process found no writer within the last seconds.
        def lost? =
          !@lost.nil? && Process.clock_gettime(Process::CLOCK_MONOTONIC) - @lost < LOST_FOR

        # How far the standby that is read from is behind, in bytes of the log; nil where there is none.
        def behind
          return unless there?

          here =
            read { Store.db.get(Sequel.cast(Sequel.function(:pg_last_wal_replay_lsn), String)) }
          here && Store.db[BEHIND, here].get(:bytes).to_i
        end

        # Whether an error says that there is nobody who could write: no connection, or a node that may only read.
        def no_writer?(error)
          LOST.any? { |kind| error.is_a?(kind) } || GONE.any? { |kind| error.cause.is_a?(kind) }
        end

        private

        def shard = Clusters.standby(Clusters.here)

        def apart(standby)
          before = Thread.current[:handrail_standby]
          Thread.current[:handrail_standby] = standby
          yield
        ensure
          Thread.current[:handrail_standby] = before
        end
      end
    end
  end
end
