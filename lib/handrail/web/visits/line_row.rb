# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The lines of both sides beside one another: both legs as they were placed last, the heels bare and after every
      # change in a row, and what was given of a limited correction. Printed on the line stage and at the fit
      # (views/visits/line_row.erb); says nothing where no line was placed.
      class LineRow
        # One picture. drawing - SVG; figure - what is read off it, in words; state - :good, :look_again or nil, where
        # the step of a correction says nothing; when - side, and before or after how much
        One = Value.new(:drawing, :figure, :state, :when)
        # What was given on a side: used and most in degrees, step - of one; side as said, nil for both
        Given =
          Value.new(:side, :used, :most, :step) do
            def left = ((most - used) / step).floor
            def share = (used * 100 / most).to_f.round(1)
          end

        def initialize(visit)
          @visit = visit
        end

        def any? = @visit.family.lines.any? && (legs.any? || heels.any?)

        # seen from the front: the wearer's right stands at the left
        def legs
          @legs ||=
            sides
              .reverse
              .filter_map { |side| @visit.body.alignments("leg", side).last }
              .map { |placed| one(*placed) }
        end

        # seen from behind: the wearer's left stands at the left
        def heels =
          @heels ||=
            sides
              .flat_map { |side| @visit.body.alignments("heel", side) }
              .map { |placed| one(*placed) }

        # What was ordered and given so far, side by side; empty where the family limits none.
        def given
          return [] unless step.positive?

          sides.filter_map do |side|
            found = @visit.remedies.correction_given(side) or next
            Given[side: @visit.said_side(side), **found]
          end
        end

        private

        def sides = @visit.sides
        def step = @step ||= @visit.remedies.correction_given&.fetch(:step) || 0

        def one(row, alignment)
          state = state_of(alignment)
          One[
            drawing:
              Drawings::LineInRow.new(
                alignment,
                words: Wording.line(alignment),
                tone: state && "is-#{state.to_s.tr("_", "-")}"
              ).to_s,
            figure: Wording.line_figure(alignment),
            state: state,
            when: [@visit.said_side(row[:side]), moment(row)].compact.join(", ")
          ]
        end

        # straight where not even half a step more would be given
        def state_of(alignment)
          return unless alignment.line.key == "heel" && step.positive?

          (alignment.angle.abs / step).round.zero? ? :good : :look_again
        end

        def moment(row)
          return Wording.t("lines.bare") if row[:moment] == "before"

          used = @visit.remedies.correction_given(row[:side], before: row[:version])&.fetch(:used)
          used ? Wording.t("lines.after", degrees: Wording.plain(used)) : Wording.t("lines.changed")
        end
      end
    end
  end
end
