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
        prescribed_on
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

      # column, as JSON names it => :moment or :date
      KINDS = {
        **TIMES.to_h { |key| [key.to_s, :moment] },
        **DATES.to_h { |key| [key.to_s, :date] }
      }.freeze
      private_constant :KINDS

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
          JSON
            .parse(text, decimal_class: BigDecimal)
            .each_with_object({}) do |(key, value), row|
              if value && (kind = KINDS[key])
                value = kind == :moment ? moment(value) : Date.iso8601(value)
              end
              row[key.to_sym] = value
            end
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

        # "2026-03-14T09:15:00.25+00:00", as connections write it that stand in UTC, read in a fifth of the time that
        # Time.iso8601 takes; of several hundred in a page that is felt
        def moment(text)
          return Time.iso8601(text) unless text.end_with?("+00:00") && text[10] == "T"

          fraction = text[19] == "." ? text[20..-7].ljust(6, "0").to_i : 0
          Time.utc(
            text[0, 4].to_i,
            text[5, 2].to_i,
            text[8, 2].to_i,
            text[11, 2].to_i,
            text[14, 2].to_i,
            text[17, 2].to_i,
            fraction
          )
        end
      end
    end
  end
end
