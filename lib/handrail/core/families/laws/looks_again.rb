# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # After a change it is looked at again where the problem showed, and at the end at everything.
      class LooksAgain < Law
        law "looks_again", "A change that nobody looks at afterwards is a guess."

        def look
          remedies.each { |problem, remedy| after(problem, remedy) }
          timers
        end

        private

        # what leads away is looked at where it leads; what is a stop is not gone on from
        def after(problem, remedy)
          return if remedy.stop || remedy.last || (remedy.goes_to && remedy.goes_to != "workshop")

          shown = problem.shows_in.to_a.filter_map { |key| family.check(key) }
          lacking =
            shown.select { |check| together?(check, remedy) && !remedy.opens.include?(check.key) }
          lacking.each do |check|
            breach(
              remedy_path(problem, remedy),
              "the problem shows in “#{check.key}”, which it does not open again"
            )
          end
        end

        # a timed look has a check that is asked when it rings
        def timers
          family.timers.each do |timer|
            next if timer.asks && family.check(timer.asks)

            breach("timers.#{timer.key}", "it rings, and no check is asked then")
          end
        end
      end
    end
  end
end
