# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # How a device is worn at first, as the wearer's sheet says it: by the hours and the plan with which it was
      # handed over. Of a pair of which one was given out later each has its own, else one holds for both.
      class SheetPlan
        # The plans of a sheet, one for each hand-over that what is worn goes back to. page - a SheetPage
        def self.of(page)
          page
            .by_side(->(side) { page.visit.wear.hand_over_of(side) })
            .map { |side, given| new(page, side, given) }
        end

        # side - "left" or "right" where the other has another plan, else nil
        attr_reader :side

        # given - the row of the hand-over, nil before it
        def initialize(page, side, given)
          @page = page
          @side = side
          @given = given
        end

        # "Left: wear it 2 to 3 hours on the first day."
        def start
          hours = @given ? @given[:start_hours] : family.wear["start_hours"]
          @page.of_side(
            side,
            @page.language.fill(
              family,
              family.wear["start"],
              @page.visit.config.merge("start_hours" => hours)
            )
          )
        end

        # The break-in, as handed over or as the family has it: [[first day, last day, hours], ...]; nothing where
        # the family has none.
        def break_in
          raw = @given ? @given[:plan].to_h : family.wear["break_in"]
          raw.to_h.empty? ? [] : Followup::WearPlan.read(raw).steps
        end

        # "Days 3 and 4: 3 hours", with its dates once it is handed over
        def break_in_said
          break_in.map do |first, last, hours|
            words =
              first == last ? @page.t("day", day: first) : @page.t("days", from: first, to: last)
            [[words, dates(first, last)].compact.join(", "), @page.hours_said(hours)]
          end
        end

        def given? = !@given.nil?

        # The date of a day of the plan, counted from 1.
        def on(day) = @page.visit.clinic.today(@given[:at]) + day - 1

        private

        def family = @page.visit.family

        def dates(first, last)
          [first, last].map { |day| @page.date(on(day)) }.uniq.join(" – ") if given?
        end
      end
    end
  end
end
