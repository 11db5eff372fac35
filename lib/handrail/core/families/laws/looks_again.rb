# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # After a change it is looked at again where the problem showed, and at the end at everything; at a lock wherever
      # the device was seated anew, or a strap that can lie over it was.
      class LooksAgain < Law
        law "looks_again", "A change that nobody looks at afterwards is a guess."

        SEATED =
          /\b(open (it|the)|seat it|close again|lock both|move what pressed|a little firmer)\b/i
        private_constant :SEATED

        def look
          remedies.each do |problem, remedy|
            after(problem, remedy)
            locked(problem, remedy)
          end
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

        # who stands next stands on it
        def locked(problem, remedy)
          return unless remedy.title.match?(SEATED) || %w[up down].include?(remedy.moves)
          return if remedy.stop || remedy.last

          locks
            .select { |check| together?(check, remedy) && !remedy.opens.include?(check.key) }
            .each do |check|
              breach(
                remedy_path(problem, remedy),
                "it is seated anew, and “#{check.key}” is not looked at again"
              )
            end
        end

        def locks = @locks ||= family.all_checks.select { |check| check.title.match?(/\block/i) }

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
