# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # Where practitioners do it in different ways, the product chooses, each way with its reason, and the
      # choice is kept with the fitting.
      class Schools < Law
        law "schools", "A fitter of another school reads a silent choice as a mistake."

        def look
          Edition.here.schools.each do |school|
            key = school.dig("option", family.key) or next
            option = family.option(key)
            unless option
              next breach("options", "“#{school["topic"]}” is no choice here: no option “#{key}”")
            end

            path = "options.#{key}"
            breach(path, "“#{school["topic"]}” has one way only") if option.choices.to_a.size < 2
            option.choices.to_a.each do |choice|
              breach("#{path}.#{choice.key}", "it does not say why") unless choice.says
            end
          end
          tension
        end

        private

        # how tight, and what a mark means, are said once each
        def tension
          if family.tension_test["says"].to_s.empty?
            breach("tension_test", "it does not say how tight")
          end
          return if %w[reference least].include?(family.marks["kind"])

          breach("marks.kind", "it does not say what a mark means")
        end
      end
    end
  end
end
