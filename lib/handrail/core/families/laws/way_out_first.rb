# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # A device is left in its own safe order: sit, lie flat, be let down, unlock, then open. What distresses
      # is answered with that way first, and what stays when the device is off is a stop sign.
      class WayOutFirst < Law
        law "way_out",
            "Who opens a device in the wrong order falls, drops or moves an unstable spine."

        SAFE = /\b(sit|lie|let down|hold|holds|still)\b/i
        OPENS = /\b(open|off|out|peel|push it down|loosen|turn it down|rolled)\b/i
        FELT = /\b(warm|numb\w*|breath\w*|tingl\w+|colour|toes cold|feeling as)\b/i
        UNDONE = /\b(?:dials?|unlock|suspension sleeve|stimulator|load straps?)\b/
        IN_A_SHOE = /\b(laced shoe|into the shoe|shoe laced)\b/i
        # what has to be looked at where the device lies on that part; figure => what
        NEEDS = {
          "leg" => "toes",
          "leg_side" => "toes",
          "forelimb" => "toes",
          "hindlimb" => "toes",
          "trunk" => "breath"
        }.freeze

        def look
          configs.each { |config| the_way(config) }
          distress
          said_first
          found_by_words
          present
        end

        private

        def the_way(config)
          way = family.way_out(config)
          return breach("way_out", "it says no way out") if way.empty?

          unless way.first.match?(SAFE)
            breach("way_out", "it begins with “#{way.first}”: first sit, lie, or be let down")
          end
          if way.drop(1).none? { |text| text.match?(OPENS) }
            breach("way_out", "it never says what is opened or taken off")
          end
          taken_off(config, way)
          put_on(config)
          shod(config, way)
          undone_first(config, way)
          locked(config, way)
          held_up(way) if family.kind == "harness"
          flat(config, way)
        end

        # what is taken off every day begins as the way out does
        def taken_off(config, way)
          first = family.doff(config).first
          return if first.nil? || !way.first.match?(SAFE)

          unless "#{first.title}. #{first.do}".match?(SAFE)
            breach(
              "doff.#{first.key}",
              "it is opened first: the way out begins with “#{way.first}”"
            )
          end
        end

        SEATED = /\b(sit|sitting|seated|lying|lie (down|flat|still|on))\b/i
        # the figures of a limb that stands on nothing while something is pulled over it
        LIMBS = %w[leg leg_side foot].freeze
        private_constant :SEATED, :LIMBS

        # what is taken off sitting is put on sitting: on one leg one falls either way
        def put_on(config)
          return unless LIMBS.include?(family.figure)
          first = family.doff(config).first or return
          return unless "#{first.title}. #{first.do}".match?(SEATED)

          home =
            (family.prepare(config) + family.apply(config)).reject { |step| step.at_home == false }
          placed = home.index { |step| step.landmark || step.strap } or return
          said = home.first(placed + 1).map { |step| "#{step.title}. #{step.at_home || step.do}" }
          return if said.any? { |text| text.match?(SEATED) }

          breach("apply.#{home[placed].key}", "it goes on, and nobody was told to sit or lie down")
        end

        # what is undone before the device opens is in both: a lock, a dial, a switch, what is wound over it
        def undone_first(config, way)
          off = family.doff(config).map { |step| "#{step.title}. #{step.do}" }
          done = ->(texts) do
            texts.join(" ").downcase.scan(UNDONE).map { |word| word.delete_suffix("s") }
          end
          (done[off] - done[way]).uniq.each do |word|
            breach("way_out", "it leaves out “#{word}”, which is undone when it is taken off")
          end
        end

        # what is worn in a shoe comes off after it
        def shod(config, way)
          return if family.checks(config).none? { |check| check.title.match?(IN_A_SHOE) }

          off = family.doff(config).map { |step| "#{step.title}. #{step.do}" }
          { "way_out" => way, "doff" => off }.each do |path, said|
            shoe = said.index { |text| text.match?(/\bshoe\b/i) }
            opened = said.index { |text| text.match?(/\bopen\b/i) }
            breach(path, "it is worn in a shoe, and the shoe is left on") unless shoe
            breach(path, "opened before the shoe is off") if shoe && opened && opened < shoe
          end
        end

        # a lock is opened sitting, before anything else is
        def locked(config, way)
          return unless family.checks(config).any? { |check| check.title.match?(/\block/i) }

          at = way.index { |text| text.match?(/\bunlock both/i) }
          return breach("way_out", "the locks are left out") unless at

          sat = way.index { |text| text.match?(/\bsit\b/i) }
          opened = way.index { |text| text.match?(/\bopen\b/i) }
          breach("way_out", "unlocked before sitting") unless sat && sat < at
          breach("way_out", "opened before it is unlocked") if opened && opened < at
        end

        def held_up(way)
          down = way.index { |text| text.match?(/\blet down\b/i) }
          off = way.index { |text| text.match?(/\b(off|open)\b/i) }
          unless down && way[down].match?(/\bholds?\b/i)
            return breach("way_out", "who hangs is let down first, somebody holds")
          end

          breach("way_out", "opened before it is let down") if off && off < down
        end

        def flat(config, way)
          return unless family.postures(config) == ["lying"]

          unless way.first.match?(/\A(lie flat|stay flat)/i)
            breach("way_out", "who may only lie is told to get up")
          end
        end

        def distress
          family
            .all_checks
            .select(&:distress)
            .each do |check|
              answers(check)
              next if family.recheck_check_keys.include?(check.key)

              breach(
                "recheck.checks",
                "“#{check.key}” is a sign of distress, and is not looked at again"
              )
            end
        end

        # whatever is called distress says the way out first
        def said_first
          family.problems.each do |problem|
            first = problem.remedies.first
            next unless first&.distress && !first.why.include?("{way_out}")

            breach(remedy_path(problem, first), "it does not say the way out")
          end
        end

        def answers(check)
          shown = family.problems.select { |problem| problem.shows_in.to_a.include?(check.key) }
          answer = shown.find { |problem| problem.remedies.first&.distress }
          unless answer
            return breach("checks.#{check.key}", "no problem answers it with the way out first")
          end

          first = answer.remedies.first
          path = remedy_path(answer, first)
          unless first.opens.include?(check.key)
            breach(path, "it does not open “#{check.key}” again")
          end
          stays(check, answer)
        end

        def stays(check, answer)
          stop = answer.remedies.find(&:stop)
          unless stop
            return breach("problems.#{answer.key}", "what does not come back is no stop sign")
          end

          path = remedy_path(answer, stop)
          unless stop.stop == check.distress
            breach(path, "the stop sign is “#{stop.stop}”, the check's is “#{check.distress}”")
          end
          breach(path, "it can be gone on from") if stop.opens.any?
          sign = family.sign(stop.stop)
          if sign.nil? || sign.urgency == "prescriber"
            breach(path, "a stop sign of distress is urgent")
          end
        end

        # told by its words, whether it is marked or not
        def found_by_words
          family
            .all_checks
            .reject do |check|
              check.distress || check.final || check.looks_for.to_a.include?("lift")
            end
            .select { |check| check.title.match?(FELT) }
            .each do |check|
              breach("checks.#{check.key}", "a sign of distress that is not called one")
            end
        end

        def present
          what = NEEDS[family.figure] or return
          return if family.kind == "FO"

          configs.each do |config|
            seen =
              family.checks(config).select(&:distress).flat_map { |check| check.looks_for.to_a }
            breach("checks", "nothing looks for #{what}") unless seen.include?(what)
          end
        end
      end
    end
  end
end
