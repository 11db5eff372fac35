# frozen_string_literal: true

module Handrail
  module Web
    # For pages that show the verdict: one for each side of the order.
    module WithVerdict
      # What the clinic's own outcomes say of the size that is advised, once that is clear; said where
      # the size is decided, not while it is still being read.
      def truth
        return if stage == :measure

        size, other, many = visit.sizing.ended_elsewhere(side)
        Wording.t("truth", many: many, count: size.count, size: size.name, other: other) if size
      end

      def verdict(side = self.side) = (@verdicts ||= {})[side] ||= Verdict.new(visit, side)

      # [side, its verdict's size, whether it is shown, the site to read there] of each side, where
      # there are two.
      def verdict_sides
        return [] unless two_sides?

        visit.sides.map do |one|
          [one, verdict(one).size, one == side, visit.needs.find { |item| item.side == one }&.key]
        end
      end

      # "Seacombe day knee, chart of Jan 2026"
      def chart_name
        dated =
          (
            if visit.revision && visit.family.size_rule.by != "sheet"
              Wording.t("web.chart_of", dated: visit.revision.dated.strftime("%b %Y"))
            else
              ""
            end
          )
        "#{visit.product.full_name}#{dated}"
      end
    end
  end
end
