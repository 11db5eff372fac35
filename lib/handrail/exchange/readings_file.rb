# frozen_string_literal: true

module Handrail
  module Exchange
    # Readings as CSV, one a row.
    class ReadingsFile
      COLUMNS = %w[person site posture tension value unit].freeze
      # How many different typed values are remembered, so that a long file with the usual few
      # hundred values is read fast.
      MEMORY = 20_000

      # Rows that are read while somebody waits for a page; more go through the command line.
      MOST_HERE = 60_000

      # most - rows at most, nil for any number; written - how the file is written, see CSVTable
      def initialize(path, name: nil, most: nil, **written)
        @table = CSVTable.new(path, COLUMNS, name: name, figures: %w[value], **written)
        @most = most
        @lengths = {}
        @words = {}
        @sites = {}
        # in a table of another program a unit in the cell against its column's is asked about
        @reads = written[:foreign] ? :of_cell : :parse
      end

      # The line on which a site stood first, of what was read so far; nil for none.
      def line_of(site) = @sites[site]

      # Yields [person, Measuring::Reading, line] for every row. Raises CSVTable::Faulty.
      def each
        @table.each do |(person, site, posture, tension, value, unit), line|
          too_long(line) if @most && line > @most + 1
          @table.fault(line, Wording.t("files.has_no_person_give")) if person.empty?
          @table.fault(line, Wording.t("files.reading_has_no_site")) if site.empty?
          @sites[word(site, site)] ||= line
          yield(
            person,
            Measuring::Reading[
              site: word(site, site),
              posture: word(posture, nil),
              tension: word(tension, nil),
              length: length(value, unit, line),
              typed: value,
              unit: typed_unit(value, unit)
            ],
            line
          )
        end
      end

      # Yields [person, readings] for each person in order of first appearance. A faulty row raises
      # when it is come to, so what was made of the persons before it is to be thrown away. Where
      # the rows of each person stand together the file is read once, and only one person is held in
      # memory; else it is read again (the block is called for all of them anew after `again` is
      # called), and all are.
      def each_person(again: nil, &block)
        return if grouped_runs(&block)

        again&.call
        all_at_once.each(&block)
      end

      private

      def too_long(line)
        @table.fault(line, Wording.t("files.too_many_to_read", most: @most))
      end

      # false as soon as a person comes a second time
      def grouped_runs
        seen = {}
        current = nil
        readings = []
        each do |person, reading, _|
          if person != current
            yield current, readings if current
            return false if seen.key?(person)

            seen[current = person] = true
            readings = []
          end
          readings << reading
        end
        yield current, readings if current
        true
      end

      def all_at_once
        {}.tap { |people| each { |person, reading, _| (people[person] ||= []) << reading } }
      end

      def length(value, unit, line)
        @lengths.clear if @lengths.size > MEMORY
        @lengths[[value, unit]] ||= Quantity::Length.public_send(@reads, value, unit: unit)
      rescue Quantity::Length::Unreadable => e
        @table.fault(line, "value: #{e.message}")
      end

      # the unit in the figure itself, else that of its column
      def typed_unit(value, unit)
        @units ||= {}
        @units.clear if @units.size > MEMORY
        @units[[value, unit]] ||= [
          value[/[[:alpha:]"'″”]+\.?\z/].to_s,
          unit,
          "cm"
        ].filter_map { |text| Quantity::Length.unit(text) }.first
      end

      def word(text, empty)
        return empty if text.empty?

        @words[text] ||= empty == text ? text : text.downcase
      end
    end
  end
end
