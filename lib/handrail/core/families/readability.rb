# frozen_string_literal: true

module Handrail
  module Families
    # How many years of school a text asks for, by a published formula for each language:
    #
    # - English: the Flesch-Kincaid grade level, 0.39 words a sentence + 11.8 syllables a word - 15.59 (Kincaid,
    #   Fishburne, Rogers, Chissom: Derivation of new readability formulas for Navy enlisted personnel, 1975).
    # - German: the first Wiener Sachtextformel, 0.1935 MS + 0.1672 SL + 0.1297 IW - 0.0327 ES - 0.875, with the
    #   percentages of words of three syllables and more (MS), of more than six letters (IW), of one syllable (ES),
    #   and words a sentence (SL) (Bamberger, Vanecek: Lesen, Verstehen, Lernen, Schreiben, 1984; from memory).
    # - Spanish: Crawford's grade for primary school, -0.205 OP + 0.049 SP - 3.407, with sentences (OP) and syllables
    #   (SP) in a hundred words (Crawford: A Spanish language Fry-type readability procedure, 1984; from memory).
    #
    #   Readability.grade(["Sit down.", "Take it off."]) # => -1.6
    module Readability
      FORMULAS = {
        "en" => ->(text) do
          (0.39 * text.per_sentence) + (11.8 * text.syllables / text.words.size) - 15.59
        end,
        "de" => ->(text) do
          (0.1935 * text.share { |word| text.count(word) >= 3 }) + (0.1672 * text.per_sentence) +
            (0.1297 * text.share { |word| word.size > 6 }) -
            (0.0327 * text.share { |word| text.count(word) == 1 }) - 0.875
        end,
        "es" => ->(text) do
          hundred = 100.0 / text.words.size
          (-0.205 * text.sentences * hundred) + (0.049 * text.syllables * hundred) - 3.407
        end
      }.freeze

      # The words of a text and how many sentences they stand in.
      class Text
        attr_reader :words, :sentences

        def initialize(texts, language)
          said =
            texts.flat_map { |text| text.gsub(/\{\w+(\.\w+)?\}/, "it").split(/(?<=[.!?:;])\s+/) }
          all = said.map { |one| one.scan(/[\p{L}'’]+/) }.reject(&:empty?)
          @words = all.flatten
          @sentences = all.size
          @language = language
        end

        def per_sentence = words.size.to_f / sentences
        def syllables = words.sum { |word| count(word) }
        def share(&) = 100.0 * words.count(&) / words.size

        # Syllables of a word: groups of vowels; in English without a silent e at the end.
        def count(word)
          bare = word.downcase.unicode_normalize(:nfd).gsub(/[^a-z]/, "")
          bare = bare.sub(/(?<=[^aeiouyl])e\z/, "").sub(/(?<=[^td])ed\z/, "") if @language == "en"
          [bare.scan(/[aeiouy]+/).size, 1].max
        end
      end

      # texts - sentences or headings, each at least one sentence; language - a key of FORMULAS, nil where there
      # is no formula for it
      def self.grade(texts, language = "en")
        text = Text.new(texts, language)
        return 0.0 if text.words.empty?

        FORMULAS[language]&.call(text)
      end
    end
  end
end
