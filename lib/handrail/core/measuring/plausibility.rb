# frozen_string_literal: true

module Handrail
  module Measuring
    # Whether a body of that species would give such a reading, and if not, what may have been
    # meant.
    #
    # finding - nil when the reading is plausible, else what is to be asked, as data: "code",
    # "site", "read" (as it was understood), "from" and "to" (what a body gives), "meant" (the same
    # figure in the likely unit, or nil), "as" (that as [figure, unit]); meant - that as a Length, or nil;
    # unit - its unit.
    Plausibility =
      Value.new(:finding, :meant, :unit) do
        def plausible? = finding.nil?

        class << self
          # site - a Site; length - the Length as understood; typed_unit - the unit it was understood
          # in ("cm", "in" ...).
          def judge(site, length, typed_unit:, species: "human")
            range = site&.range(species)
            return self[] if range.nil? || length.between?(*range)

            unit, meant = other_unit(length, typed_unit, range)
            self[
              finding:
                finding(
                  site,
                  length,
                  typed_unit,
                  range,
                  meant && [figure(length, typed_unit), unit]
                ),
              meant: meant,
              unit: unit
            ]
          end

          private

          # the figure as typed, read in another unit
          def other_unit(length, typed_unit, range)
            figure = length.in(typed_unit)
            %w[in cm mm]
              .reject { |unit| unit == typed_unit }
              .each do |unit|
                meant = Quantity::Length.mm(figure * Quantity::Length::MM_PER[unit])
                return unit, meant if meant.between?(*range)
              end
            nil
          end

          def figure(length, unit) = length.plain(unit).delete_suffix(" #{unit}")

          def finding(site, length, unit, range, meant)
            from, to = range.map { |limit| figure(limit, unit) }
            {
              "code" => "unlikely",
              "site" => site.key,
              "read" => length.plain(unit),
              "from" => from,
              "to" => to,
              "unit" => unit,
              "meant" => meant&.join(" "),
              "as" => meant
            }.freeze
          end
        end
      end
  end
end
