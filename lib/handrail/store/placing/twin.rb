# frozen_string_literal: true

module Handrail
  module Store
    class Placing
      # A clinic's rows at two clusters: what differs, and evening it out. Rows keep their numbers. Compared are digests
      # of some thousand heaps of rows a table, and the rows themselves only of heaps that differ.
      #
      #   twin = Twin.new(clinic_id, "harbour", "inland")
      #   twin.even_out  # => 812 rows copied to inland
      #   twin.differing # => [] names of tables
      class Twin
        # of signing in: known by their account alone
        ACCOUNTS = {
          account_otp_keys: :id,
          account_recovery_codes: :id,
          account_active_session_keys: :account_id
        }.freeze
        # when somebody was last seen is written with every page, and moves on after the proof too
        RESTLESS = %i[account_active_session_keys].freeze
        # keys in one statement
        SLICE = 1000
        # as texts of rows are to be compared, both sides write them alike
        ALIKE =
          "SET LOCAL TimeZone = 'UTC'; SET LOCAL DateStyle = 'ISO'; SET LOCAL extra_float_digits = 1; " \
            "SET LOCAL bytea_output = 'hex'; SET LOCAL statement_timeout = 0; " \
            "SET LOCAL idle_in_transaction_session_timeout = 0"
        private_constant :SLICE, :ALIKE

        class << self
          # table => condition that its rows are a clinic's, of the cluster that is asked now; the ones that others name
          # first.
          def tables
            own = { clinics: ->(id) { { id: id } } }
            named = Store.db.tables.sort.select { |table| clinics?(table) }
            named.each { |table| own[table] = ->(id) { { clinic_id: id } } }
            ACCOUNTS.each do |table, column|
              own[table] = ->(id) do
                { column => Store.db[:accounts].where(clinic_id: id).select(:id) }
              end
            end
            own
          end

          # No trigger speaks until the transaction ends, and no key is held against another: rows come in as they are.
          def apart(db) = db.run("SET LOCAL session_replication_role = replica")

          private

          def clinics?(table)
            table != :clinic_holds && WholeClinic.columns(table).include?(:clinic_id)
          end
        end

        def initialize(clinic_id, source, target)
          @clinic_id = clinic_id
          @source = source
          @target = target
        end

        # Brings the target to what the source is at this moment. Returns the number of rows that were copied.
        def even_out
          both do |source, target|
            Clusters.within(@target) { nothing_lives_there! && Twin.apart(Store.db) }
            tables.keys.sum { |table| even(table, source, target) }
          end
        end

        # Tables whose rows are not the same on both sides, but for those that never rest.
        def differing = both { (tables.keys - RESTLESS).select { |table| heaps(table).any? } }

        # Of the target: { tables:, rows:, audit:, files: }, files - rows with content of a file.
        def counts
          Clusters.within(@target) do
            rows = tables.keys.to_h { |table| [table, own(table).count] }
            {
              tables: rows.size,
              rows: rows.values.sum,
              audit: rows.fetch(:audit_entries),
              files: rows.slice(*files).values.sum
            }
          end
        end

        private

        # Until the transaction ends it begins to live there no more: what is written there from then on is the newer.
        def nothing_lives_there!
          held = Store.db[:clinic_holds].where(clinic_id: @clinic_id).for_update.get(:why)
          return true if held == "arriving"

          raise Refused, "It lives at #{@target} by now: nothing is copied over it."
        end

        def tables = @tables ||= Clusters.within(@source) { Twin.tables }
        def own(table) = Store.db[table].where(tables.fetch(table).call(@clinic_id))

        def files
          tables.keys.select do |table|
            Store.db.schema(table).any? { |_, about| about[:db_type] == "bytea" }
          end
        end

        # a transaction at each: what the source shows stands still
        def both
          Clusters.within(@source) do
            Store
              .db
              .transaction(isolation: :repeatable) do
                Store.db.run(ALIKE)
                Store.db.synchronize do |source|
                  Clusters.within(@target) do
                    Store.db.transaction do
                      Store.db.run(ALIKE)
                      Store.db.synchronize { |target| yield source, target }
                    end
                  end
                end
              end
          end
        end

        # rows with their key as one text, and their digest
        def digests(table)
          columns = WholeClinic.columns(table)
          key = WholeClinic.key(table)
          own(table).select(
            Sequel.as(Sequel.function(:concat_ws, "|", *key), :k),
            Sequel.as(
              Sequel.function(:md5, Sequel.cast(Sequel.function(:row, *columns), String)),
              :h
            )
          )
        end

        HEAP = Sequel.lit("('x' || substr(md5(k), 1, 3))::bit(12)::int")
        TOGETHER = Sequel.lit("md5(string_agg(h, '' ORDER BY k))")
        private_constant :HEAP, :TOGETHER

        # numbers of the heaps that differ
        def heaps(table)
          here, there = [@source, @target].map { |name| Clusters.within(name) { summed(table) } }
          (here.keys | there.keys).reject { |heap| here[heap] == there[heap] }
        end

        def summed(table)
          digests(table)
            .from_self
            .group(HEAP)
            .select_hash(Sequel.as(HEAP, :heap), Sequel.as(TOGETHER, :sum))
        end

        # key => digest, of some heaps
        def rows(table, heaps)
          digests(table).from_self.where(HEAP => heaps).select_hash(:k, :h)
        end

        def even(table, source, target)
          heaps = heaps(table)
          return 0 if heaps.empty?

          nothing = Clusters.within(@target) { own(table).empty? }
          return whole(table, source, target) if nothing

          here, there =
            [@source, @target].map { |name| Clusters.within(name) { rows(table, heaps) } }
          away(table, there.reject { |key, digest| here[key] == digest }.keys)
          come = here.reject { |key, digest| there[key] == digest }.keys
          come.each_slice(SLICE) { |keys| bring(table, keys, source, target) }
          come.size
        end

        def away(table, keys)
          Clusters.within(@target) do
            keys.each_slice(SLICE) { |slice| own(table).where(keyed(table) => slice).delete }
          end
        end

        def keyed(table) = Sequel.function(:concat_ws, "|", *WholeClinic.key(table))

        def whole(table, source, target)
          pour(table, own(table), source, target)
          Clusters.within(@target) { own(table).count }
        end

        def bring(table, keys, source, target)
          pour(table, own(table).where(keyed(table) => keys), source, target)
        end

        def pour(table, rows, source, target)
          columns = WholeClinic.columns(table)
          from = rows.select(*columns).sql
          names = columns.map { |name| Store.db.literal(name) }.join(", ")
          source.copy_data("COPY (#{from}) TO STDOUT") do
            target.copy_data("COPY #{Store.db.literal(table)} (#{names}) FROM STDIN") do
              while (row = source.get_copy_data)
                target.put_copy_data(row)
              end
            end
          end
        end
      end
    end
  end
end
