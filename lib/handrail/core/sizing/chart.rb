# frozen_string_literal: true

module Handrail
  module Sizing
    # A maker's size chart: one or more parts, each a run of sizes with closed bands. Immutable.
    class Chart
      # A chart that contradicts itself. The message says how; at - the index of the row at fault.
      class Faulty < Handrail::Error
        attr_reader :at

        # text - the message, with {first} where another row is named; first - the index of that
        # row.
        def initialize(text, at: nil, first: nil)
          @text = text
          @first = first
          @at = at
          super(said)
        end

        # lines - the file's line of each row, where the reader looks at a file.
        def said(lines = nil) = Chart.placed(@text, @first, lines)
      end

      # A text with {first} filled in: "row 3", or "line 4" where lines are known.
      def self.placed(text, first, lines)
        first ? text.sub("{first}", lines ? "line #{lines[first]}" : "row #{first + 1}") : text
      end

      # A row of a chart as it is kept or read: lengths are exact mm.
      Row = Value.new(:part, :size, :site, :min, :max, :unit, :posture, :tension)

      # the most sizes that a chart's parts may make together
      MOST_NAMES = 5000

      attr_reader :parts

      # rows - Rows in chart order; sizes of a part stand from the smallest up, by first appearance.
      # Raises Faulty for a reversed band, or for the same size and site twice.
      def self.build(rows)
        raise Faulty, "The chart has no sizes." if rows.empty?

        check(rows)
        parts =
          rows
            .group_by { |row| row.part.to_s }
            .map { |name, part_rows| Part.new(name, sizes(part_rows)) }
        count = parts.inject(1) { |all, part| all * part.sizes.size }
        if count > MOST_NAMES
          raise Faulty,
                "The parts of the chart make #{count} sizes; #{MOST_NAMES} are the most. Split it."
        end

        new(parts)
      end

      # The chart as it is read for a family: where the maker names no posture or tension, the family's, else
      # the site's. rows - Rows; family - a Families::Family
      def self.for_family(rows, family)
        build(
          rows.map do |row|
            need = family.needs.find { |one| one.site == row.site }
            site = Anatomy::Vocabulary.default[row.site]
            row.with(
              posture: row.posture || need&.posture || site&.posture,
              tension: row.tension || need&.tension || site&.tension
            )
          end
        )
      end

      def self.check(rows)
        rows.each_with_index do |row, i|
          next unless row.min > row.max

          raise Faulty.new(
                  "size #{row.size}, #{row.site}: min #{
                    print(row.min, row)
                  } is above max #{print(row.max, row)}. Swap them.",
                  at: i
                )
        end
        seen = {}
        rows.each_with_index do |row, i|
          first = seen[key = [row.part.to_s, row.size, row.site]]
          if first
            raise Faulty.new(
                    "size #{row.size} already has a band for #{row.site} ({first}). Keep one " \
                      "of them.",
                    at: i,
                    first: first
                  )
          end

          seen[key] = i
        end
      end

      def self.sizes(rows)
        rows
          .group_by(&:size)
          .each_with_index
          .map do |(name, size_rows), position|
            bands =
              size_rows.map do |r|
                Band[
                  site: r.site,
                  min: r.min,
                  max: r.max,
                  unit: r.unit,
                  posture: r.posture,
                  tension: r.tension
                ]
              end
            Size[name: name, position: position, bands: bands.freeze]
          end
      end

      def self.print(mm, row) = Quantity::Length.mm(mm).plain(row.unit)
      private_class_method :check, :sizes, :print

      def initialize(parts)
        @parts = parts.freeze
        @demands = parts.flat_map(&:demands).uniq.freeze
        freeze
      end

      # The Length that `resolution` gives for a site.
      def self.step(resolution, site) =
        resolution.respond_to?(:call) ? resolution.call(site) : resolution

      # Every reading that the chart needs.
      attr_reader :demands

      def sites = demands.map(&:site).uniq

      # Every size name that the chart gives: one size of each part, joined by a space.
      def names
        first, *rest = parts.map { |part| part.sizes.map(&:name) }
        first.product(*rest).map { |names| names.reject(&:empty?).join(" ") }
      end

      # The size of each part in a product size's name: part name => size name, as Strings; nil where no
      # sizes make that name together. Parts are told apart by the names that they have, not by blanks:
      # "X Large Short" is "X Large" of the girth and "Short" of the length.
      def split(name, among = parts)
        part, *rest = among
        return name.empty? ? {} : nil unless part

        part.sizes.each do |size|
          left = size.name.empty? ? name : name.delete_prefix(size.name)
          next unless size.name.empty? || left.size < name.size
          next unless left.empty? || size.name.empty? || left.start_with?(" ")

          found = split(left.delete_prefix(" "), rest)
          return { part.name => size.name, **found } if found
        end
        nil
      end

      # Reads the sizes off. readings - Measuring::Readings, struck-out ones are passed over; rule -
      # a TieRule; resolution - the tape's, a Length, or called with a site for the step that counts
      # there; precision - how far a value may be off. Returns a Match.
      def match(
        readings,
        rule: TieRule.new,
        resolution: Quantity::Tape::DEFAULT.resolution,
        precision: Measuring::Precision::PLAIN
      )
        by_site = readings.select(&:used?).group_by(&:site)
        values = {}
        missing = {}
        demands.each do |demand|
          at_site = by_site.fetch(demand.site, [])
          met = at_site.select { |reading| demand.met_by?(reading) }
          if met.empty?
            missing[demand] = at_site
          else
            values[demand] = Measuring::Repeats.new(
              met.map(&:length),
              resolution: Chart.step(resolution, demand.site)
            )
          end
        end
        Match.new(self, parts.map { |part| part.match(values, missing, rule) }, precision)
      end
    end
  end
end
