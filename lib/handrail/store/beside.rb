# frozen_string_literal: true

module Handrail
  module Store
    # What the pages of some fittings need beside what was written at their visits: their products as they are now,
    # who works here, how well each repeats a reading, what lies on the shelf, and what was read today for another
    # device of the wearer. It is read at once, when the first of it is asked for.
    #
    #   beside = Beside.new(clinic, [12])
    #   beside.people                      # => [{ id: 3, name: "Ruth Vasanth", reads: true }, ...]
    #   beside.repeatability(3, "wrist")   # => Measuring::Repeatability or nil
    #
    # It shows the clinic at one moment: who changes something of it asks a new one.
    class Beside
      # fitting_ids - of one clinic
      def initialize(clinic, fitting_ids)
        @clinic = clinic
        @ids = fitting_ids
      end

      # A product as Pin.current reads it: :family, :name, :options, :maker_name and :revision, the newest chart in
      # force.
      def product(id) = rows["product"].find { |row| row[:id] == id }

      # Everybody of the clinic by name; reads - whether they may take readings now.
      def people = rows["person"]

      # How well a fitter repeats a site, as a Measuring::Repeatability, or nil.
      def repeatability(account_id, site)
        row = rows["repeats"].find { |one| one[:by] == account_id && one[:site] == site }
        row && Projectors::ReadingPairs.repeatability(row)
      end

      # Pieces on the shelf of a product, counted by size and side; those that were ever there count as nothing.
      def shelf(product_id) = rows["shelf"].select { |row| row[:product_id] == product_id }

      # Readings that were taken today for other devices of a wearer and stand unquestioned, with :title of the
      # device: rows, the oldest first. Those of the fittings that were asked for are none of them.
      def readings(patient_id)
        rows["reading"]
          .select { |row| row[:patient_id] == patient_id }
          .map { |row| row.except(:patient_id) }
      end

      private

      def rows
        @rows ||=
          Gathered.read(
            :beside,
            clinic: @clinic.id,
            ids: @ids.join(","),
            today: @clinic.today,
            since: @clinic.midnight(@clinic.today)
          ) { SETS.transform_values { |sql| Store.db[sql, PLACES] } }
      end

      PLACES = {
        clinic: Sequel.cast(:$clinic, :bigint),
        own:
          Sequel.lit(
            "SELECT product_id FROM fittings WHERE clinic_id = ? AND id = ?",
            :$clinic,
            Store.among(:$ids)
          ),
        wearers:
          Sequel.lit(
            "SELECT patient_id FROM fittings WHERE clinic_id = ? AND id = ?",
            :$clinic,
            Store.among(:$ids)
          ),
        fittings: Store.among(:$ids),
        today: Sequel.cast(:$today, Date),
        since: Sequel.cast(:$since, :timestamptz)
      }.freeze

      SETS = {
        "product" => <<~SQL,
          SELECT p.id, p.family, p.name, p.options, m.name AS maker_name,
            (SELECT r.id FROM chart_revisions r WHERE r.product_id = p.id AND r.dated <= :today
             ORDER BY r.dated DESC, r.id DESC LIMIT 1) AS revision
          FROM products p JOIN makers m ON m.id = p.maker_id WHERE p.id IN (:own)
        SQL
        "person" => <<~SQL,
          SELECT id, name, status_id = 2 AND role IN ('fitter', 'senior') AS reads
          FROM accounts WHERE clinic_id = :clinic ORDER BY name
        SQL
        "repeats" => <<~SQL,
          SELECT "by", site, pairs, squares, means FROM repeatabilities WHERE clinic_id = :clinic AND pairs <> 0
        SQL
        "shelf" => <<~SQL,
          SELECT product_id, size, side,
            count(*) FILTER (WHERE state = 'shelf' AND (use_by IS NULL OR use_by >= :today)) AS count
          FROM stock_items WHERE clinic_id = :clinic AND product_id IN (:own) GROUP BY product_id, size, side
        SQL
        "reading" => <<~SQL
          SELECT f.patient_id, r.id, r.site, r.side, r.posture, r.tension, r.typed, r.unit, r.value_mm, r.at, r.by,
            s.title
          FROM fittings f JOIN visits v ON v.fitting_id = f.id JOIN readings r ON r.visit_id = v.id
          JOIN visit_summaries s ON s.visit_id = v.id
          WHERE f.clinic_id = :clinic AND f.patient_id IN (:wearers) AND NOT f.id = :fittings AND r.at >= :since
            AND r.struck_at IS NULL AND (r.question IS NULL OR r.answered_at IS NOT NULL)
            AND NOT EXISTS (SELECT 1 FROM readings c WHERE c.corrects_id = r.id)
          ORDER BY r.at, r.id
        SQL
      }.freeze
      private_constant :PLACES, :SETS
    end
  end
end
