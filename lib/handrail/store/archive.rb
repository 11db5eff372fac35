# frozen_string_literal: true

module Handrail
  module Store
    # How far the archive of the database's log is behind (bin/archive, bin/cluster): what a restore would lack.
    #
    #   told = Archive.told
    #   told.age      # => 42: what is not in the archive yet was begun some 42 s ago; 0: nothing lacks; nil: none
    #   told.failed   # => 3 pieces of the log that could not be put there since the server's statistics began
    #
    # PostgreSQL hands a piece over when it is full, or after archive_timeout where something was written in it. Where
    # nobody writes, no piece comes, however long that is: then nothing is missing.
    module Archive
      # the end of the last piece of the log that was archived; what lies behind it is still to come
      BEHIND = <<~SQL
        SELECT last_archived_time, failed_count,
          CASE WHEN last_archived_wal ~ '^[0-9A-F]{24}' AND NOT pg_is_in_recovery() THEN
            pg_current_wal_lsn() - '0/0'::pg_lsn
              - ('x' || substr(last_archived_wal, 9, 8))::bit(32)::bigint * 4294967296
              - (('x' || substr(last_archived_wal, 17, 8))::bit(32)::bigint + 1)
                * (SELECT setting::bigint FROM pg_settings WHERE name = 'wal_segment_size')
          END AS behind
        FROM pg_stat_archiver
      SQL
      # bytes that the server writes by itself into a piece in which nothing was changed: fewer than any entry takes
      ITS_OWN = 512
      private_constant :BEHIND, :ITS_OWN

      # age in seconds, or nil; failed - a count
      Told = Value.new(:age, :failed)

      # one question of the database. Returns a Told.
      def self.told(db = Store.db)
        row = db.fetch(BEHIND).first
        Told[age: age(row), failed: row[:failed_count]]
      end

      def self.age(row)
        return unless row[:last_archived_time]
        return 0 if row[:behind] && row[:behind] < ITS_OWN

        (Store.now - row[:last_archived_time]).round
      end
      private_class_method :age
    end
  end
end
