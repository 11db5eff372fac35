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
                  .settings(side)
                  .filter_map do |field, row|
                    [field.key, row[:value_mm].to_r] if row && row[:value_mm]
                  end
              Fitting::Locator.of(visit.family, visit.config, found.to_h, side: side)
            end
        end

        def drawing = @drawing ||= Drawings::LocatorSheet.new(locator, label: title, side: side)
        def title = "Locator sheet: #{visit.title}"

        # What to look at before it is used: [state, words], ...
        def looked_at
          found =
            locator.missing.map do |label|
              [:not_done, "#{label}: its two offsets are still to be written."]
            end
          if locator.touching?
            found << [
              :look_again,
              "Two electrodes touch: the current passes between them and not to the nerve."
            ]
          end
          found
        end

        # As a paper. head - lines of the letterhead; size - A4 or LETTER
        def paper(head, size:)
          at = visit.events.map { |entry| entry[:at] }.max || visit.fitting.at
          foot = "Print at 100 %. The rulers prove it: measure them before the sheet is used."
          Exchange::Paper.make(title: title, head: head, foot: foot, at: at, size: size) do |paper|
            paper.text(
              "#{visit.patient.name}, #{visit.patient.record_number}. Stimulator off before any lead is unplugged."
            )
            looked_at.map(&:last).each { |words| paper.text(words, strong: true) }
            paper.at_scale(drawing.to_s, drawing.width)
          end
        end
      end
    end
  end
end
