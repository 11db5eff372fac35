# frozen_string_literal: true

module Handrail
  module Measuring
    # What a figure may have been, had the hand or the eye slipped once: two of its digits the other
    # way round, another unit, ten times too much or too little.
    module Slips
      # kind - :digits, :unit or :ten; text - the figure as it would have been typed, unit - its
      # unit; length - a Length
      Slip =
        Value.new(:kind, :text, :unit, :length) do
          def said = as.join(" ")

          # the figure and its unit
          def as = [text, unit]
        end

      # a unit that a figure is typed in, and those it may have been
      OTHER = { "cm" => %w[in], "in" => %w[cm], "mm" => %w[cm], "ft" => %w[in], "m" => [] }.freeze
      PLAIN = %r{\A(\d+)([.,]\d+)?(\s+\d+/\d+)?\z}

      KNOWN = Memory.new(20_000)
      private_constant :KNOWN

      class << self
        # figure - as typed, without its unit ("63", "14 3/8"); unit - "cm", "in", "mm", "m" or
        # "ft". Returns Slips.
        def of(figure, unit)
          known(figure, unit) { digits(figure, unit) + others(figure, unit) + tens(figure, unit) }
        end

        private

        # the same few hundred figures come again and again
        def known(figure, unit, &) = KNOWN.remember([figure, unit], &)

        # neighbouring digits before the point, the other way round
        def digits(figure, unit)
          whole, rest = figure.match(PLAIN)&.then { |found| [found[1], "#{found[2]}#{found[3]}"] }
          return [] unless whole

          (0...(whole.size - 1)).filter_map do |i|
            turned = whole.dup
            turned[i] = whole[i + 1]
            turned[i + 1] = whole[i]
            unless turned == whole || turned.start_with?("0")
              slip(:digits, "#{turned}#{rest}", unit)
            end
          end
        end

        def others(figure, unit) =
          OTHER.fetch(unit, []).filter_map { |other| slip(:unit, figure, other) }

        def tens(figure, unit)
          length = Quantity::Length.parse(figure, unit: unit)
          [Rational(1, 10), 10].filter_map do |times|
            meant = Quantity::Length.mm(length.mm * times)
            if meant.mm.between?(20, 3000)
              Slip[kind: :ten, text: meant.exact(unit), unit: unit, length: meant]
            end
          end
        rescue Quantity::Length::Unreadable
          []
        end

        def slip(kind, text, unit)
          length = Quantity::Length.parse(text, unit: unit)
          Slip[kind: kind, text: text, unit: unit, length: length] if length.mm.positive?
        rescue Quantity::Length::Unreadable
          nil
        end
      end
    end
  end
end
