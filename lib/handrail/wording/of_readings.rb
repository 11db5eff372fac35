# frozen_string_literal: true

module Handrail
  module Wording
    # What is said of readings beside one another, and of the sizes beside the chosen one. Part of
    # Wording.
    module OfReadings
      # When and by whom a reading was read, that was typed in from paper. row - with :read_at and :read_by
      def read_on_paper(row, visit)
        local = visit.clinic.local(row[:read_at])
        same = local.to_date == visit.clinic.local(row[:at]).to_date
        at = local.strftime(same ? "%H:%M" : "%-d %b, %H:%M")
        t("read_on_paper.said", at: at, who: visit.name_of(row[:read_by]))
      end

      # Two readings that belong together. found - of a Measuring::Pairing
      def pairing(found)
        here, there = found.names
        way = t("changes_of_girth.#{found.way}")
        t(
          "pairings.#{found.code}",
          here: here,
          there: there,
          by: plain(found.by.round(1)),
          way: way
        )
      end

      # What a tape at the wrong level would say. found - of a Measuring::LevelDoubt
      def level_doubt(found)
        way = t("changes_of_girth.#{found.mm.positive? ? :more : :less}")
        figures = { direction: found.way, mm: found.mm.abs.round, way: way }
        if found.size
          t("level_doubts.other", size: found.size, **figures)
        else
          t("level_doubts.same", **figures)
        end
      end

      # What a size beside the chosen one would mean. found - of Sizing::Neighbours
      def neighbour(found)
        return t("neighbours.holds", size: found.size) if found.code == :holds

        site = found.site && Anatomy::Vocabulary.default[found.site]
        where = site&.where || (found.site && t("neighbours.at", site: found.site))
        t(
          "neighbours.#{found.code}",
          size: found.size,
          edge: found.edge,
          off: plain(found.off.round(1)),
          where: where && " #{where}"
        )
      end

      # How a fitter's pairs of readings agree. found - a Measuring::Repeatability
      def repeatability(found) = t("repeatability.#{found.finding}", count: found.count)
    end
  end
end
