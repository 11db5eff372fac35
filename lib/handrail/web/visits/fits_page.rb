# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # What fits this wearer: every product of the catalogue for this part of the body, best first.
      class FitsPage
        SHOWN = 24

        # A product. fit - a Store::Catalogue::Fit; state - a mark; word; sure - in 100, or nil;
        # says.
        Line = Value.new(:fit, :state, :word, :sure, :says)

        attr_reader :side

        def initialize(visit, side, all: false)
          @visit = visit
          @side = side
          @all = all
        end

        def lines = (@all ? found : found.first(SHOWN)).map { |fit| line(fit) }
        def count = found.size
        def more? = !@all && found.size > SHOWN
        def two_sides? = @visit.sides.size > 1

        private

        def found = @found ||= Store::Catalogue.fits(@visit, side)

        def line(fit)
          one = fit.found
          case one.state
          when :fits
            sure = one.probability > Sizing::Match::SURE
            Line[
              fit: fit,
              state: sure ? :good : :look_again,
              sure: one.probability,
              says: Wording.t("web.every_reading_lies")
            ]
          when :missing
            Line[
              fit: fit,
              state: :not_done,
              says: Wording.t("web.still_to_read_one", one: missing(one))
            ]
          else
            Line[
              fit: fit,
              state: :stop,
              word: Wording.t("web.does_not_fit"),
              says: Wording.t("web.no_size_holds_these")
            ]
          end
        end

        def missing(one)
          one
            .missing
            .map do |d|
              [Sizing.site_name(d.site), d.how.empty? ? nil : "(#{d.how})"].compact.join(" ")
            end
            .join(", ")
        end
      end
    end
  end
end
