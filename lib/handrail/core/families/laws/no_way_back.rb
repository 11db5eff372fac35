# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # What can not be undone is a step or remedy of its own: marked and looked at before, bounded by a figure
      # of this wearer, asked once more, done by who may.
      class NoWayBack < Law
        law "no_way_back",
            "A cut past the bulge, a hole too high, a strap too short can not be taken back."

        CUTS =
          /\b(cut|trim|drill|grind|saw|punch|new hole)\b|\bshorten (it|the (stay|ends?|strap ends))\b/i
        BEFORE = /\b(mark\w*|look\w*|fold\w*|draw|little|out)\b/i
        DOERS = %w[fitter workshop maker].freeze

        def look
          steps.each { |list, step| done("#{list}.#{step.key}", step) unless list == "doff" }
          family.problems.each do |problem|
            problem.remedies.each { |remedy| done(remedy_path(problem, remedy), remedy) }
            order(problem)
          end
          bounds
        end

        private

        def done(path, one)
          if one.title.match?(CUTS) && !one.for_good
            return breach(path, "“#{one.title}” can not be undone, and does not say so")
          end
          in_passing(path, one) if one.is_a?(Remedy)
          return unless one.for_good

          breach(path, "nothing of this wearer bounds it") unless one.within
          breach(path, "it does not say who may do it") unless DOERS.include?(one.by)
          breach(path, "it opens no check") if one.opens.to_a.empty? && one.is_a?(Remedy)
          return if one.for_good.match?(BEFORE) || (one.is_a?(Step) && one.needs)

          breach(path, "nothing is marked or looked at before")
        end

        # what can not be undone, named beside something else
        def in_passing(path, one)
          return if one.for_good || !one.why.to_s.match?(/\bor (trim|cut|drill|grind|ground)/i)

          breach(path, "“#{one.why}” names what can not be undone: a remedy of its own")
        end

        # what can be undone is tried before what can not
        def order(problem)
          own = problem.remedies.reject(&:last).reject(&:distress)
          first = own.index(&:for_good) or return
          later = own.drop(first + 1).reject { |one| one.for_good || one.goes_to }
          return if later.empty? || own[first].when || later.all?(&:when)

          breach(
            remedy_path(problem, own[first]),
            "it stands before “#{later.first.title}”, which can be undone"
          )
        end

        # a setting that says how far something was cut is bounded by another one
        def bounds
          family.settings.each do |field|
            next unless field.label.match?(/\b(released|cut|trimmed)\b/i)

            unless field.at_most
              breach("marks.settings.#{field.key}", "nothing says how far it may go")
            end
          end
        end
      end
    end
  end
end
