# frozen_string_literal: true

module Handrail
  module Store
    # A product's size chart as of a date. A revision is never changed: a new chart is a new revision.
    class ChartRevision < Sequel::Model(Store.db[:chart_revisions])
      many_to_one :product, class: "Handrail::Store::Product"

      # The newest revision of each product: product id => ChartRevision. on - a Date; later ones are not yet in force.
      def self.in_force(product_ids, on:)
        where(product_id: product_ids).where { dated <= on }.order(:dated).all.to_h { |revision| [revision.product_id, revision] }
      end

      # Stores a chart. rows - Sizing::Chart::Rows in chart order; they are held against each other first.
      def self.add(product, rows, dated:, tie_rule: "larger", primary_site: nil)
        Sizing::Chart.build(rows)
        owner = { clinic_id: product.clinic_id }
        create(**owner, product_id: product.id, dated: dated, tie_rule: tie_rule, primary_site: primary_site).tap do |revision|
          rows.group_by { |row| [row.part.to_s, row.size] }.each_with_index do |((part, name), bands), position|
            size = db[:chart_sizes].insert(**owner, chart_revision_id: revision.id, part: part, name: name, position: position)
            bands.each { |band| db[:chart_bands].insert(**owner, chart_size_id: size, **band_columns(band)) }
          end
        end
      end

      def self.band_columns(band)
        { site: band.site, min_mm: Store.numeric(band.min), max_mm: Store.numeric(band.max), unit: band.unit, posture: band.posture,
          tension: band.tension }
      end
      private_class_method :band_columns

      # The chart as a core value.
      def chart = @chart ||= Sizing::Chart.build(rows)

      # Its rows in chart order, as Sizing::Chart::Rows.
      def rows = self.class.rows_of([id]).fetch(id, [])

      # The charts of many revisions, read at once: revision id => Sizing::Chart.
      def self.charts(revisions) = rows_of(revisions.map(&:id)).transform_values { |rows| Sizing::Chart.build(rows) }

      # revision id => rows
      def self.rows_of(ids)
        found = db[:chart_bands].join(:chart_sizes, id: :chart_size_id).where(chart_revision_id: ids)
                                .order(Sequel[:chart_sizes][:position], Sequel[:chart_bands][:id])
                                .select(:chart_revision_id, :part, :name, :site, :min_mm, :max_mm, :unit, :posture, :tension).all
        found.group_by { |row| row[:chart_revision_id] }.transform_values { |rows| rows.map { |row| core_row(row) } }
      end

      def self.core_row(row)
        Sizing::Chart::Row[part: row[:part], size: row[:name], site: row[:site], min: row[:min_mm].to_r, max: row[:max_mm].to_r, unit: row[:unit],
                           posture: row[:posture], tension: row[:tension]]
      end
      private_class_method :core_row

      def rule = Sizing::TieRule.new(tie_rule, primary: primary_site)
    end
  end
end
