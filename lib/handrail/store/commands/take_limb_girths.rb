# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Girths of the limbs at levels, all that were typed in one entry, for their volume. A level
      # that is read again stands as it was read last.
      #
      #   TakeLimbGirths.new("unit" => "cm", "girths" => { "left:0" => "24.5", "left:40" => "26.1" })
      #
      # A name is the side and the level in mm from the fixed point.
      class TakeLimbGirths < VisitCommand
        NAME = /\A(left|right):(-?\d{1,4})\z/
        # what no limb is thicker or thinner than, in mm
        BOUNDS = (50..1200)

        input :girths, :map
        input :unit, :one_of, of: %w[cm mm in], default: "cm"

        def topic = "limb"

        def decide(visit)
          pass!(visit)
          rows = fresh(visit)
          return if rows.empty?

          said =
            rows
              .group_by { |row| row[:side] }
              .map { |side, own| t(:limb_levels, side: side, many: own.size) }
          Decision.of(
            t(:girths_volume, said: said.join(", ")),
            rows: rows.map { |row| [:limb_girths, row] }
          )
        end

        private

        # rows of what is new; raises Faults with every field that can not be read
        def fresh(visit)
          faults = {}
          before = visit.volumes.girths
          rows =
            girths.filter_map do |name, text|
              next if text.empty?

              side, level = NAME.match(name)&.captures
              next faults[name] = t(:no_such_level) unless side

              girth = read(name, text, faults) or next
              next if before.dig(side, level.to_r) == girth

              {
                side: side,
                level_mm: Store.numeric(level.to_r),
                girth_mm: Store.numeric(girth),
                typed: text,
                unit: unit
              }
            end
          raise Faults, faults if faults.any?

          rows
        end

        def read(name, text, faults)
          mm = Quantity::Length.parse(text, unit: unit).mm
          return mm if BOUNDS.cover?(mm)

          faults[name] = t(:no_girth_limb_look, text: text, unit: unit)
          nil
        rescue Quantity::Length::Unreadable => e
          faults[name] = e.message
          nil
        end
      end
    end
  end
end
