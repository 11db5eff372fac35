# frozen_string_literal: true

module Handrail
  module Store
    # A product's size chart as of a date. A revision is never changed: a new chart is a new
    # revision, so that what was read of one once need not be read again.
    class ChartRevision < Sequel.Model(Store.db[:chart_revisions])
      many_to_one :product, class: "Handrail::Store::Product"

      # A revision with its rows and its chart, frozen: what is kept from one request to the next.
      #
      # dated - Date; rows - Sizing::Chart::Rows in chart order; chart - the Sizing::Chart as the maker
      # wrote it
      Kept =
        Value.new(:id, :product_id, :dated, :tie_rule, :primary_site, :rows, :chart) do
          # row - of the table
          def self.of(row, rows)
            self[
              **row.values.slice(:id, :product_id, :dated, :tie_rule, :primary_site),
              rows: rows,
              chart: Sizing::Chart.build(rows)
            ]
          end

          # The chart as it is read for a family, see Sizing::Chart.for_family.
          def chart_for(family) =
            CHARTS.remember([id, family.digest]) { Sizing::Chart.for_family(rows, family) }

          def rule = Sizing::TieRule.new(tie_rule, primary: primary_site)
        end

      # revisions that were read; one that is asked for is answered by what was read for it, whatever
      # other requests have pushed out meanwhile
      MEMORY = Memory.new(2000)
      # charts as they are read for a family
      CHARTS = Memory.new(2000)
      private_constant :MEMORY, :CHARTS

      class << self
        # The newest revision of each product: product id => Kept. on - the clinic's Date;
        # later ones are not yet in force.
        def in_force(product_ids, on:)
          newest =
            where(product_id: product_ids)
              .where { dated <= on }
              .order(:dated, :id)
              .select_map(%i[product_id id])
              .to_h
          found = kept(newest.values)
          newest.transform_values { |id| found.fetch(id) }
        end

        # Revisions by id, as Kept: those read before, and the others.
        def kept(ids)
          MEMORY.remember_many(ids) do |missing|
            rows = rows_of(missing)
            where(id: missing).to_h { |one| [one.id, Kept.of(one, rows.fetch(one.id, []))] }
          end
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

        # The charts of many revisions: revision id => Sizing::Chart.
        def charts(revisions) = revisions.to_h { |revision| [revision.id, revision.chart] }

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
    end
  end
end
