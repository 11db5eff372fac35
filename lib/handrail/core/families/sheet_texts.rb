# frozen_string_literal: true

module Handrail
  module Families
    # Every text of a family that a wearer's sheet can show: what a language has to have words for.
    #
    #   SheetTexts.of(family)         # => ["Calf strap first", ...]
    #   SheetTexts.with_paths(family) # => [["apply.strap_calf", "Calf strap first"], ...]
    module SheetTexts
      class << self
        def of(family) = with_paths(family).map(&:last).uniq

        # Each with its path from the top of the family.
        def with_paths(family)
          named = way_out(family) + steps(family) + wear(family) + marks(family) + kept(family)
          (named + choices(family, named.map(&:last))).reject { |_, text| text.empty? }.uniq
        end

        private

        def way_out(family) =
          family.ways_out.each_with_index.map { |one, i| ["way_out.#{i}", one.text] }

        # what is done at home; false is for the clinic alone
        def steps(family)
          %w[prepare apply doff].flat_map do |list|
            family
              .to_h
              .fetch(list, [])
              .map { |raw| family.step_of(list, raw["key"]) }
              .flat_map { |step| said(list, step) }
          end
        end

        def said(list, step)
          variants =
            step.variants.to_a.map do |one|
              step.with(**one.slice("title", "do", "at_home").transform_keys(&:to_sym))
            end
          [step, *variants].reject { |one| one.at_home == false }
            .flat_map { |one| [one.title, one.at_home || one.do] }
            .map { |text| ["#{list}.#{step.key}", text] }
        end

        def wear(family)
          wear = family.wear
          own =
            %w[start start_hours skin putting_on].filter_map do |key|
              ["wear.#{key}", wear[key].to_s] if wear[key]
            end
          own << ["name", family.name]
          own.concat(family.calls_said.map { |text| ["wear.stop_and_call", text] })
          own.concat(family.rules_said.map { |text| ["wear.rules", text] })
          own.concat(family.cares_said.map { |text| ["wear.care", text] })
        end

        def marks(family)
          said =
            family
              .settings
              .reject(&:clinics)
              .flat_map do |field|
                [field.label, *field.choices.to_a.map(&:label)].map do |text|
                  ["marks.settings.#{field.key}", text]
                end
              end
          [["marks.says", family.marks["says"]], *said]
        end

        def kept(family)
          { "parts" => family.parts, "stages" => family.stages }.flat_map do |list, all|
            all.flat_map do |one|
              [["#{list}.#{one.key}", one.label], ["#{list}.#{one.key}", one.says.to_s]]
            end
          end
        end

        # the words that fill a name in braces, or stand in the device's name
        def choices(family, texts)
          names = texts.flat_map { |text| text.scan(/\{(\w+)/).flatten }.uniq
          filled =
            (family.options + family.fields).select do |one|
              names.include?(one.key) || (one.respond_to?(:part_of_name) && one.part_of_name)
            end
          found =
            filled.flat_map do |one|
              one
                .choices
                .to_a
                .flat_map { |c| [c.in_words, c.says.to_s] }
                .map { |text| ["options.#{one.key}", text] }
            end
          if names.include?("tension_test")
            [*found, ["tension_test.title", family.tension_test["title"]]]
          else
            found
          end
        end
      end
    end
  end
end
