# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # The wearer's sheet is whole, in plain words and in every language: how it goes on and comes off, whom to
      # call for each danger, the emergency number for each emergency; and they say when to call before they go.
      class TheSheet < Law
        law "sheet", "At home there is nobody to ask: what the sheet leaves out is not done."

        # words of the trade that no wearer has to know; those on the right are said instead
        TRADE = {
          "sacrococcygeal" => "end of the sacrum",
          "symphysis" => "pubic bone",
          "condyle" => "the bones beside the knee",
          "malleol" => "ankle bone",
          "tuberosity" => "the bump below the kneecap",
          "eversion" => "turning out",
          "ASIS" => "front of the hip bone",
          "iliac" => "hip bone",
          "trochanter" => "hip",
          "gluteal" => "seat",
          "popliteal" => "behind the knee",
          "clavicle" => "collarbone",
          "patella" => "kneecap",
          "sternum" => "breastbone",
          "xiphoid" => "breastbone",
          "plantar" => "sole",
          "distal" => "lower",
          "proximal" => "upper",
          "orthosis" => "device"
        }.freeze
        THIRD = /\b(the wearer|the patient|wearer's|they|somebody holds the)\b/i
        # school years, see Readability
        GRADE = 6.0

        def look
          SheetTexts
            .with_paths(family)
            .each do |path, text|
              plain(path, text)
              spoken(path, text)
            end
          pictures
          nights
          calls
          teach
          doubled
          grade
        end

        private

        def plain(path, text)
          TRADE.each do |word, said|
            next unless text.match?(/\b#{word}/i) && !text.downcase.include?(said)

            breach(path, "“#{text[/\b#{word}\w*/i]}” on the wearer's sheet: say “#{said}”")
          end
          third = text[THIRD]
          if third && !animal? && family.teach_who == "wearer"
            breach(path, "“#{third}” on the wearer's sheet: say “you”")
          end
        end

        def spoken(path, text)
          Language::ALL.each_key do |key|
            next if Language.of(key).knows?(text)

            breach(path, "no words in “#{key}” for “#{text[0, 60]}”")
          end
        end

        NIGHT = /\b(bed|night|asleep|upright|standing|shoe|training|activity|weight bearing)\b/i
        private_constant :NIGHT

        # whether it is worn in bed: who is not told tries it
        def nights
          return if animal?

          worn = SheetTexts.with_paths(family).select { |path, _| path.start_with?("wear") }
          return if worn.any? { |_, text| text.match?(NIGHT) }

          breach("wear.rules", "nothing says whether it is worn at night")
        end

        # every step that is done at home can be drawn
        def pictures
          %w[prepare apply doff].each do |list|
            family
              .to_h
              .fetch(list, [])
              .map { |one| family.step_of(list, one["key"]) }
              .each { |step| picture("#{list}.#{step.key}", step) unless step.at_home == false }
          end
        end

        def picture(path, step)
          return breach(path, "no picture: say what it shows") unless step.pictured
          if step.pictured == "hinge" && !family.drawing&.dig("hinge")&.any?
            breach(path, "shows a hinge, and none is drawn")
          end
          if step.pictured == "strap" && step.strap.nil?
            breach(path, "shows a strap, and closes none")
          end
          place(path, step) if %w[ring skin].include?(step.pictured)
        end

        def place(path, step)
          return breach(path, "shows a place, and does not say where") unless step.at

          figure = Anatomy::Figure.all[step.view || family.figure]
          return breach("#{path}.view", "there is no figure “#{step.view}”") unless figure

          step.at.each do |one|
            breach("#{path}.at", "there is no “#{one}” on the figure") unless drawn?(figure, one)
          end
        end

        def drawn?(figure, place)
          return true if figure.points.key?(place) || figure.landmarks.key?(place)

          Quantity::Length.parse(place).mm.positive?
        rescue Quantity::Length::Unreadable
          false
        end

        # who is called for each danger that can come at home
        def calls
          known = Knowledge.common["calls"]
          listed =
            raw
              .dig("wear", "stop_and_call")
              .to_a
              .filter_map { |one| one.is_a?(Hash) ? one["call"] : one }
          covered = listed.flat_map { |key| known.dig(key, "danger").to_a }
          (family.stop_signs + family.raised_signs).each do |sign|
            next if sign.urgency == "prescriber" || covered.include?(sign.key)

            breach("wear.stop_and_call", "nobody is called for “#{sign.text}”")
          end
          emergencies(known, listed)
        end

        def emergencies(known, listed)
          listed.each do |key|
            dangers = known.dig(key, "danger").to_a
            urgent = dangers.any? { |danger| family.sign(danger)&.urgency == "emergency" }
            next unless urgent && !known[key]["text"].include?("emergency number")

            breach(
              "wear.stop_and_call",
              "“#{key}” is an emergency, and carries no emergency number"
            )
          end
        end

        def teach
          last = family.tasks.last
          return if last&.text.to_s.start_with?("Says when to")

          breach("teach.tasks", "it does not end with when to call")
        end

        def doubled
          lists = [family.calls_said, family.rules_said, family.cares_said]
          lists.each do |list|
            list
              .tally
              .select { |_, n| n > 1 }
              .each_key { |text| breach("wear", "“#{text}” is there twice") }
          end
        end

        def grade
          Language::ALL.each_key do |key|
            texts = SheetTexts.of(family).map { |text| Language.of(key).say(text) }
            found = Readability.grade(texts, key)
            next unless found && found > GRADE

            breach(
              "wear",
              format("its reading grade in “%s” is %.1f, above %.0f", key, found, GRADE)
            )
          end
        end
      end
    end
  end
end
