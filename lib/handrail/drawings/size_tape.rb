# frozen_string_literal: true

module Handrail
  module Drawings
    # A size chart as a run of tape: the sizes are segments below it, the reading a pointer with its
    # doubt as a soft band.
    class SizeTape
      WIDTH = 400
      LEFT = 16
      RIGHT = 384
      # majors that a tape may be numbered in, in its unit
      STEPS = { "in" => [0.5, 1, 2, 5], "cm" => [1, 2, 5, 10, 20] }.freeze

      # part - Sizing::Part; demand - the site shown; value - Repeats or nil; sd - its standard
      # deviation in mm; chosen - Size or nil; named - true where the site's name is written above
      # it; open - readings in mm that are asked about and do not count until that is answered.
      def initialize(part, demand, value: nil, sd: 0, chosen: nil, named: false, open: [])
        @open = open
        @chosen = chosen
        @named = named
        @bands =
          merged(
            part.sizes.filter_map do |size|
              (band = size.bands.find { |b| b.demand == demand }) && [size, band]
            end
          )
        @demand = demand
        @value = value
        @sd = sd
        @unit = @bands.first.last.unit == "in" ? "in" : "cm"
        @per_unit = Quantity::Length::MM_PER[@unit].to_f
        low, high = @bands.flat_map { |_, band| [band.min, band.max] }.minmax.map(&:to_f)
        give = (high - low) * 0.06
        @low = low - give
        @high = high + give
      end

      def to_s
        SVG.draw(WIDTH, stacked? ? 142 : 122, label: label, class: "size-tape") do |svg|
          @svg = svg
          name if @named
          svg.rect(LEFT - 8, 42, RIGHT - LEFT + 16, 42, rx: 3, class: "tape-body")
          ticks
          doubt if @value
          @bands.each_with_index { |(size, band), i| segment(size, band, i) }
          pointer if @value
          @open.each { |mm| asked_about(mm) }
        end
      end

      private

      attr_reader :svg

      # at the end of the tape that the pointer leaves free
      def name
        left = @value.nil? || x(@value.mm) > WIDTH / 2
        said = Anatomy::Vocabulary.default[@demand.site]&.short || @demand.site
        svg.text(
          left ? LEFT - 8 : RIGHT + 8,
          18,
          said,
          class: "tape-name",
          "text-anchor": left ? "start" : "end"
        )
      end

      # sizes that share a band here (a grid) stand as one segment
      def merged(bands)
        bands
          .group_by { |_, band| [band.min, band.max] }
          .values
          .map do |shared|
            next shared.first if shared.one?

            names = shared.map { |size, _| size.name }
            common = names.map(&:split).inject(:&).join(" ")
            size = shared.map(&:first).find { |s| s == @chosen } || shared.first.first
            [common.empty? || size == @chosen ? size : size.with(name: common), shared.first.last]
          end
          .sort_by { |_, band| band.min }
      end

      def label
        value =
          (
            if @value
              "#{Sizing.site_name(@demand.site)} #{@value.length.plain(@unit)}"
            else
              Sizing.site_name(@demand.site)
            end
          )
        value += ", #{@open.size} more asked about" if @open.any?
        "#{value} on the sizes #{@bands.map { |size, band| "#{size} #{band}" }.join(", ")}"
      end

      def x(mm) = LEFT + ((mm.to_f - @low) / (@high - @low) * (RIGHT - LEFT))
      def stacked? = @bands.each_cons(2).any? { |(_, a), (_, b)| a.max >= b.min }

      def ticks
        major = STEPS[@unit].find { |step| (@high - @low) / @per_unit / step <= 8 } || 20
        minor = major / (@unit == "in" ? 4.0 : 2.0)
        first = (@low / @per_unit / minor).ceil
        last = (@high / @per_unit / minor).floor
        (first..last).each { |i| tick(i * minor, ((i * minor) % major).abs < 1e-9) }
      end

      def tick(number, major)
        at = x(number * @per_unit)
        svg.line(at, 42, at, major ? 58 : 50, class: "tick")
        return unless major

        svg.text(
          at,
          76,
          @unit == "in" ? Quantity::Tape.mixed(Rational(number.to_s)) : format("%g", number),
          class: "tick-figure",
          "text-anchor": "middle"
        )
      end

      def doubt
        left, right = [-2, 2].map { |k| x(@value.mm + (k * @sd)).clamp(LEFT - 8, RIGHT + 8) }
        svg.rect(left, 26, right - left, 82, class: "doubt")
        left, right = [-1, 1].map { |k| x(@value.mm + (k * @sd)).clamp(LEFT - 8, RIGHT + 8) }
        svg.rect(left, 26, right - left, 82, class: "doubt")
      end

      def segment(size, band, index)
        row = stacked? && index.odd? ? 22 : 0
        left = x(band.min) + 1
        right = x(band.max) - 1
        klass = size == @chosen ? "segment is-chosen" : "segment"
        svg.path(
          "M#{svg.n(left)} #{90 + row} V#{100 + row} H#{svg.n(right)} V#{90 + row}",
          class: klass
        )
        svg.text(
          (left + right) / 2,
          116 + row,
          size.name,
          class: klass.sub("segment", "size-name"),
          "text-anchor": "middle"
        )
      end

      # an empty pointer: it points, and decides nothing yet
      def asked_about(mm)
        at = x(mm).clamp(LEFT - 6, RIGHT + 6)
        svg.path(
          "M#{svg.n(at - 8)} 28 H#{svg.n(at + 8)} L#{svg.n(at)} 42 Z",
          class: "pointer is-open"
        )
        svg.text(
          at.clamp(12, WIDTH - 12),
          22,
          "?",
          class: "pointer-figure",
          "text-anchor": "middle"
        )
      end

      def pointer
        at = x(@value.mm).clamp(LEFT - 6, RIGHT + 6)
        svg.path("M#{svg.n(at - 8)} 28 H#{svg.n(at + 8)} L#{svg.n(at)} 42 Z", class: "pointer")
        svg.line(at, 40, at, 106, class: "pointer-line")
        svg.text(
          at.clamp(40, WIDTH - 40),
          20,
          @value.length.plain(@unit).delete_suffix(" #{@unit}"),
          class: "pointer-figure",
          "text-anchor": "middle"
        )
      end
    end
  end
end
