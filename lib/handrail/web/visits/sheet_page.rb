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

        def title = "#{visit.patient.animal? ? "#{visit.patient.name}’s" : "Your"} #{visit.title}"
        def draft? = visit.hand_over.nil?

        # "serial number WH-20501", by side
        def devices
          visit.devices.map do |side, device|
            [
              visit.said_side(side),
              device[:serial] ? "serial number #{device[:serial]}" : "lot #{device[:lot]}"
            ].compact.join(" ")
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

        def warranty = visit.clinic.choices_made.warranty

        # What the wearer confirms at hand-over, each with its place for initials.
        def statements = visit.clinic.choices_made.statements + [like_device].compact

        # The steps that the wearer does: [title, words].
        def putting_on = home_steps(visit.family.apply(visit.config))
        def taking_off = home_steps(visit.family.doff(visit.config))
        def look = visit.family.wear["putting_on"]&.then { |text| visit.fill(text) }

        # Marks by side: [[side or nil, [[label, value], ...]], ...].
        def marks
          visit.sides.filter_map do |side|
            written = visit.settings(side).select { |_, row| row }
            if written.any?
              [visit.said_side(side), written.map { |field, row| [field.label, field.say(row)] }]
            end
          end
        end

        def parts = visit.family.parts.select { |part| part.applies?(visit.config) }
        def stages = visit.family.stages.select { |stage| stage.applies?(visit.config) }

        private

        # whether there was a like device, as the clinic asks and as the records say
        def like_device
          years = visit.clinic.choices_made.like_years
          return if years.zero?

          before = Store::Visits.like_devices(visit, years)
          "No #{visit.family.name.downcase} in the last #{years} #{years == 1 ? "year" : "years"}. Our records show " +
            (before.empty? ? "none." : "one handed over on #{before.first.strftime("%-d %b %Y")}.")
        end

        # what only the clinic does is left out; the wearer's own words where there are some
        def home_steps(steps)
          steps
            .reject { |step| step.at_home == false }
            .map { |step| [visit.fill(step.title), visit.fill(step.at_home || step.do)] }
        end
      end
    end
  end
end
