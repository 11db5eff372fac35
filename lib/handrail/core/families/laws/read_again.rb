# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # What decided the size comes back at every recheck; figures that are typed or computed from have floors
      # and ceilings.
      class ReadAgain < Law
        law "read_again", "A limb that has changed fits no size that was found on it before."

        FIGURES = %w[length lengths number].freeze

        def look
          sites
          family.options.each do |option|
            bounded("options.#{option.key}", option) if FIGURES.include?(option.type)
          end
          family.fields.each do |field|
            bounded("order.fields.#{field.key}", field) if field.type == "number"
          end
          family.settings.each do |field|
            bounded("marks.settings.#{field.key}", field) if field.type == "number"
          end
          checks
        end

        private

        def sites
          wanted = family.needs.reject { |need| need.use == "record" }.map(&:site).uniq
          (wanted - family.recheck_readings).each do |site|
            breach("recheck.readings", "“#{site}” decides, and is not read again")
          end
        end

        def bounded(path, one)
          breach(path, "it has no floor") if one.least.nil?
          breach(path, "it has no ceiling") if one.most.nil?
        end

        # what is looked at when it is fitted is looked at again; what is only done once says so
        def checks
          breach("recheck.plan", "no recheck is planned") if family.recheck_plan.empty?
          final = family.all_checks.find(&:final)
          unless family.recheck_check_keys.include?(final&.key)
            breach("recheck.checks", "the final look is left out")
          end
        end
      end
    end
  end
end
