# frozen_string_literal: true

module Handrail
  module Exchange
    # `handrail hazards`: hazards of severity 3 and 4 that have too few controls in a family. Status 0 where there
    # is none, 1 where there is one, 2 where the file can not be read.
    class HazardsCommand < Command
      MARKED = false
      COLUMNS = %w[hazard severity family controls finding].freeze
      NUMBERS = %w[severity].freeze
      NEEDED = [].freeze
      USAGE = "handrail hazards [--file HAZARDS.yml] [--markdown] [--format csv|json]"

      def self.define(parser, given)
        parser.on("--file FILE", "another file than the one that ships with it") do |v|
          given[:file] = v
        end
        parser.on("--markdown", "all hazards with their controls, as a document") do |v|
          given[:markdown] = v
        end
      end

      def initialize(options)
        super
        @hazards = Families::Hazards.all(*options[:file])
        @lacking = Families::Hazards.lacking(@hazards)
      end

      # the document in the place of rows, where it is asked for
      def put(out) = @options[:markdown] ? out.puts(markdown) : super
      def status = @lacking.any? && !@options[:markdown] ? 1 : 0

      def rows(out)
        @lacking.each do |one|
          out << [
            one.hazard.key,
            one.hazard.severity.to_s,
            one.family,
            said(one.controls),
            one.finding
          ]
        end
      end

      # All hazards by severity, the gravest first.
      def markdown
        head = <<~TEXT
          # What could go wrong, and what stands against it

          Made from `knowledge/hazards.yml` by `bin/handrail hazards --markdown`. Severity 1 is a nuisance, 2 harm that
          passes, 3 harm that stays or needs a doctor, 4 life, limb or spine. A hazard of severity 3 or 4 has two controls
          that do not rest on the same memory; `bin/handrail hazards` prints those with too few.
        TEXT
        [head, *@hazards.group_by(&:severity).map { |severity, all| table(severity, all) }].join(
          "\n"
        )
      end

      private

      def table(severity, hazards)
        rows =
          hazards.map do |one|
            "| #{one.what} | #{one.who} | #{one.when.join(", ")} | #{where(one)} | #{said(one.controls)} |"
          end
        <<~TEXT
          ## Severity #{severity}

          | what | who | when | families | controls |
          | --- | --- | --- | --- | --- |
          #{rows.join("\n")}
        TEXT
      end

      def where(hazard)
        all = Families::Registry.all.keys
        return "all" if hazard.families.sort == all.sort

        hazard.families.map { |key| Families::Registry.fetch(key).name.downcase }.join(", ")
      end

      def said(controls) = controls.map { |one| "#{one.kind} #{one.keys.join(" or ")}" }.join("; ")
    end
  end
end
