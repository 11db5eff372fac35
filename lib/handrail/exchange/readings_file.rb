# frozen_string_literal: true

module Handrail
  module Exchange
    # Readings as CSV, one a row.
    class ReadingsFile
      COLUMNS = %w[person site posture tension value unit].freeze
      # How many different typed values are remembered, so that a long file with the usual few hundred values is read fast.
      MEMORY = 20_000

      def initialize(path)
        @table = CSVTable.new(path, COLUMNS)
        @lengths = {}
        @words = {}
      end

      # Yields [person, Measuring::Reading, line] for every row. Raises CSVTable::Faulty.
      def each
        @table.each do |(person, site, posture, tension, value, unit), line|
          @table.fault(line, "has no person. Give every reading the person it belongs to.") if person.empty?
          @table.fault(line, "has no site. Name what was measured.") if site.empty?
          yield person, Measuring::Reading[site: word(site, site), posture: word(posture, nil), tension: word(tension, nil),
                                           length: length(value, unit, line), typed: value], line
        end
      end

      # Yields [person, readings] in order of first appearance; each person once. Every row is read before the first is
      # yielded, so that a faulty file yields nothing; where the rows of each person stand together, only one person is held in memory.
      def each_person(&)
        together? ? grouped_runs(&) : all_at_once.each(&)
      end

      private

      def together?
        seen = {}
        last = nil
        scattered = false
        each do |person, _, _|
          next if person == last

          scattered = true if seen.key?(person)
          seen[person] = true
          last = person
        end
        !scattered
      end

      def grouped_runs
        current = nil
        readings = []
        each do |person, reading, _|
          if person != current
            yield current, readings if current
            current = person
            readings = []
          end
          readings << reading
        end
        yield current, readings if current
      end

      def all_at_once
        {}.tap { |people| each { |person, reading, _| (people[person] ||= []) << reading } }
      end

      def length(value, unit, line)
        @lengths.clear if @lengths.size > MEMORY
        @lengths[[value, unit]] ||= Quantity::Length.parse(value, unit: unit)
      rescue Quantity::Length::Unreadable => e
        @table.fault(line, "value: #{e.message}")
      end

      def word(text, empty)
        return empty if text.empty?

        @words[text] ||= empty == text ? text : text.downcase
      end
    end
  end
end
