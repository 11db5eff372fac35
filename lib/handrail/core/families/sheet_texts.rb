# frozen_string_literal: true

module Handrail
  module Families
    # Every text of a family that a wearer's sheet can show: what a language has to have words for.
    #
    #   SheetTexts.of(family) # => ["Calf strap first", ...]
    module SheetTexts
      class << self
        def of(family)
          named = steps(family) + wear(family) + marks(family) + kept(family)
          (named + choices(family, named)).reject(&:empty?).uniq
        end

        private

        # what is done at home; false is for the clinic alone
        def steps(family)
          (family.applied_steps + family.taken_off_steps)
            .reject { |step| step.at_home == false }
            .flat_map { |step| [step.title, step.at_home || step.do] }
        end

        def wear(family)
          wear = family.wear
          [
            family.name,
            *wear["stop_and_call"],
            wear["start"],
            wear["start_hours"],
            wear["skin"],
            wear["putting_on"].to_s,
            *family.all_rules.map(&:text)
          ]
        end

        def marks(family)
          [
            family.marks["says"],
            *family.settings.flat_map { |field| [field.label, *field.choices.to_a.map(&:label)] }
          ]
        end

        def kept(family)
          (family.parts + family.stages).flat_map { |one| [one.label, one.says.to_s] }
        end

        # the words that fill a name in braces, or stand in the device's name
        def choices(family, texts)
          names = texts.flat_map { |text| text.scan(/\{(\w+)/).flatten }.uniq
          filled =
            (family.options + family.fields).select do |one|
              names.include?(one.key) || (one.respond_to?(:part_of_name) && one.part_of_name)
            end
          found =
            filled.flat_map { |one| one.choices.to_a.flat_map { |c| [c.in_words, c.says.to_s] } }
          names.include?("tension_test") ? [*found, family.tension_test["title"]] : found
        end
      end
    end
  end
end
