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
      # table => its columns of exact numbers
      DECIMALS = Memory.new(100)
      private_constant :DECIMALS
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

          Store
            .db
            .fetch(query(Integer(clinic_id), found.keys))
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
          decimals(table).each { |key| row[key] = row[key].to_d if row[key] }
          TIMES.each { |key| row[key] = Time.iso8601(row[key]) if row[key] }
          DATES.each { |key| row[key] = Date.iso8601(row[key]) if row[key] }
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

        def query(clinic_id, visit_ids)
          TABLES
            .map
            .with_index do |table, turn|
              "SELECT #{turn} AS turn, '#{table}' AS name, t.version, t.id, row_to_json(t)::text AS row FROM " \
                "#{table} t " \
                "WHERE t.clinic_id = #{clinic_id} AND t.visit_id IN (#{visit_ids.join(",")})"
            end
            .join(" UNION ALL ")
            .concat(" ORDER BY turn, version, id")
        end

        # columns whose numbers are exact: 365 and 365.0 are one value of one kind
        def decimals(table)
          DECIMALS.remember(table) do
            Store.db.schema(table).filter_map { |name, about| name if about[:type] == :decimal }
          end
        end
      end
    end
  end
end
