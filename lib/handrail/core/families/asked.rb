# frozen_string_literal: true

module Handrail
  module Families
    # What an order has a fitter ask, read, set, do and teach, in words: two orders of which this is the same differ
    # only in what is written on paper. It tells what a correction of an order opens again.
    #
    #   Asked.of(family, family.config({ "side" => "left", "compartment" => "medial" }, {})) # => [...]
    #
    # What the prescription demands or forbids counts by its value, though no word changes with it: a range of a joint
    # was set and tried by the figure that was ordered then. Not compared is the pressure that a measured one is held
    # against: that is looked up anew wherever it is used.
    module Asked
      LISTS = %i[prepare apply doff].freeze
      private_constant :LISTS

      class << self
        # family - a Family; config - see Family#config. Returns an Array of plain values.
        def of(family, config)
          [
            config["side"],
            family.needs_for(config).map(&:to_h),
            family.configuration(config)&.to_h,
            prompts(family, config).map(&:key),
            *words(family, config).map { |text| family.fill(text, config) },
            *keys(family, config).map(&:key),
            family.derives(config).map(&:sheet),
            demanded(family, config)
          ]
        end

        private

        # [[key, value], ...]
        def demanded(family, config)
          measured = family.pressure_line.to_h["ordered"]
          asked = family.fields_for(config).select { |field| field.demand && field.key != measured }
          asked.map { |field| [field.key, field.plain(config[field.key])] }
        end

        def prompts(family, config) =
          [*family.stop_signs, *family.care_prompts].select { |one| one.applies?(config) }

        def words(family, config)
          steps = LISTS.flat_map { |list| family.public_send(list, config) }
          remedies =
            family
              .problems_for(config)
              .flat_map do |problem|
                [problem, *problem.remedies.select { |one| one.applies?(config) }]
              end
          [*steps, *family.checks(config), *remedies].map(&:title) + steps.map(&:do) +
            family.rules(config) + family.calls(config)
        end

        def keys(family, config) =
          [*family.settings_for(config), *family.tasks_for(config), *family.timers_for(config)]
      end
    end
  end
end
