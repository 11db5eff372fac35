# frozen_string_literal: true

require "digest"
require "json"
require "set"

module Handrail
  # The trade's knowledge beside the families, as its files read at one time: sites with their
  # landmarks and resolutions, figures, what girths say of one another, schools, and the languages
  # of what a wearer reads. A fitting is pinned to one, so that a file that is edited later changes
  # nothing of what was measured and said before.
  #
  #   Edition.with(visit.pin.edition) { Anatomy::Vocabulary.default } # the sites as they stood then
  #
  # Within the block of `with` everything that asks for sites, figures, girths or languages gets
  # those of that edition; outside it, those of the files as they read today. It does not hold the
  # families (see Families::Registry) nor the methods (see Methods).
  class Edition
    FILES = %w[sites figures girths schools].freeze
    # as many older editions as the running fittings of a few clinics have between them
    KEPT = Memory.new(20)
    MORE = Memory.new(20)
    private_constant :KEPT, :MORE

    class << self
      # The files of a folder as they read. Raises Knowledge::Faulty.
      def read(folder = Knowledge::FOLDER)
        raw =
          FILES.to_h do |name|
            [name, Knowledge.read(File.join(folder, "#{name}.yml"), schema: name)]
          end
        languages =
          Dir[File.join(folder, "languages", "*", "texts.yml")].to_h do |path|
            [
              File.basename(File.dirname(path)),
              Knowledge.read(path, schema: "language").fetch("texts")
            ]
          end
        from_text(JSON.generate({ **raw, "languages" => languages }))
      end

      # The files as they read when the program began.
      def current = @current ||= Memory.freeze(read)

      # The edition of a kept text (see #text).
      def from_text(text) = new(text.dup.freeze)

      # An edition by its digest; the block gives its text where it is not known yet.
      def kept(digest)
        return current if current.digest == digest

        KEPT.remember(digest) { from_text(yield) }
      end

      # The edition that is read by here.
      def here = Thread.current[:handrail_edition] || current

      # Reads by another edition until the block ends that `with` was given.
      def turn_to(edition) = Thread.current[:handrail_edition] = edition

      # Reads by an edition within the block; returns what the block returns.
      def with(edition)
        before = Thread.current[:handrail_edition]
        Thread.current[:handrail_edition] = edition
        yield
      ensure
        Thread.current[:handrail_edition] = before
      end
    end

    # text - all of it as JSON; digest - SHA-256 of the text, in hexadecimal; sites - an
    # Anatomy::Vocabulary; figures - key => Anatomy::Figure; girths - a Measuring::GirthModel
    attr_reader :text, :digest, :sites, :figures, :girths

    def initialize(text)
      @text = text
      @digest = Digest::SHA256.hexdigest(text).freeze
      raw = JSON.parse(text)
      @figures = Anatomy::Figure.read(raw.fetch("figures"))
      @sites = Anatomy::Vocabulary.read(raw.fetch("sites"), @figures)
      @girths = Measuring::GirthModel.new(raw.fetch("girths"), key: @digest)
      @schools = raw.fetch("schools").fetch("schools")
      @languages = raw.fetch("languages").to_h { |key, texts| [key, Language.new(key, texts)] }
      @languages["en"] ||= Language.new("en", [])
    end

    # Where practitioners do it in different ways, as Hashes: see knowledge/schools.yml.
    attr_reader :schools

    # What of it concerns a family, as Hashes by file, for showing what changed between two: the sites
    # that it reads, their figures, the words of its own texts in other languages, and which girths
    # what is read is held against.
    def of(family)
      raw = JSON.parse(text)
      read = family.needs.map(&:site)
      shown = [family.figure, *read.filter_map { |key| sites[key]&.figure }]
      spoken = texts_in(family.to_h)
      {
        "sites" => raw.dig("sites", "sites").slice(*read),
        "figures" => raw.dig("figures", "figures").slice(*shown),
        "girths" => Digest::SHA256.hexdigest(JSON.generate(raw["girths"]))[0, 8],
        "languages" =>
          raw["languages"].transform_values do |texts|
            texts
              .select { |one| spoken.include?(one["en"]) }
              .to_h { |one| [one["en"], one.except("en")] }
          end
      }
    end

    # The same edition with more words for what a wearer reads, which a family brings along: Hashes of an English text
    # and its words, as in knowledge/languages; what is there already stays.
    def with_words(words)
      return self if words.empty?

      MORE.remember([digest, words]) { self.class.from_text(more(words)) }
    end

    # The language of a key; English where there is none.
    def language(key) = @languages.fetch(key) { @languages.fetch("en") }

    private

    def more(words)
      raw = JSON.parse(text)
      raw["languages"] = raw["languages"].to_h do |key, texts|
        known = texts.to_set { |one| one["en"] }
        new = words.select { |one| one.key?(key) && !known.include?(one["en"]) }
        [key, texts + new.map { |one| one.slice("en", key) }]
      end
      JSON.generate(raw)
    end

    def texts_in(part)
      case part
      when Hash
        part.each_value.reduce(Set.new) { |all, one| all.merge(texts_in(one)) }
      when Array
        part.reduce(Set.new) { |all, one| all.merge(texts_in(one)) }
      else
        Set[part.to_s]
      end
    end
  end
end
