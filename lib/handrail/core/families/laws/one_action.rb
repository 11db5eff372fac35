# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # One action a step, in an order in which it can be done: what is needed is there, straps close in the
      # order of their numbers, nobody walks before the last strap, the skin is looked at last.
      class OneAction < Law
        law "one_action",
            "A step with three actions is ticked after two, and a lead that is not in lifts no foot."

        VERBS = %w[
          open
          close
          pull
          turn
          bend
          stand
          walk
          sit
          lace
          cut
          trim
          mark
          set
          press
          peel
          lock
          unlock
          push
          take
          lift
          drill
          connect
          wet
          wind
          roll
          slide
          shorten
          lengthen
          tighten
          write
          fit
          straighten
          transfer
        ].freeze
        WALKS = /\A(stand\b|walk|small squats|up and down stairs)/i

        def look
          steps.each do |list, step|
            one(list, step)
            looked_first("#{list}.#{step.key}", step)
          end
          configs.each { |config| in_order(config) }
          remedies.each { |problem, remedy| one_change(problem, remedy) }
        end

        private

        def one(list, step)
          found = actions([step.title, step.do].join(". "))
          return if found.uniq.size <= 1

          breach("#{list}.#{step.key}", "it asks for #{found.uniq.join(", ")} in one step")
        end

        # this or that: which of the two helped is known to nobody afterwards
        def one_change(problem, remedy)
          return if remedy.last || remedy.stop || !remedy.title.match?(/\bor\b/i)

          breach(remedy_path(problem, remedy), "two changes in one remedy: each is one of its own")
        end

        # who is lifted, or stands on a lock, is looked at before: afterwards it is a fall
        def looked_first(path, step)
          needed = before_lifting(step) + before_standing(step)
          (needed - step.checked.to_a).each do |key|
            breach(path, "it is done before anybody has looked at “#{key}”")
          end
        end

        def before_lifting(step)
          return [] unless step.shows == "lift"

          family
            .all_checks
            .select { |check| check.firm || check.title.match?(/\bbefore lifting\b/i) }
            .map(&:key)
        end

        def before_standing(step)
          return [] unless step.title.match?(/\Astand\b/i)

          family
            .all_checks
            .select { |check| check.title.match?(/\block/i) && together?(check, step) }
            .map(&:key)
        end

        # what lies over or inside the device, and is off before the device can come off
        WORN_OVER = %w[sleeve shoe liner].freeze
        private_constant :WORN_OVER

        # verbs with which a clause begins
        def actions(text)
          text
            .split(/[.;:]\s+|,? then |,\s+(?=\w+ the )|, and | and (?=\w+ (?:the|it|both|them)\b)/i)
            .filter_map { |clause| clause[/\A\W*(?:then\s+)?(\w+)/i, 1]&.downcase }
            .select { |word| VERBS.include?(word) }
        end

        def in_order(config)
          preparing = family.prepare(config)
          applying = family.apply(config)
          given(preparing + applying)
          straps(applying)
          walking(applying)
          landmark(applying)
          off(family.doff(config))
          comes_off(applying, family.doff(config))
          unless (preparing + applying).first.key.start_with?("right_")
            breach("prepare", "the device is not looked at first")
          end
        end

        def given(list)
          there = []
          list.each do |step|
            (step.needs.to_a - there).each do |need|
              breach(
                "#{list_of(step)}.#{step.key}",
                "it needs “#{need}”, which no earlier step gives"
              )
            end
            there.concat(step.gives.to_a)
          end
        end

        def list_of(step) =
          %w[prepare apply doff].find do |list|
            family.step_of(list, step.key) == step || family.step_of(list, step.key)
          end

        def straps(applying)
          closing = applying.select(&:strap)
          first = closing.index(&:first)
          if first&.positive?
            breach("apply.#{closing[first].key}", "the strap that goes first does not stand first")
          end

          numbers = closing.map { |step| family.strap(step.strap).number }
          return if numbers == numbers.sort || closing.any?(&:when)

          breach("apply", "straps are closed in another order than they are numbered")
        end

        # who walks before the last strap is closed walks in a loose device
        def walking(applying)
          last = applying.rindex(&:strap) or return
          applying
            .first(last)
            .select { |step| step.title.match?(WALKS) }
            .each { |step| breach("apply.#{step.key}", "before the last strap is closed") }
        end

        def landmark(applying)
          place = applying.index(&:landmark)
          strap = applying.index(&:strap)
          if place && strap && strap < place
            breach("apply", "a strap is closed before the device is in its place")
          end
        end

        def comes_off(applying, doff)
          said = doff.map { |step| [step.title, step.do].join(" ") }
          WORN_OVER.each do |thing|
            on = applying.find { |step| step.title.match?(/\b#{thing}\b/i) } or next
            next if said.any? { |text| text.match?(/\b#{thing}\b/i) }

            breach(
              "doff",
              "“#{on.title}” goes on over it, and nothing says when the #{thing} comes off"
            )
          end
          locked = applying.index { |step| step.title.match?(/\block both\b/i) }
          return if locked.nil? || doff.any? { |step| step.title.match?(/\bunlock\b/i) }

          breach("doff", "it is locked, and no step unlocks it")
        end

        def off(doff)
          return breach("doff", "it does not say how it comes off") if doff.size < 2

          look = doff.index { |step| [step.title, step.do].join(" ").match?(/\blook\b/i) }
          return if look.nil? || look == doff.size - 1

          breach("doff", "the skin is looked at before the device is off")
        end
      end
    end
  end
end
