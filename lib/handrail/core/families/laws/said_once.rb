# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # Nothing is said twice in one place: a reader who meets a sentence again looks for the difference, and
      # skips the next one.
      class SaidOnce < Law
        law "said_once", "Who has read a line twice reads the third one less."

        def look
          remedies.each do |problem, remedy|
            twice(remedy_path(problem, remedy), remedy.title, remedy.why, remedy.costs)
          end
          steps.each do |list, step|
            filled(step.do).each { |text| twice("#{list}.#{step.key}", step.title, text) }
            twice("#{list}.#{step.key}", step.title, step.at_home.to_s)
          end
          family.all_checks.each { |check| twice("checks.#{check.key}", check.title, check.hint) }
          configs.each { |config| rules(config) }
        end

        private

        # texts that are read together
        def twice(path, *texts)
          parts = texts.compact.flat_map { |text| sentences(text) }
          parts.each_with_index do |part, i|
            next if parts.first(i).none? { |earlier| earlier == part || ends_with?(earlier, part) }

            breach(path, "“#{part}” is said twice")
          end
        end

        # the text with each choice of the options that it names in its place
        def filled(text)
          named = family.options.select { |one| text.include?("{#{one.key}.says}") }
          named.reduce([text]) do |texts, option|
            texts
              .product(option.choices)
              .map do |one, choice|
                one.gsub("{#{option.key}}", choice.said || choice.label).gsub(
                  "{#{option.key}.says}",
                  choice.says.to_s
                )
              end
          end
        end

        def sentences(text) =
          text.to_s.split(/[.;:]\s*/).map { |part| part.strip.downcase }.reject(&:empty?)

        # "harder on the skin" after "they hold better, and are harder on the skin"
        def ends_with?(earlier, part) = part.include?(" ") && earlier.end_with?(" #{part}")

        def rules(config)
          said = family.rules(config)
          said.tally.each do |text, times|
            breach("wear.rules", "“#{text}” is said twice") if times > 1
          end
        end
      end
    end
  end
end
