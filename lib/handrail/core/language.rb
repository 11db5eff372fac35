# frozen_string_literal: true

module Handrail
  # What a wearer reads, in their own language: one folder of knowledge/languages a language, with the words of
  # the protocols (texts.yml), of the sheet (sheet.yml) and of letters (letters.yml). English is the families'
  # own; the others go by the English text: a text that was changed since has no words there yet, and is
  # shown in English.
  #
  #   Language.of("de").say("Stand") # => "Aufstehen"
  class Language
    FOLDER = File.join(Knowledge::FOLDER, "languages")
    # key => what a clinic tells a wearer about a visit, see Followup::Letters
    LETTERS =
      Dir[File.join(FOLDER, "*", "letters.yml")]
        .to_h do |path|
          [File.basename(File.dirname(path)), Knowledge.read(path, schema: "letters")]
        end
        .freeze
    # key => its own name, English first
    ALL =
      LETTERS
        .sort_by { |key, _| [key == "en" ? 0 : 1, key] }
        .to_h { |key, one| [key, one.fetch("name")] }
        .freeze

    # The language of a key, of the edition that is read by; English where it is none.
    def self.of(key) = Edition.here.language(key)

    attr_reader :key

    # texts - Hashes of an English text and its words: [{ "en" => .., "de" => .. }, ...]
    def initialize(key, texts)
      @key = key
      @texts = texts.to_h { |one| [one["en"], one[key]] }
      freeze
    end

    # A text of a protocol in this language.
    def say(text) = text && @texts.fetch(text, text)

    # Whether there are words for it.
    def knows?(text) = key == "en" || @texts.key?(text)

    # A name as it stands within a sentence: English begins it small, unless it is written in
    # capitals; German nouns keep theirs.
    def within(name) =
      key == "en" && name.match?(/\A\p{Lu}\p{Ll}/) ? "#{name[0].downcase}#{name[1..]}" : name

    # A protocol's text with its names filled in, see Families::Family#fill.
    def fill(family, text, config)
      family.fill(say(text), config) { |part| say(part) }
    end
  end
end
