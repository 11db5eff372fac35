# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The locator sheet of a stimulator cuff.
      class LocatorPage
        attr_reader :visit

        def initialize(visit) = @visit = visit

        def side = visit.sides.first

        def locator
          @locator ||=
            begin
              found =
                visit
                  .fit
                  .settings(side)
                  .filter_map do |field, row|
                    [field.key, row[:value_mm].to_r] if row && row[:value_mm]
                  end
              Fitting::Locator.of(visit.family, visit.config, found.to_h, side: side)
            end
        end

        def drawing = @drawing ||= Drawings::LocatorSheet.new(locator, label: title, side: side)
        def title = Wording.t("web.locator_sheet", title: visit.title)

        # What to look at before it is used: [state, words], ...
        def looked_at
          found =
            locator.missing.map do |label|
              [:not_done, Wording.t("web.offsets_to_be_written", label: label)]
            end
          found << [:look_again, Wording.t("web.electrodes_touch")] if locator.touching?
          found
        end

        # As a paper. head - lines of the letterhead; size - A4 or LETTER
        def paper(head, size:)
          at = visit.events.map { |entry| entry[:at] }.max || visit.fitting.at
          foot = Wording.t("web.print_at_100")
          Exchange::Paper.make(title: title, head: head, foot: foot, at: at, size: size) do |paper|
            paper.text(
              Wording.t(
                "web.stimulator_off",
                patient: visit.patient.name,
                record_number: visit.patient.record_number
              )
            )
            looked_at.map(&:last).each { |words| paper.text(words, strong: true) }
            paper.at_scale(drawing.to_s, drawing.width)
          end
        end
      end
    end
  end
end
