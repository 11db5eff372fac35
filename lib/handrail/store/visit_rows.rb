# frozen_string_literal: true

module Handrail
  module Store
    # Everything that was written at some visits, read in one query: each table's rows come as JSON,
    # with exact numbers.
    module VisitRows
      TABLES = %i[
        entries
        safety_questions
        stop_actions
        readings
        size_choices
        size_trials
        issued_devices
        steps_done
        check_results
        changes
        strap_settings
        recheck_answers
        teach_backs
        overrides
        hand_overs
        visit_notes
        visit_timers
        job_slips
        slip_returns
        photos
        skin_findings
        wearer_words
        alignments
        papers
        limb_girths
        part_renewals
        side_ends
        order_corrections
        missed_visits
        stage_clearances
        messages
      ].freeze
      # table => its columns of exact numbers
      DECIMALS = Memory.new(100)
      private_constant :DECIMALS

      class << self
        # Returns visit id => { table => rows, oldest first }, frozen. A row is a Hash with Symbols
        # for keys.
        def read(clinic_id, visit_ids)
          found = visit_ids.to_h { |id| [Integer(id), {}] }
          return found if found.empty?

          # planned once for each connection: a union of so many tables takes longer to plan than to read
          Store
            .prepared(:visit_rows, clinic: Integer(clinic_id), ids: found.keys.join(",")) { query }
            .chunk_while { |one, other| one[:name] == other[:name] }
            .each do |lines|
              table = lines.first[:name].to_sym
              exact(table, lines.map { |line| Gathered.row(line[:row]) }).each do |row|
                (found[row[:visit_id]][table] ||= []) << row.freeze
              end
            end
          found.each_value { |tables| tables.each_value(&:freeze) }
          found.each_value(&:freeze)
        end

        # Adds a row to a table of these. Returns it as `read` gives it, frozen, and the transaction that wrote it.
        def insert(table, **values)
          told = Store.insert_told(table, **values)
          [told_row(table, told), told[:stamp]]
        end

        # Changes a row of a table of these. Returns it as `read` gives it, frozen; nil where there is none of that id.
        def update(clinic_id, table, id, **values)
          rows = Store.db[table].where(clinic_id: clinic_id, id: id)
          told = rows.returning(*Store.told(table)).update(**values).first
          told && told_row(table, told)
        end

        # Rows of a table that came as JSON, with exact numbers: 365 and 365.0 are one value of one kind.
        def exact(table, rows)
          keys = decimals(table)
          rows.each { |row| keys.each { |key| row[key] = row[key].to_d if row[key] } }
        end

        # A row as the database returned it, with plain Hashes and Arrays.
        def plain(row)
          row.transform_values do |value|
            case value
            when Sequel::Postgres::JSONBHash
              value.to_hash
            when Sequel::Postgres::JSONBArray
              value.to_a
            else
              value
            end
          end
        end

        private

        def told_row(table, told) = Memory.freeze(exact(table, [Gathered.row(told[:row])]).first)

        def query
          TABLES
            .map
            .with_index { |table, turn| rows_of(table, turn) }
            .reduce { |all, one| all.union(one, all: true, from_self: false) }
            .order(:turn, :version, :id)
        end

        def rows_of(table, turn)
          Store.db[Sequel.as(table, :t)]
            .where(Sequel[:t][:clinic_id] => :$clinic)
            .where(Sequel[:t][:visit_id] => Store.among(:$ids))
            .select(
              Sequel.as(turn, :turn),
              Sequel.as(table.to_s, :name),
              Sequel[:t][:version],
              Sequel[:t][:id],
              Sequel.as(Sequel.cast(Sequel.function(:row_to_json, :t), String), :row)
            )
        end

        def decimals(table)
          DECIMALS.remember(table) do
            Store.db.schema(table).filter_map { |name, about| name if about[:type] == :decimal }
          end
        end
      end
    end
  end
end
