# frozen_string_literal: true

require "json"

module Handrail
  module Store
    # Rows of several datasets, read in one statement that every connection prepares once: to ask the database a
    # second time costs more than most of these rows. They come as JSON, with exact numbers.
    #
    #   Gathered.read(:on_board, clinic: 3) { { "timer" => timers, "slip" => slips } }
    #   # => { "timer" => [{ visit_id: 12, rings_at: 2026-11-30 10:20:00 UTC, ... }], "slip" => [] }
    #
    # What a column holds is told by its name, see DATES and TIMES.
    module Gathered
      DATES = %i[
        due_on
        renewed_on
        made_on
        use_by
        read_on
        due_from
        due_to
        born_on
        rest_on
        consent_on
      ].freeze
      TIMES = %i[
        opened_at
        closed_at
        called_off_at
        at
        read_at
        made_at
        struck_at
        answered_at
        arrived_at
        ended_at
        rings_at
        planned_for
        planned_to
        delivered_at
        taken_at
      ].freeze

      class << self
        # The block gives the datasets by name, with placeholders for the values; each dataset's own order is kept.
        def read(statement, **values)
          found = Hash.new { [].freeze }
          Store
            .prepared(statement, **values) { together(yield) }
            .each do |line|
              rows = found.key?(line[:name]) ? found[line[:name]] : (found[line[:name]] = [])
              rows << row(line[:row])
            end
          found
        end

        # A row from its JSON.
        def row(text)
          row = JSON.parse(text, decimal_class: BigDecimal).transform_keys(&:to_sym)
          TIMES.each { |key| row[key] = moment(row[key]) if row[key] }
          DATES.each { |key| row[key] = Date.iso8601(row[key]) if row[key] }
          row
        end

        private

        def together(sets)
          sets
            .map { |name, set| numbered(name, set) }
            .reduce { |all, one| all.union(one, all: true, from_self: false) }
            .order(:name, :number)
        end

        def numbered(name, set)
          Store.db[set.as(:one)].select(
            Sequel.cast(name, String).as(:name),
            Sequel.function(:row_number).over.as(:number),
            Sequel.cast(Sequel.function(:row_to_json, :one), String).as(:row)
          )
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
