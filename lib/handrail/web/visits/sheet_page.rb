# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The wearer's sheet: what they need at home, in their words and large type.
      class SheetPage
        attr_reader :visit

        def initialize(visit)
          @visit = visit
        end

        def title = "#{visit.patient.animal? ? "#{visit.patient.name}’s" : 'Your'} #{visit.title}"
        def draft? = visit.hand_over.nil?

        # "serial number WH-20501", by side
        def devices
          visit.devices.map do |side, device|
            [visit.said_side(side),
             device[:serial] ? "serial number #{device[:serial]}" : "lot #{device[:lot]}"].compact.join(" ")
          end
        end

        def calls = visit.family.wear["stop_and_call"]

        def start
          hours = visit.hand_over ? visit.hand_over[:start_hours] : visit.family.wear["start_hours"]
          visit.family.fill(visit.family.wear["start"], visit.config.merge("start_hours" => hours))
        end

        def rules = visit.family.rules(visit.config).map { |rule| visit.fill(rule) }
        def skin = visit.family.wear["skin"]
        def cares = visit.family.care_rules(visit.config)

        # The steps that the wearer does: [title, words].
        def putting_on = home_steps(visit.family.apply(visit.config))
        def taking_off = home_steps(visit.family.doff(visit.config))
        def look = visit.family.wear["putting_on"]&.then { |text| visit.fill(text) }

        # Marks by side: [[side or nil, [[label, value], ...]], ...].
        def marks
          visit.sides.filter_map do |side|
            written = visit.settings(side).select { |_, row| row }
            [visit.said_side(side), written.map { |field, row| [field.label, value(field, row)] }] if written.any?
          end
        end

        def parts = visit.family.parts.select { |part| part.applies?(visit.config) }
        def stages = visit.family.stages.select { |stage| stage.applies?(visit.config) }

        private

        # what only the clinic does is left out; the wearer's own words where there are some
        def home_steps(steps)
          steps.reject { |step| step.at_home == false }.map do |step|
            [visit.fill(step.title), visit.fill(step.at_home || step.do)]
          end
        end

        def value(field, row)
          row[:value_mm] ? Quantity::Length.mm(row[:value_mm].to_r).plain("mm") : field.print(row[:typed])
        end
      end
    end
  end
end
