# frozen_string_literal: true

module Handrail
  module Store
    # A clinic's own outcomes, read for its report: what was chosen first and what is worn, what was
    # changed and what ended it, what is overdue. The practice patient counts nowhere.
    class Learned
      # A family's line. first_right - of `sized` that kept their first size; changes - of the fit
      Line = Value.new(:family, :fittings, :sized, :first_right, :changes, :rechecks, :overdue)

      def initialize(clinic, since: nil)
        @clinic = clinic
        @since = since || Time.at(0)
        @today = clinic.today
      end

      # Lines by family, the most fittings first.
      def families
        found = Store.db[FAMILIES, clinic: @clinic.id, since: @since, today: @today].all
        found
          .map do |row|
            sized = outcomes.select { |one| one[:family] == row[:family] }
            Line[
              family: Families::Registry.all[row[:family]],
              fittings: row[:fittings],
              sized: sized.size,
              first_right: sized.count { |one| one[:first] == one[:last] },
              changes: row[:changes].to_i,
              rechecks: row[:rechecks].to_i,
              overdue: row[:overdue].to_i
            ]
          end
          .select(&:family)
      end

      FAMILIES = <<~SQL
        SELECT o.family, count(DISTINCT f.id) AS fittings,
               (SELECT count(*) FROM changes c JOIN visits v ON v.id = c.visit_id JOIN fittings g ON g.id = v.fitting_id
                JOIN prescriptions q ON q.id = g.prescription_id
                WHERE c.clinic_id = :clinic AND q.family = o.family AND g.at >= :since AND NOT v.practice) AS changes,
               count(v.id) FILTER (WHERE v.purpose = 'recheck' AND v.closed_at IS NOT NULL) AS rechecks,
               count(v.id) FILTER (WHERE v.purpose = 'recheck' AND v.opened_at IS NULL AND v.called_off_at IS NULL
                                   AND v.due_to < :today) AS overdue
        FROM fittings f JOIN prescriptions o ON o.id = f.prescription_id JOIN visits v ON v.fitting_id = f.id
        WHERE f.clinic_id = :clinic AND f.at >= :since AND NOT v.practice
        GROUP BY o.family ORDER BY fittings DESC, o.family
      SQL

      # First and last size of every fitting that was handed over: rows with :family, :product_id,
      # :revision_id, :first, :last, :probability (said of the first one, or nil).
      def outcomes
        @outcomes ||= Store.db[OUTCOMES, clinic: @clinic.id, since: @since].all
      end

      OUTCOMES = <<~SQL
        SELECT o.family, f.product_id, c.fitting_id, c.side,
               (array_agg(c.chosen ORDER BY c.id))[1] AS first, (array_agg(c.chosen ORDER BY c.id DESC))[1] AS last,
               (array_agg(c.probability ORDER BY c.id))[1] AS probability,
               (array_agg(c.chart_revision_id ORDER BY c.id))[1] AS revision_id
        FROM (SELECT s.*, v.fitting_id FROM size_choices s JOIN visits v ON v.id = s.visit_id
              WHERE s.clinic_id = :clinic AND NOT v.practice) c
        JOIN fittings f ON f.id = c.fitting_id JOIN prescriptions o ON o.id = f.prescription_id
        WHERE f.at >= :since AND EXISTS (SELECT 1 FROM hand_overs h WHERE h.fitting_id = f.id)
        GROUP BY o.family, f.product_id, c.fitting_id, c.side
      SQL

      # the most fittings of a product that are looked at for its verdict, the newest
      NEWEST = 400

      # What became of a product's sizes here, as Learning::ChartTruth; names - of the sizes of the
      # chart, from the smallest up.
      def truth_of(product_id, names)
        newest =
          Store.prepared(:newest_outcome, clinic: @clinic.id) do
            Store.db[NEW, { clinic: :$clinic }]
          end
        TRUTHS.remember([@clinic.id, product_id, names, newest.first]) { truth(product_id, names) }
      end

      # nothing of a product's outcomes has changed while these stand
      NEW = <<~SQL
        SELECT (SELECT max(id) FROM hand_overs WHERE clinic_id = :clinic) AS handed,
               (SELECT max(id) FROM size_choices WHERE clinic_id = :clinic) AS chosen
      SQL
      TRUTHS = Memory.new(300)
      private_constant :NEW, :TRUTHS

      def truth(product_id, names)
        rows =
          Store.prepared(:outcomes_of_product, clinic: @clinic.id, product: product_id) do
            Store.db[OF_PRODUCT, { clinic: :$clinic, product: :$product, most: NEWEST }]
          end
        Handrail::Learning::ChartTruth.new(names, rows.map { |row| row.values_at(:first, :last) })
      end

      OF_PRODUCT = <<~SQL
        SELECT (array_agg(s.chosen ORDER BY s.id))[1] AS first, (array_agg(s.chosen ORDER BY s.id DESC))[1] AS last
        FROM (SELECT f.id FROM fittings f
              JOIN LATERAL (SELECT 1 FROM visits v JOIN hand_overs h ON h.visit_id = v.id
                            WHERE v.clinic_id = :clinic AND v.fitting_id = f.id AND NOT v.practice
                            LIMIT 1) handed ON true
              WHERE f.clinic_id = :clinic AND f.product_id = :product
              ORDER BY f.id DESC LIMIT :most) n
        JOIN LATERAL (SELECT c.id, c.side, c.chosen FROM visits v JOIN size_choices c ON c.visit_id = v.id
                      WHERE v.clinic_id = :clinic AND v.fitting_id = n.id OFFSET 0) s ON true
        GROUP BY n.id, s.side
      SQL

      # Learning::Reliability of the probabilities that were said of sizes.
      def reliability
        points =
          outcomes
            .select { |row| row[:probability] }
            .map { |row| [row[:probability], row[:first] == row[:last]] }
        Handrail::Learning::Reliability.new(points)
      end

      # Product => Learning::ChartTruth, of those with outcomes.
      def charts
        grouped = outcomes.select { |row| row[:revision_id] }.group_by { |row| row[:product_id] }
        products = Product.where(clinic_id: @clinic.id, id: grouped.keys).as_hash(:id)
        grouped
          .filter_map do |id, rows|
            revision = products.fetch(id).revision(@today) or next
            pairs = rows.map { |row| row.values_at(:first, :last) }
            [products.fetch(id), Handrail::Learning::ChartTruth.new(revision.chart.names, pairs)]
          end
          .to_h
      end

      # The problems met most often, with what ended them: [[family, problem, tries, [[remedy, ended,
      # tries], ...]], ...].
      def problems(most: 12)
        rows =
          Store.db[:remedy_tries].where(clinic_id: @clinic.id).group(:family, :problem, :remedy)
        found =
          rows.select { [family, problem, remedy, sum(ended).as(ended), sum(tries).as(tries)] }.all
        found
          .group_by { |row| row.values_at(:family, :problem) }
          .map do |(family, problem), own|
            ended =
              own
                .sort_by { |row| -row[:ended].to_i }
                .map { |row| [row[:remedy], row[:ended].to_i, row[:tries].to_i] }
            [family, problem, own.sum { |row| row[:tries].to_i }, ended]
          end
          .sort_by { |line| -line[2] }
          .first(most)
      end
    end
  end
end
