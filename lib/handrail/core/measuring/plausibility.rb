# frozen_string_literal: true

module Handrail
  module Measuring
    # Whether a body of that species would give such a reading, and if not, what may have been meant.
    #
    # question - nil when the reading is plausible, else a sentence to ask; meant - the Length that the same figure gives in the unit
    # in which it would be plausible, or nil; unit - that unit.
    Plausibility = Value.new(:question, :meant, :unit) do
      def plausible? = question.nil?

      class << self
        # site - a Site; length - the Length as understood; typed_unit - the unit it was understood in ("cm", "in" ...).
        def judge(site, length, typed_unit:, species: "human")
          range = site&.range(species)
          return self[] if range.nil? || length.between?(*range)

          unit, meant = other_unit(length, typed_unit, range)
          self[question: question(site, length, typed_unit, range, meant && "#{figure(length, typed_unit)} #{unit}"), meant: meant, unit: unit]
        end

        private

        # the figure as typed, read in another unit
        def other_unit(length, typed_unit, range)
          figure = length.in(typed_unit)
          %w[in cm mm].reject { |unit| unit == typed_unit }.each do |unit|
            meant = Quantity::Length.mm(figure * Quantity::Length::MM_PER[unit])
            return [unit, meant] if meant.between?(*range)
          end
          nil
        end

        def figure(length, unit) = length.plain(unit).delete_suffix(" #{unit}")

        def question(site, length, unit, range, meant)
          ends = range.map { |limit| limit.plain(unit).delete_suffix(" #{unit}") }.join(" to ")
          said = "#{length.plain(unit)} is not what we would expect #{site.where} (#{ends} #{unit})."
          meant ? "#{said} Was it #{meant}?" : "#{said} Look at the tape again."
        end
      end
    end
  end
end
