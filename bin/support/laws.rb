# frozen_string_literal: true

# Every law over families, its reason, and how many of the shipped families, broken on purpose at every place, it
# finds: docs/laws.md.

require_relative "../../lib/handrail"
require_relative "../../spec/support/broken_families"

module Handrail
  # The document of the laws.
  module LawsDocument
    FILE = File.join(ROOT, "docs", "laws.md")
    EVERY = 10_000

    class << self
      # Writes it. Returns its path.
      def write
        File.write(FILE, [head, *laws.map { |law| table(law) }].join("\n"))
        FILE
      end

      private

      def laws = Families::Laws.all.sort_by(&:code)

      def head
        <<~TEXT
          # Laws over families

          What every family text must keep, proved when the tests load it and by `bin/handrail review`. Each law is one
          file in `lib/handrail/core/families/laws`. The tables are made by `bin/handrail laws`: every shipped family is
          broken in each way at every place where it can be; `found` says how many of those the law found.
        TEXT
      end

      def table(law)
        rows = BrokenFamilies::WAYS.fetch(law.code).map { |name, way| row(law, name, way) }
        <<~TEXT
          ## #{law.code}

          #{law.reason}

          | broken | places | found |
          | --- | --- | --- |
          #{rows.join("\n")}
        TEXT
      end

      def row(law, name, way)
        made = BrokenFamilies.made(way, EVERY)
        found =
          made.count do |_, family, raw|
            Families::Laws.review(family, raw).any? { |one| one.law == law.code }
          end
        "| #{name} | #{made.size} | #{found} |"
      end
    end
  end
end
