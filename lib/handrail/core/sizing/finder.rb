# frozen_string_literal: true

module Handrail
  module Sizing
    # One wearer's readings against many charts at once, best first. The charts are laid out flat
    # when the finder is made, so that thousands of sizes are looked through in milliseconds; the
    # full Match of a product is made when it is asked for.
    #
    # Many threads ask one finder, so it is frozen once it is made: what belongs to one wearer goes
    # from method to method as Values and never into the finder.
    #
    #   Finder.new([[7, chart, TieRule.new]]).find(readings).first.size # => "M"
    class Finder
      # key - as given; state - :fits (a size holds every reading), :off (none does) or :missing;
      # size, probability
      # - for :fits;
      # missing - Demands without a reading
      Found = Value.new(:key, :state, :size, :probability, :missing)
      # a part laid out flat: demand numbers, and for each size [number, min, max, number, min, max,
      # ...]
      Flat = Struct.new(:part, :numbers, :sizes, :rule)

      # One wearer's values by demand number: repeats - Measuring::Repeats; mm, sd - Floats in mm; nil
      # where there is no reading.
      Values = Value.new(:repeats, :mm, :sd)

      # entries - [[key, Chart, TieRule], ...]
      def initialize(entries)
        @demands = {}
        @charts =
          entries.map do |key, chart, rule|
            [key, chart.parts.map { |part| flatten(part, rule) }.freeze].freeze
          end
        @charts.freeze
        @demands.freeze
        @keys = @demands.keys.freeze
        freeze
      end

      # readings - Measuring::Readings; returns Founds, best first: those that fit by probability,
      # then those that lack readings (the fewest first), then those that do not fit.
      def find(
        readings,
        resolution: Quantity::Tape::DEFAULT.resolution,
        precision: Measuring::Precision::PLAIN
      )
        values = values(readings, resolution, precision)
        fits = []
        missing = []
        off = []
        @charts.each { |key, parts| look(key, parts, values, fits, missing, off) }
        fits.sort_by! { |found| -found.probability }
        missing.sort_by!.with_index { |found, i| [found.missing.size, i] }
        fits + missing + off
      end

      NONE = [].freeze
      RANK = { fits: 0, missing: 1, off: 2 }.freeze

      private

      def flatten(part, rule)
        sizes =
          part.sizes.map do |size|
            size
              .bands
              .flat_map { |band| [number(band.demand), band.min.to_f, band.max.to_f] }
              .freeze
          end
        Flat.new(
          part,
          part.demands.map { |demand| number(demand) }.freeze,
          sizes.freeze,
          rule
        ).freeze
      end

      def number(demand) = @demands[demand] ||= @demands.size

      def values(readings, resolution, precision)
        by_site = readings.select(&:used?).group_by(&:site)
        repeats =
          @keys.map do |demand|
            met = by_site.fetch(demand.site, []).select { |reading| demand.met_by?(reading) }
            next if met.empty?
            Measuring::Repeats.new(
              met.map(&:length),
              resolution: Chart.step(resolution, demand.site)
            )
          end
        Values[
          repeats: repeats,
          mm: repeats.map { |value| value&.mm&.to_f },
          sd: @keys.zip(repeats).map { |demand, value| value && precision.sd(demand.site, value) }
        ]
      end

      def look(key, parts, values, fits, lacking, off)
        missing = parts.flat_map { |flat| flat.numbers.reject { |n| values.mm[n] } }
        if missing.any?
          return(
            lacking << Found[key: key, state: :missing, missing: missing.uniq.map { |n| @keys[n] }]
          )
        end

        names = []
        probability = 1.0
        parts.each do |flat|
          held = holding(flat, values.mm)
          return off << Found[key: key, state: :off, missing: NONE] if held.empty?

          place = held.one? ? held.first : choose(flat, held, values)
          names << flat.part.sizes[place].name
          probability *= chance(flat.sizes[place], values)
        end
        fits << Found[
          key: key,
          state: :fits,
          size: names.reject(&:empty?).join(" "),
          probability: probability,
          missing: NONE
        ]
      end

      def holding(flat, values)
        held = []
        sizes = flat.sizes
        place = -1
        while (bands = sizes[place += 1])
          i = 0
          last = bands.size
          i += 3 while i < last && (mm = values[bands[i]]) >= bands[i + 1] && mm <= bands[i + 2]
          held << place if i >= last
        end
        held
      end

      def choose(flat, held, values)
        by_demand = flat.numbers.to_h { |n| [@keys[n], values.repeats[n]] }
        flat
          .rule
          .choose(flat.part, held.map { |place| flat.part.sizes[place] }, by_demand, :overlap)
          .position
      end

      def chance(bands, values)
        bands
          .each_slice(3)
          .inject(1.0) do |all, (n, min, max)|
            all * Measuring::Normal.between(min, max, mean: values.mm[n], sd: values.sd[n])
          end
      end
    end
  end
end
