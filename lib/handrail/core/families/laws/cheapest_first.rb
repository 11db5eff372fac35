# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # What the fitter can do at once, and take back, stands before what another has to do, before another
      # size, and before what can not be undone.
      class CheapestFirst < Law
        law "cheapest_first",
            "Who is offered a new device first never tries to pull up the one that slid."

        # who else has to do it
        OTHERS = %w[workshop maker].freeze

        def look
          family.problems.each do |problem|
            tried = problem.remedies.reject { |one| one.last || one.distress || one.stop }
            tried.each_with_index do |remedy, i|
              next unless dear?(remedy)

              later = tried.drop(i + 1).find { |one| !dear?(one) && together?(one, remedy) }
              next unless later

              breach(
                remedy_path(problem, remedy),
                "it stands before “#{later.key}”, which costs nothing"
              )
            end
          end
        end

        private

        def dear?(remedy) =
          !remedy.for_good.nil? || OTHERS.include?(remedy.by) ||
            %w[size prescriber].include?(remedy.goes_to)
      end
    end
  end
end
