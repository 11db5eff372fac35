# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # What a medical compression stocking presses further up the leg: a share of what it presses at the ankle,
      # less the higher it is. Shares by RAL-GZ 387/1 (from memory); the other standards give none, and none is
      # made up for them. In mmHg, whole; from the least share of the least to the most share of the most.
      class ResidualPressure < SheetMaker
        INFORMS = true
        INPUTS = { class: :word, length: :word? }.freeze
        # mmHg at the ankle, nil for no upper end (RAL-GZ 387/1, from memory)
        ANKLE = {
          "ral1" => [18, 21],
          "ral2" => [23, 32],
          "ral3" => [34, 46],
          "ral4" => [49, nil]
        }.freeze
        # per cent of the ankle's, at the calf and at the thigh (RAL-GZ 387/1, from memory)
        CALF = {
          "ral1" => [50, 80],
          "ral2" => [50, 80],
          "ral3" => [50, 70],
          "ral4" => [50, 70]
        }.freeze
        THIGH = {
          "ral1" => [20, 60],
          "ral2" => [20, 50],
          "ral3" => [20, 40],
          "ral4" => [20, 40]
        }.freeze

        def compute
          ankle = ANKLE[input(:class)]
          unless ankle
            note(:no_shares)
            return sheet(size: nil)
          end

          at(:ankle, ankle, [100, 100])
          at(:calf, ankle, CALF.fetch(input(:class)))
          at(:thigh, ankle, THIGH.fetch(input(:class))) if input(:length) == "thigh"
          sheet(size: nil)
        end

        private

        def at(place, (low, high), (least, most))
          from = (low * Rational(least, 100)).round
          to = high && (high * Rational(most, 100)).round
          words = to ? "#{from} to #{to} mmHg" : "#{from} mmHg and over"
          share = [least, most].uniq.join(" to ")
          @lines << SheetLine[
            key: place,
            value: words,
            about: Remark[code: "residual_pressure.lines.#{place}", figures: { share: share }]
          ]
        end
      end
    end
  end
end
