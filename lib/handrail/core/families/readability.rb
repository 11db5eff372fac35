# frozen_string_literal: true

module Handrail
  module Families
    # How many years of school a text asks for, by the published formula of its language: a constant, and so much times
    # each of what is counted in it (knowledge/languages/*/reading.yml, with its source).
    #
    #   Readability.grade(["Sit down.", "Take it off."]) # => -1.6
    module Readability
      # what a formula can count: its name in reading.yml => of a Text
      COUNTED = {
        "words_in_a_sentence" => ->(text) { text.words.size.to_f / text.sentences },
        "syllables_in_a_word" => ->(text) { text.syllables.to_f / text.words.size },
        "percent_of_three_syllables_and_more" => ->(text) do
          text.share { |word| text.count(word) >= 3 }
        end,
        "percent_of_more_than_six_letters" => ->(text) { text.share { |word| word.size > 6 } },
        "percent_of_one_syllable" => ->(text) { text.share { |word| text.count(word) == 1 } },
        "sentences_in_a_hundred_words" => ->(text) { 100.0 * text.sentences / text.words.size },
        "syllables_in_a_hundred_words" => ->(text) { 100.0 * text.syllables / text.words.size }
      }.freeze
      # a language's key => its reading.yml
      FORMULAS =
        Dir[File.join(Language::FOLDER, "*", "reading.yml")]
          .to_h do |path|
            [File.basename(File.dirname(path)), Knowledge.read(path, schema: "reading")]
          end
          .freeze

      # The words of a text and how many sentences they stand in.
      class Text
        attr_reader :words, :sentences

        # silent - patterns of what is no syllable at the end of a word
        def initialize(texts, silent)
          said =
            texts.flat_map { |text| text.gsub(/\{\w+(\.\w+)?\}/, "it").split(/(?<=[.!?:;])\s+/) }
          all = said.map { |one| one.scan(/[\p{L}'’]+/) }.reject(&:empty?)
          @words = all.flatten
          @sentences = all.size
          @silent = silent.map { |pattern| Regexp.new(pattern) }
        end

        def syllables = words.sum { |word| count(word) }
        def share(&) = 100.0 * words.count(&) / words.size

        # Syllables of a word: groups of vowels, without what is silent at its end.
        def count(word)
          bare = word.downcase.unicode_normalize(:nfd).gsub(/[^a-z]/, "")
          bare = @silent.inject(bare) { |left, pattern| left.sub(pattern, "") }
          [bare.scan(/[aeiouy]+/).size, 1].max
        end
      end

      # texts - sentences or headings, each at least one sentence; language - a key, nil where there is no formula
      # for it
      def self.grade(texts, language = "en")
        formula = FORMULAS[language] || {}
        text = Text.new(texts, formula.fetch("silent", []))
        return 0.0 if text.words.empty?
        return if formula.empty?

        formula["times"].sum(formula["constant"]) do |name, times|
          times * COUNTED.fetch(name).call(text)
        end
      end
    end
  end
end
