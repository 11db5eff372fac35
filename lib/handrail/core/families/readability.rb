# frozen_string_literal: true

module Handrail
  module Families
    # How many years of school a text asks for: the Flesch-Kincaid grade level, 0.39 words a sentence + 11.8
    # syllables a word - 15.59 (Kincaid, Fishburne, Rogers, Chissom: Derivation of new readability formulas for
    # Navy enlisted personnel, 1975).
    #
    #   Readability.grade(["Sit down.", "Take it off."]) # => -1.6
    module Readability
      class << self
        # texts - sentences or headings, each at least one sentence.
        def grade(texts)
          said =
            texts.flat_map { |text| text.gsub(/\{\w+(\.\w+)?\}/, "it").split(/(?<=[.!?:;])\s+/) }
          words = said.map { |one| one.scan(/[\p{L}'’]+/) }.reject(&:empty?)
          return 0.0 if words.empty?

          all = words.flatten
          (0.39 * all.size / words.size) + (11.8 * all.sum { |word| syllables(word) } / all.size) -
            15.59
        end

        # Syllables of an English word: groups of vowels, without a silent e at the end.
        def syllables(word)
          bare =
            word.downcase.gsub(/[^a-z]/, "").sub(/(?<=[^aeiouyl])e\z/, "").sub(/(?<=[^td])ed\z/, "")
          [bare.scan(/[aeiouy]+/).size, 1].max
        end
      end
    end
  end
end
