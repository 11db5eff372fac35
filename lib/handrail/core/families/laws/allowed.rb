# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # Steps, checks, remedies and words follow the order's options, the posture that the wearer may take, the
      # species, and the kind of device. Words that a family says only of some orders (`presumes`) are said of no other.
      class Allowed < Law
        law "allowed",
            "Who may only be rolled is not told to stand, nor a dog's owner to wash off lotion."

        UPRIGHT = /\b(sit|sits|sitting|seated|stand|stands|standing|walk\w*|squat\w*|stairs)\b/i
        NOT_UPRIGHT = /\b(never|not|nobody)\b[^.]*\b(sit|stand|walk)/i
        PEOPLE = /\b(doctor|clothing|clothes|trousers|lotion|emergency number|wearer's)\b/i
        ANIMALS = /\b(vet|owner|fur|paw)\b/i
        LEFT_OUT = %w[no none left_out].freeze

        def look
          configs.each do |config|
            postures(config) if family.postures(config)
            presumed(config)
            hedged(config)
            not_there(config)
          end
          texts.each { |path, text| species(path, text) }
          (family.options + family.fields).each { |one| left_out(one) }
          strapless
          sizeless
          family.options.each { |one| chosen_already(one) }
        end

        private

        # what is there already is no remedy: a change to a choice is offered where another was chosen
        def chosen_already(option)
          return if option.choices.to_a.size < 2

          option.choices.each do |choice|
            named = /\b#{Regexp.escape(choice.label.downcase)}\b/
            remedies.each do |problem, remedy|
              next unless remedy.title.downcase.match?(named)
              next if [remedy, problem].any? { |one| one.when.to_h.key?(option.key) }

              breach(
                remedy_path(problem, remedy),
                "offered also where “#{option.label}” is “#{choice.label}” already"
              )
            end
          end
        end

        def postures(config)
          may = family.postures(config)
          return unless may == ["lying"]

          postures = family.checks(config).map { |one| ["checks.#{one.key}", one.posture.to_s] }
          said = said_of(config) + postures
          said.each do |path, text|
            if text.match?(UPRIGHT) && !text.match?(NOT_UPRIGHT)
              breach(path, "asked of somebody who may only lie")
            end
            if text.match?(/\btake it off\b/i)
              breach(path, "who may only lie is told to take off what they lie on")
            end
          end
          unrolled(config)
        end

        # what lies under somebody is moved only when they are rolled
        def unrolled(config)
          family
            .problems_for(config)
            .each do |problem|
              problem
                .remedies
                .select { |one| one.applies?(config) }
                .each do |remedy|
                  text = "#{remedy.title} #{remedy.why}"
                  unless text.match?(/\bback panel\b|\bcentre the\b/i) && !text.match?(/\broll/i)
                    next
                  end

                  breach(
                    remedy_path(problem, remedy),
                    "moved under somebody who lies on it, without a roll"
                  )
                end
            end
        end

        # words that only some orders allow
        def presumed(config)
          barred = family.presumes.reject { |one| Families.applies?(one["when"], config) }
          return if barred.empty?

          said_of(config).each do |path, text|
            word = barred.flat_map { |one| one["words"] }.find { |one| text.downcase.include?(one) }
            breach(path, "“#{word}” said where the order says otherwise") if word
          end
        end

        # an order is known: what is left to the reader ("where it was ordered") is read as it suits
        HEDGED =
          /\b(where (that|it|one|there) (was ordered|is one)|if (it was |that was )?(ordered|supplied|there is one))\b/i
        private_constant :HEDGED

        def hedged(config)
          said_of(config).each do |path, text|
            word = text[HEDGED] or next
            breach(path, "“#{word}”: the order says whether, so say it, or leave it out")
          end
        end

        # a problem that nobody feels, and that shows only in checks that this order does not have
        def not_there(config)
          asked = family.checks(config).map(&:key)
          family
            .problems_for(config)
            .each do |problem|
              shown = problem.shows_in.to_a
              next if shown.empty? || problem.felt.to_a.any? || shown.intersect?(asked)

              breach(
                "problems.#{problem.key}",
                "it shows only in what is not looked at with this order"
              )
            end
        end

        # what is made by a sheet has no next size on a shelf
        def sizeless
          return unless family.size_rule.by == "sheet"

          remedies.each do |problem, remedy|
            if remedy.last ||
                 !remedy.title.match?(/\b(larger|smaller) size\b|\bsize (larger|smaller)\b/i)
              next
            end

            breach(remedy_path(problem, remedy), "there is no such size: it is made to measure")
          end
        end

        # what is said of an order, as [[path, text], ...]
        def said_of(config)
          said_at_work(config) + said_of_problems(config) + said_to_wearer(config)
        end

        def said_at_work(config)
          steps =
            %w[prepare apply doff].flat_map do |list|
              family
                .public_send(list, config)
                .map do |step|
                  ["#{list}.#{step.key}", [step.title, step.do, step.at_home].join(" ")]
                end
            end
          steps +
            family.checks(config).map { |one| ["checks.#{one.key}", "#{one.title} #{one.hint}"] }
        end

        def said_of_problems(config)
          family
            .problems_for(config)
            .flat_map do |problem|
              remedies = problem.remedies.select { |one| one.applies?(config) }
              said =
                remedies.map do |remedy|
                  [remedy_path(problem, remedy), "#{remedy.title} #{remedy.why}"]
                end
              [["problems.#{problem.key}", problem.title], *said]
            end
        end

        def said_to_wearer(config)
          tasks = family.tasks_for(config).map { |one| ["teach.tasks.#{one.key}", one.text] }
          starts = family.wear.values_at("start", "start_hours", "putting_on").join(" ")
          said = { "way_out" => family.way_out(config), "wear" => [starts] }
          said["teach.mistakes"] = family.mistakes_for(config).map(&:text)
          said["wear.rules"] = family.rules(config)
          said["wear.care"] = family.care_rules(config)
          said["wear.stop_and_call"] = family.calls(config)
          tasks + said.flat_map { |path, texts| texts.map { |text| [path, text] } }
        end

        # every text of the family's own, with its path
        def texts(value = family.to_h.except("text"), path = [])
          case value
          when Hash
            value.flat_map { |key, inner| texts(inner, [*path, key]) }
          when Array
            value.each_with_index.flat_map do |inner, i|
              texts(inner, [*path, inner.is_a?(Hash) && inner["key"] ? inner["key"] : i])
            end
          when String
            value.include?(" ") ? [[path.join("."), value]] : []
          else
            []
          end
        end

        def species(path, text)
          return if path.start_with?("cautions.note")

          if animal?
            breach(path, "“#{text[PEOPLE]}” said of a dog") if text.match?(PEOPLE)
          elsif text.match?(ANIMALS)
            breach(path, "“#{text[ANIMALS]}” said of a person")
          end
        end

        # what can be left out is asked only where it is there
        def left_out(one)
          return unless one.choices.to_a.map(&:key).intersect?(LEFT_OUT)

          name = one.label.downcase.delete_suffix("s")
          return if name.split.size < 2

          shown = steps.map { |list, step| ["#{list}.#{step.key}", step] }
          shown += family.all_checks.map { |check| ["checks.#{check.key}", check] }
          shown += family.problems.map { |problem| ["problems.#{problem.key}", problem] }
          shown.each do |path, item|
            next unless item.title.downcase.include?(name)

            unless item.when.to_h.key?(one.key)
              breach(path, "asked also where “#{one.label}” is left out")
            end
          end
        end

        # nothing to open or to take up where there is no strap
        def strapless
          return if family.straps.any? || family.kind == "FO"

          remedies.each do |problem, remedy|
            next unless [remedy.title, remedy.why].join(" ").match?(/\b(strap|buckle)s?\b/i)

            unless remedy.distress || remedy.force == "less"
              breach(remedy_path(problem, remedy), "a strap where there is none")
            end
          end
        end
      end
    end
  end
end
