# frozen_string_literal: true

module Handrail
  module Web
    # A chart in the editor: its fields, its tapes, what is wrong with it, and what it would change
    # for the clinic's own wearers.
    class ChartPage
      # empty rows below those that are there
      SPARE = 4

      attr_reader :product, :draft, :values, :faults, :before, :after, :source

      # draft - a ChartDraft; values - "dated", "tie_rule", "primary_site" as typed; faults - name => what is wrong with
      # what was sent; before, after -
      # Sizing::Coverages, or nil; source - the file's name, where it came from one.
      def initialize(product, draft, values, faults: {}, before: nil, after: nil, source: nil)
        @product = product
        @draft = draft
        @values = values
        @faults = faults
        @before = before
        @after = after
        @source = source
      end

      def rule = ChartPage.rule(values)

      # Whether the fields show a file: that stands, and not what was typed here before.
      def shown? = !source.nil?

      # What a chart that is put in force from here takes the place of, see Commands::AddChart.
      def seen = Store::Commands::AddChart.newest(product)

      # The rows of the family's own sites, to be filled in: texts by column.
      def empty_rows(unit = product.clinic.tape_kind.unit)
        family = product.device_family
        Sizing::EmptyChart.rows(family, family.config({}, product.options.to_h), unit: unit)
      end

      # [[texts by column, fault or nil], ...] of every row of the editor.
      def fields
        own =
          if draft.lines.empty?
            empty_rows.map { |texts| [texts, nil] }
          else
            draft.lines.map { |line| [line.texts, line.fault] }
          end
        own + Array.new(SPARE) { [ChartDraft::BLANK, nil] }
      end

      # What may stand in a column that is chosen: [[heading or nil, [[value, words], ...]], ...]; nil where it is
      # typed. What stands there and is none of it stays, so that it is seen and said. texts - of the row
      def choices(column, texts)
        groups = column == "site" ? sites : plain(column)
        return unless groups

        now = texts[column].to_s
        known = groups.flat_map { |_, options| options.map(&:first) }
        if now.empty? || known.include?(now)
          groups
        else
          [*groups, [Wording.t("web.not_known"), [[now, now]]]]
        end
      end

      UNITS = %w[mm cm in].freeze

      def plain(column)
        names =
          {
            "unit" => UNITS,
            "posture" => Anatomy::Vocabulary.default.flat_map(&:postures).uniq,
            "tension" => Store::Commands::ReadingValues::TENSIONS
          }[
            column
          ]
        names && [[nil, names.zip(names)]]
      end

      # the family's own sites first, by their names
      def sites
        @sites ||=
          begin
            family = product.device_family
            own = family.needs_for(family.config({}, product.options.to_h)).map(&:site).uniq
            mine, others = Anatomy::Vocabulary.default.partition { |site| own.include?(site.key) }
            [
              [Wording.t("web.of_this_device"), named(mine)],
              ["Others", named(others).sort_by(&:last)]
            ]
          end
      end

      def named(sites) = sites.map { |site| [site.key, site.name] }
      private :plain, :sites, :named

      # The tie rule that a form names, or the usual one.
      def self.rule(form)
        primary =
          (
            if form["primary_site"].is_a?(String) && !form["primary_site"].empty?
              form["primary_site"]
            end
          )
        Sizing::TieRule.new(
          form["tie_rule"].is_a?(String) ? form["tie_rule"] : "larger",
          primary: primary
        )
      rescue Handrail::Error
        Sizing::TieRule.new
      end
    end
  end
end
