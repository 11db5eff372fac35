# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # Whatever adds force, narrows, or moves an edge toward a crease opens again what it can press: toes,
      # fingers, breath, groin, armpit, the nerve below the knee, the skin that can not feel.
      class Tightening < Law
        law "tightening",
            "What was looked at before it was pulled tighter says nothing of what is pressed now."

        MORE =
          /\b(tighten|tighter|firmer|harder|closer|smaller(?! (trial|height))|re-?snug|more tension|thicker)\b/i
        # a step that closes no strap and presses more all the same
        PULLS =
          /\b(re-?snug|snug|tighten|pull the tabs|go round again|dials? to (middle|the mark)|tension dial|dynamic)\b/i
        LESS = /\A(ease|loosen|back off|let out|feed)|\b(looser|larger|softer)\b/i
        # the check that goes from strap to strap with the fingers
        TEST = "finger_test"
        # straps that lie over the nerve at the fibular neck, on the reference leg, in mm from the floor
        NECK = (240..420)

        def look
          forces
          remedies.each do |problem, remedy|
            opens_looks(remedy_path(problem, remedy), remedy) if remedy.force == "more"
          end
          steps.each do |list, step|
            opens_looks("#{list}.#{step.key}", step) if presses?(list, step)
            opens_the_test("#{list}.#{step.key}", step) if step.strap
          end
          nerve
        end

        private

        def presses?(list, step)
          return true if step.strap

          list == "apply" && [step.title, step.do].join(". ").match?(PULLS)
        end

        def forces
          remedies.each do |problem, remedy|
            path = remedy_path(problem, remedy)
            next breach(path, "it does not say whether it presses more") unless remedy.force

            title = remedy.title
            if title.match?(MORE) && !title.match?(LESS) && remedy.force != "more" &&
                 !remedy.distress
              breach(path, "“#{title}” presses more, and says “#{remedy.force}”")
            end
            if title.match?(LESS) && !title.match?(MORE) && remedy.force == "more" &&
                 family.kind != "harness"
              breach(path, "“#{title}” presses less, and says “more”")
            end
          end
        end

        def opens_looks(path, one)
          lacking =
            looks.select { |check| together?(check, one) && !one.opens.to_a.include?(check.key) }
          lacking.each { |check| breach(path, "it adds force and does not open “#{check.key}”") }
        end

        # each strap that is closed is felt with the fingers, where this family feels its straps with them
        def opens_the_test(path, step)
          test = family.all_checks.find { |check| check.key == TEST }
          return if test.nil? || !together?(test, step) || step.opens.to_a.include?(TEST)

          breach(path, "it closes a strap and does not open “#{TEST}”")
        end

        def nerve
          return unless %w[leg leg_side].include?(family.figure)

          low =
            family.straps.find do |strap|
              strap.level && NECK.cover?(Quantity::Length.parse(strap.level).mm)
            end
          return if low.nil? || looks.any? { |check| check.looks_for.include?("fibular_neck") }

          breach(
            "straps.#{low.key}",
            "nothing looks for the nerve below the outer side of the knee"
          )
        end
      end
    end
  end
end
