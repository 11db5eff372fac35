# frozen_string_literal: true

module Handrail
  module Store
    # The clinic's products with the charts in force, and one wearer's readings held against all of
    # them.
    module Catalogue
      # product, family; found - a Sizing::Finder::Found; ordered - true for the family that was
      # ordered
      Fit = Value.new(:product, :family, :found, :ordered)

      # the wearers of a very large clinic that are counted
      MOST_WEARERS = 2000

      # of the newest readings: how many there are, and whose
      RECENT = <<~SQL
        WITH newest AS (
          SELECT r.id, f.patient_id FROM readings r
          JOIN visits v ON v.id = r.visit_id JOIN fittings f ON f.id = v.fitting_id
          WHERE r.clinic_id = ? AND r.site IN ? AND NOT v.practice ORDER BY r.id DESC LIMIT ?)
        SELECT patient_id, max(id) AS last, (SELECT count(*) FROM newest) AS read FROM newest
        GROUP BY 1 ORDER BY 2 DESC LIMIT ?
      SQL
      # how many readings are looked at first, a wearer that is wanted
      READINGS_EACH = 6
      private_constant :RECENT

      # of each site and side only the last visit at which it was read
      WEARERS = <<~SQL
        SELECT patient_id, visit_id, site, side, posture, tension, value_mm, typed FROM (
        SELECT f.patient_id, r.id, r.visit_id, r.site, r.side, r.posture, r.tension, r.value_mm, r.typed,
               first_value(r.visit_id) OVER (PARTITION BY f.patient_id, r.site, r.side ORDER BY r.id DESC) AS last
        FROM readings r JOIN visits v ON v.id = r.visit_id JOIN fittings f ON f.id = v.fitting_id
        WHERE r.clinic_id = ? AND r.site IN ? AND f.patient_id IN ? AND r.struck_at IS NULL
        AND (r.question IS NULL OR r.answered_at IS NOT NULL)
        AND NOT EXISTS (SELECT 1 FROM readings c WHERE c.corrects_id = r.id)) read
        WHERE visit_id = last ORDER BY patient_id, id
      SQL

      class << self
        # Fits for a side of a visit's order: products of every family that lies on the same part of
        # the body of the same species, best first, those of the ordered family before others that
        # are as good.
        def fits(record, side)
          body = record.sizing.figure.body
          products =
            products(record.clinic)
              .select { |product| serves?(product.device_family, record, body) }
              .to_h { |product| [product.id, product] }
          found =
            finder(record.clinic).find(
              record.sizing.core_readings(side),
              resolution: record.sizing.tape_resolution,
              precision: record.sizing.precision(side)
            )
          found
            .filter_map { |f| products[f.key] && fit(products[f.key], f, record) }
            .sort_by
            .with_index { |fit, i| [Sizing::Finder::RANK[fit.found.state], fit.ordered ? 0 : 1, i] }
        end

        # Products of a clinic that are offered, with their makers.
        def products(clinic)
          Product.where(clinic_id: clinic.id, offered: true).eager(:maker).order(:family, :id).all
        end

        # A Finder over every chart in force; made once for a state of the catalogue.
        def finder(clinic)
          offered = products(clinic).map(&:id)
          stamp = [clinic.id, clinic.today, newest_chart(clinic), offered]
          FINDERS.remember(stamp) do
            revisions = ChartRevision.in_force(offered, on: clinic.today).values
            charts = ChartRevision.charts(revisions)
            Sizing::Finder.new(
              revisions.map do |revision|
                [revision.product_id, charts.fetch(revision.id), revision.rule]
              end
            )
          end
        end

        # The clinic's own wearers for a chart: each limb (or trunk) with the newest readings of the
        # chart's sites, as Arrays of Measuring::Readings; of a very large clinic the MOST_WEARERS
        # measured last.
        def wearers(clinic, chart)
          sites = chart.sites.first(40)
          fittings = measured_last(clinic, sites)
          return [] if fittings.empty?

          rows = Store.db[WEARERS, clinic.id, sites, fittings].all
          limbs =
            rows
              .group_by { |row| row[:patient_id] }
              .values
              .flat_map do |own|
                sides = own.filter_map { |row| row[:side] }.uniq
                if sides.empty?
                  [own]
                else
                  sides.map { |side| own.select { |row| row[:side].nil? || row[:side] == side } }
                end
              end
          limbs.map { |own| newest(own).map { |row| Measuring::Reading.of(row) } }
        end

        # as many clinics as are at work at once
        FINDERS = Memory.new(8)
        private_constant :FINDERS

        private

        # Ids of the wearers measured last at these sites. The newest readings are looked at, four times as
        # many where they are of too few: never all that a large clinic has.
        def measured_last(clinic, sites)
          looked_at = MOST_WEARERS * READINGS_EACH
          loop do
            rows = Store.db[RECENT, clinic.id, sites, looked_at, MOST_WEARERS].all
            enough = rows.size == MOST_WEARERS || rows.empty? || rows.first[:read] < looked_at
            return rows.map { |row| row[:patient_id] } if enough

            looked_at *= 4
          end
        end

        def newest_chart(clinic) = ChartRevision.where(clinic_id: clinic.id).max(:id)

        # of each site only what was read at the last visit at which it was read
        def newest(rows)
          rows
            .group_by { |row| row[:site] }
            .values
            .flat_map { |all| all.select { |row| row[:visit_id] == all.last[:visit_id] } }
        end

        def serves?(family, record, body)
          family.species.include?(record.patient.species) &&
            Anatomy::Figure.fetch(family.figure).body == body
        end

        def fit(product, found, record)
          Fit[
            product: product,
            family: product.device_family,
            found: found,
            ordered: product.family == record.family.key
          ]
        end
      end
    end
  end
end
