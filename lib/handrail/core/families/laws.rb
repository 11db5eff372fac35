# frozen_string_literal: true

module Handrail
  module Families
    # What every family text must keep so that nobody is hurt by it, proved before anyone reads it: one law a
    # file. What the trade says stands in the families; what no family may say, or leave out, stands here.
    # Common practice, no source, where a law names none.
    #
    #   Laws.review(family, raw) # => [Breach[law: "way_out", family: "kafo", path: "checks.locks"], ..]
    #
    # A schema says how a file is written, References that what it names exists; laws read what it means.
    module Laws
      # law - its code; path - keys from the top of the family, joined by points; finding - what is wrong
      # there, in words.
      Breach = Value.new(:law, :family, :path, :finding)

      class << self
        # All laws, as classes, in the order of their codes.
        def all
          [
            Allowed,
            CheapestFirst,
            LooksAgain,
            NoWayBack,
            OneAction,
            OrderedIsHeld,
            Quantities,
            ReadAgain,
            SaidOnce,
            Schools,
            TheSheet,
            Tightening,
            TwoWays,
            WayOutFirst
          ]
        end

        # The breaches of a family. raw - the file as it is written, before common.yml fills it; only - the
        # code of one law.
        def review(family, raw, only: nil)
          laws = only ? all.select { |law| law.code == only } : all
          laws.flat_map { |law| law.new(family, raw).breaches }
        end
      end
    end
  end
end
