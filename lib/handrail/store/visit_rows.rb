# frozen_string_literal: true

require "json"
require "time"

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
      # table => its columns of exact numbers, of times, of days
      KINDS = Memory.new(100)
      private_constant :KINDS
      DATES = %i[due_on renewed_on made_on use_by].freeze
      TIMES = %i[
        at
        read_at
        made_at
        struck_at
        answered_at
        ended_at
        rings_at
        planned_for
        planned_to
      ].freeze

      class << self
        # Returns visit id => { table => rows, oldest first }, frozen. A row is a Hash with Symbols
        # for keys.
        def read(clinic_id, visit_ids)
          found = visit_ids.to_h { |id| [Integer(id), {}] }
          return found if found.empty?

          # planned once for each connection: a union of so many tables takes longer to plan than to read
          Store
            .prepared(:visit_rows, clinic: Integer(clinic_id), ids: found.keys.join(",")) { query }
            .each do |line|
              table = line[:name].to_sym
              row = parse(table, line[:row])
              (found[row[:visit_id]][table] ||= []) << row.freeze
            end
          found.each_value { |tables| tables.each_value(&:freeze) }
          found.each_value(&:freeze)
        end

        # A row of a table from its JSON, with exact numbers, days and times.
        def parse(table, text)
          row = JSON.parse(text, decimal_class: BigDecimal).transform_keys(&:to_sym)
          decimals, times, dates = kinds(table)
          decimals.each { |key| row[key] = row[key].to_d if row[key] }
          times.each { |key| row[key] = moment(row[key]) if row[key] }
          dates.each { |key| row[key] = Date.iso8601(row[key]) if row[key] }
          row
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

        # decimals - columns whose numbers are exact: 365 and 365.0 are one value of one kind
        def kinds(table)
          KINDS.remember(table) do
            decimals, others =
              Store.db.schema(table).partition { |_, about| about[:type] == :decimal }
            [decimals, others].map { |columns| columns.map(&:first) }
              .then { |exact, names| [exact, TIMES & names, DATES & names] }
          end
        end

        # "2026-03-14T09:15:00.25+00:00", as connections write it that stand in UTC, read in a third of the time that
        # Time.iso8601 takes; of several hundred in a page that is felt
        def moment(text)
          return Time.iso8601(text) unless text.end_with?("+00:00") && text[10] == "T"

          second = text[17, 2].to_i
          second += Rational(text[20..-7].ljust(6, "0").to_i, 1_000_000) if text[19] == "."
          year = text[0, 4]
          month = text[5, 2]
          day = text[8, 2]
          hour = text[11, 2]
          minute = text[14, 2]
          Time.new(year.to_i, month.to_i, day.to_i, hour.to_i, minute.to_i, second, "+00:00")
        end
      end
    end
  end
end
