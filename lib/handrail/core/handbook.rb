# frozen_string_literal: true

module Handrail
  # What the house knows, as something to look things up in: every site, every device family with
  # its checks and problems, the published sources, and where practitioners differ. It is made from
  # knowledge/ and holds nothing of its own.
  #
  #   Handbook.default.search("calf").map(&:title)      # => ["Calf, widest part", ...]
  #   Handbook.default.beside(site).map(&:name)         # what the site is easily taken for
  class Handbook
    # Something that can be looked up. kind - :site, :family, :check or :problem; key - the site's
    # or the family's; anchor - of the check or problem on the family's page, else nil; title; hint
    # - where it belongs, in a few words.
    Entry = Value.new(:kind, :key, :anchor, :title, :hint, :words)

    # Where practitioners differ: topic; ways - each in a sentence; followed - which one, here; why.
    School = Value.new(:topic, :ways, :followed, :why)

    # A published source and what rests on it: text; sites - Anatomy::Sites.
    Source = Value.new(:text, :sites)

    COMMON = "common practice, no source"

    def self.default = @default ||= Memory.freeze(new.tap { |one| one.search("a") && one.schools })

    # A text of a protocol without an order: what an order would fill in is named.
    def self.unfilled(text) =
      text.to_s.gsub(/\{(\w+?)(?:\.says)?\}/) { "the #{Regexp.last_match(1).tr("_", " ")}" }

    # edition - of the sites and schools; families - key => Families::Family.
    def initialize(edition: Edition.current, families: Families::Registry.all)
      @edition = edition
      @sites = edition.sites
      @families = families
    end

    # Sites by the part of the body: "leg" => Sites.
    def sites = @sites.group_by { |site| body(site) }
    def site(key) = @sites[key]
    def families = @families.values.sort_by(&:name)
    def family(key) = @families[key]

    # The families that ask for a site, by name.
    def asking(site) =
      families.select { |family| family.needs.any? { |need| need.site == site.key } }

    # What a site is easily taken for: the same kind of length on the same part of the body, the
    # nearest first. Where it lies is counted along the figure, so that only sites at a level have
    # neighbours.
    def beside(site, most: 3)
      return [] unless site.level

      others = @sites.select { |other| other != site && other.level && like?(other, site) }
      others.sort_by { |other| (other.level.mm - site.level.mm).abs }.first(most)
    end

    # Published sources, each with the sites that rest on it; what is common practice alone is left
    # out.
    def sources
      @sites
        .group_by { |site| site.source.to_s }
        .reject { |text, _| text.empty? || text == COMMON }
        .map { |text, sites| Source[text: text, sites: sites] }
        .sort_by(&:text)
    end

    # Where practitioners differ, as Schools.
    def schools
      @schools ||=
        @edition.schools.map do |raw|
          School[topic: raw["topic"], ways: raw["ways"], followed: raw["followed"], why: raw["why"]]
        end
    end

    # Entries in which every word of a text is found, those that begin with it first; nothing for no
    # words.
    def search(text, limit: 30)
      words = text.to_s.downcase.scan(/[[:alnum:]]+/).first(6)
      return [] if words.empty?

      found = entries.select { |entry| words.all? { |word| entry.words.include?(word) } }
      found.sort_by { |entry| [rank(entry, words), entry.title.size, entry.title] }.first(limit)
    end

    private

    def body(site) = Anatomy::Figure.fetch(site.figure).body
    def like?(other, site) = other.kind == site.kind && body(other) == body(site)

    # titles that begin with what is looked for, titles that hold it, the rest
    def rank(entry, words)
      title = entry.title.downcase
      return 0 if title.start_with?(words.first)

      words.all? { |word| title.include?(word) } ? 1 : 2
    end

    def entries =
      @entries ||= [
        *@sites.map { |site| site_entry(site) },
        *families.flat_map { |one| of_family(one) }
      ]

    def site_entry(site)
      entry(
        :site,
        site.key,
        nil,
        site.name,
        "#{site.kind}, #{body(site)}",
        site.landmark,
        site.short
      )
    end

    def of_family(family)
      [
        entry(:family, family.key, nil, family.name, family.kind, family.about),
        *family.all_checks.map { |check| part(family, :check, check.key, check.title, check.hint) },
        *family.problems.map do |one|
          part(family, :problem, one.key, one.title, *one.remedies.map(&:title))
        end
      ]
    end

    def part(family, kind, key, title, *more)
      entry(kind, family.key, "#{kind}-#{key}", self.class.unfilled(title), family.name, *more)
    end

    def entry(kind, key, anchor, title, hint, *more)
      Entry[
        kind: kind,
        key: key,
        anchor: anchor,
        title: title,
        hint: hint,
        words: [title, hint, *more].compact.join(" ").downcase
      ]
    end
  end
end
