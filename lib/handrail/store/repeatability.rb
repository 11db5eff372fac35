# frozen_string_literal: true

module Handrail
  module Store
    # How well each fitter of a clinic repeats each site: the first two readings that one person took of one site at one visit.
    module Repeatability
      # [account id, site] => Measuring::Repeatability
      def self.of(clinic)
        Store.db[QUERY, clinic.id].all.to_h do |row|
          [[row[:by], row[:site]], Measuring::Repeatability[count: row[:pairs], squares: row[:squares].to_f, mean: row[:mean].to_f]]
        end
      end

      QUERY = <<~SQL
        WITH taken AS (
          SELECT visit_id, site, side, posture, by, value_mm,
                 row_number() OVER (PARTITION BY visit_id, site, side, posture, by ORDER BY id) AS turn
          FROM readings
          WHERE clinic_id = ? AND struck_at IS NULL AND corrects_id IS NULL AND (question IS NULL OR answered_at IS NOT NULL))
        SELECT a.by, a.site, count(*)::int AS pairs, sum((a.value_mm - b.value_mm) ^ 2) AS squares, avg((a.value_mm + b.value_mm) / 2) AS mean
        FROM taken a JOIN taken b ON b.visit_id = a.visit_id AND b.site = a.site AND b.side IS NOT DISTINCT FROM a.side
                                  AND b.posture = a.posture AND b.by = a.by AND b.turn = 2
        WHERE a.turn = 1 GROUP BY a.by, a.site ORDER BY a.by, a.site
      SQL
    end
  end
end
