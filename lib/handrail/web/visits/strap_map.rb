# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # Every strap of the device as it is set: number, mark and its kind, length and end, so that a
      # worn one is replaced without measuring again.
      class StrapMap
        # number; label; mark - printed or nil; kind - reference or least; length; end
        Line = Value.new(:number, :label, :mark, :kind, :length, :end, :written)

        attr_reader :visit

        def initialize(visit) = @visit = visit

        # [side or nil, Lines]
        def sides = visit.sides.map { |side| [visit.said_side(side), lines(side)] }

        def figure(side) =
          Figures.new(visit, side: side).with_device(
            visit.sizing.straps(side).map { |strap| [strap, :done] }
          )

        # Settings that belong to no strap: [side or nil, [[label, value], ...]].
        def others
          visit.sides.map do |side|
            keys = visit.sizing.straps(side).map(&:key)
            rest =
              visit.fit.settings(side).reject { |field, row| row.nil? || keys.include?(field.key) }
            [visit.said_side(side), rest.map { |field, row| [field.label, field.say(row)] }]
          end
        end

        def device(side)
          row = visit.sizing.device(side) or return
          [
            visit.product.full_name,
            Wording.t("web.size", size: row[:size]),
            Wording.device_number(row)
          ].join(", ")
        end

        private

        def lines(side)
          written = visit.fit.settings(side).to_h { |field, row| [field.key, [field, row]] }
          visit
            .sizing
            .straps(side)
            .map do |strap|
              field, row = written[strap.key]
              Line[
                number: strap.number,
                label: strap.label,
                mark: row && field.say(row),
                kind:
                  row &&
                    (
                      if row[:kind] == "least"
                        Wording.t("web.least_pull_mark_past")
                      else
                        Wording.t("web.reference_little_either_way")
                      end
                    ),
                length: length_of(strap),
                end: strap.end,
                written: row && row[:at]
              ]
            end
        end

        # the length that the product says for it, where it does
        def length_of(strap)
          option = visit.family.option("#{strap.key}_strap") or return
          option
            .value(visit.config[option.key])
            &.then { |length| length.respond_to?(:plain) ? length.plain("cm") : length.to_s }
        end
      end
    end
  end
end
