# frozen_string_literal: true

module Handrail
  module Store
    # A product's size chart as of a date. A revision is never changed: a new chart is a new
    # revision, so that what was read of one once need not be read again.
    class ChartRevision < Sequel.Model(Store.db[:chart_revisions])
      many_to_one :product, class: "Handrail::Store::Product"

      # revisions that were read; one that is asked for is answered by what was read for it, whatever
      # other requests have pushed out meanwhile
      MEMORY = Memory.new(2000)
      private_constant :MEMORY

      class << self
        # The newest revision of each product: product id => ChartRevision. on - the clinic's Date;
        # later ones are not yet in force.
        def in_force(product_ids, on:)
          where(product_id: product_ids)
            .where { dated <= on }
            .order(:dated)
            .all
            .to_h { |revision| [revision.product_id, kept_one(revision)] }
        end

        # Revisions by id: those read before, and the others.
        def kept(ids)
          MEMORY.remember_many(ids) { |missing| where(id: missing).as_hash(:id) }
        end

        # Stores a chart. rows - Sizing::Chart::Rows in chart order; they are held against each
        # other first.
        def add(product, rows, dated:, tie_rule: "larger", primary_site: nil)
          Sizing::Chart.build(rows)
          owner = { clinic_id: product.clinic_id }
          create(
            **owner,
            product_id: product.id,
            dated: dated,
            tie_rule: tie_rule,
            primary_site: primary_site
          ).tap do |revision|
            rows
              .group_by { |row| [row.part.to_s, row.size] }
              .each_with_index do |((part, name), bands), position|
                size =
                  db[:chart_sizes].insert(
                    **owner,
                    chart_revision_id: revision.id,
                    part: part,
                    name: name,
                    position: position
                  )
                bands.each do |band|
                  db[:chart_bands].insert(**owner, chart_size_id: size, **band_columns(band))
                end
              end
          end
        end

        # The charts of many revisions, read at once: revision id => Sizing::Chart.
        def charts(revisions)
          missing = revisions.reject(&:read?)
          if missing.any?
            rows_of(missing.map(&:id)).each do |id, rows|
              missing.find { |one| one.id == id }.rows = rows
            end
          end
          revisions.to_h { |revision| [revision.id, revision.chart] }
        end

        # revision id => rows
        def rows_of(ids)
          found =
            db[:chart_bands]
              .join(:chart_sizes, id: :chart_size_id)
              .where(chart_revision_id: ids)
              .order(Sequel[:chart_sizes][:position], Sequel[:chart_bands][:id])
              .select(
                :chart_revision_id,
                :part,
                :name,
                :site,
                :min_mm,
                :max_mm,
                :unit,
                :posture,
                :tension
              )
              .all
          found
            .group_by { |row| row[:chart_revision_id] }
            .transform_values { |rows| rows.map { |row| core_row(row) } }
        end

        private

        def kept_one(revision) = MEMORY.remember(revision.id) { revision }

        def band_columns(band)
          {
            site: band.site,
            min_mm: Store.numeric(band.min),
            max_mm: Store.numeric(band.max),
            unit: band.unit,
            posture: band.posture,
            tension: band.tension
          }
        end

        def core_row(row)
          Sizing::Chart::Row[
            part: row[:part],
            size: row[:name],
            site: row[:site],
            min: row[:min_mm].to_r,
            max: row[:max_mm].to_r,
            unit: row[:unit],
            posture: row[:posture],
            tension: row[:tension]
          ]
        end
      end

      attr_writer :rows

      # Whether its rows have been read.
      def read? = !@rows.nil?

      # Its rows in chart order, as Sizing::Chart::Rows.
      def rows = @rows ||= self.class.rows_of([id]).fetch(id, [])

      # The chart as a core value, as the maker wrote it.
      def chart = @chart ||= Sizing::Chart.build(rows)

      # The chart as it is read for a family: where the maker names no posture or tension, the
      # family's, else the site's.
      def chart_for(family)
        (@charts ||= {})[family.digest] ||= Sizing::Chart.build(
          rows.map { |row| settled(row, family) }
        )
      end

      def rule = Sizing::TieRule.new(tie_rule, primary: primary_site)

      private

      def settled(row, family)
        need = family.needs.find { |one| one.site == row.site }
        site = Anatomy::Vocabulary.default[row.site]
        row.with(
          posture: row.posture || need&.posture || site&.posture,
          tension: row.tension || need&.tension || site&.tension
        )
      end
    end
  end
end
