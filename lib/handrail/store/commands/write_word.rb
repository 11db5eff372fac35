# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What the wearer says: pain from 0 to 10 without the device and with it, where, and what they
      # want to be able to do. The first one is the baseline of the rechecks.
      #
      #   WriteWord.new("pain_without" => "7", "pain_with" => "4", "place" => "inner side, on stairs",
      #                 "wants" => "walk to the harbour")
      class WriteWord < VisitCommand
        input :pain_without, :line, most: 4
        input :pain_with, :line, most: 4
        input :place, :line, most: 200
        input :wants, :line, most: 300

        def topic = "word"

        def decide(visit)
          pass!(visit)
          row = {
            pain_without: score("pain_without", pain_without),
            pain_with: score("pain_with", pain_with),
            place: place,
            wants: wants
          }
          unacceptable("pain_without", t(:write_pain)) if row.values.none?

          Decision.insert(said(row), wearer_words: row)
        end

        private

        def score(field, text)
          return unless text

          number = Inputs.whole(text, 0..10)
          number || unacceptable(field, t(:pain_whole_number))
        end

        def said(row)
          pain = row.values_at(:pain_without, :pain_with)
          scores =
            pain.any? ? t(:pain_with_it, pain: pain.map { |n| n || "?" }.join(" without, ")) : nil
          [t(:wearer_says), [scores, place, wants].compact.join("; ")].join(": ")
        end
      end
    end
  end
end
