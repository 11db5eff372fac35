# frozen_string_literal: true

module Handrail
  module Store
    # A clinic's own outcomes, read for its report: what was chosen first and what is worn, what was
    # changed and what ended it, what is overdue. The practice patient counts nowhere.
    class Learned
      # A family's line. first_right - of `sized` that kept their first size; changes - of the fit
      Line = Value.new(:family, :fittings, :sized, :first_right, :changes, :rechecks, :overdue)

      def initialize(clinic)
        @clinic = clinic
        @today = clinic.today
      end

      # Lines by family, the most fittings first.
      def families
        sizes = outcomes.group_by { |row| row[:family] }
        counts.filter_map do |row|
          family = @clinic.device_families[row[:family]] or next
          own = sizes.fetch(row[:family], [])
          Line[
            family: family,
            fittings: row[:fittings],
            sized: own.sum { |one| one[:count] },
            first_right: own.sum { |one| one[:first] == one[:last] ? one[:count] : 0 },
            changes: row[:changes].to_i,
            rechecks: row[:rechecks].to_i,
            overdue: overdue.fetch(row[:family], 0)
          ]
        end
      end

      # First and last sizes of the fittings that were handed over, with how many there are of each:
      # rows with :family, :product_id, :charted (whether by a chart), :first, :last, :count, and with
      # :step, :said and :squares as in Learning::Reliability::Sum, nil where no probability was said.
      def outcomes
        @outcomes ||= Store.db[OUTCOMES, { clinic: @clinic.id }].all
      end

      # counted in one reading of the table: beside the sizes, what was said of them, by tenths
      OUTCOMES = <<~SQL
        SELECT family, product_id, charted, first, last, step, count(*) AS count, sum(said) AS said,
               sum((said - hit) * (said - hit)) AS squares
        FROM (SELECT family, product_id, revision_id IS NOT NULL AS charted, first, last, probability::float8 AS said,
                     CASE WHEN first = last THEN 1.0::float8 ELSE 0.0 END AS hit,
                     CASE WHEN probability IS NOT NULL
                          THEN least(floor(probability::float8 * 10), 9)::int END AS step
              FROM fitting_outcomes WHERE clinic_id = :clinic) found
        GROUP BY 1, 2, 3, 4, 5, 6
      SQL
      private_constant :OUTCOMES

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

      # Learning::Reliability of the probabilities that were said of sizes.
      def reliability
        sums =
          outcomes
            .select { |row| row[:step] }
            .group_by { |row| row[:step] }
            .sort
            .map do |step, rows|
              right = rows.select { |row| row[:first] == row[:last] }
              Handrail::Learning::Reliability::Sum[
                step: step,
                count: rows.sum { |row| row[:count] },
                right: right.sum { |row| row[:count] },
                said: rows.sum { |row| row[:said] },
                squares: rows.sum { |row| row[:squares] }
              ]
            end
        Handrail::Learning::Reliability.new(sums)
      end

      # Product => Learning::ChartTruth, of those with outcomes.
      def charts
        grouped = outcomes.select { |row| row[:charted] }.group_by { |row| row[:product_id] }
        products = Product.where(clinic_id: @clinic.id, id: grouped.keys).as_hash(:id)
        revisions = ChartRevision.in_force(grouped.keys, on: @today)
        charts = ChartRevision.charts(revisions.values)
        grouped
          .slice(*revisions.keys)
          .to_h do |id, rows|
            names = charts.fetch(revisions[id].id).names
            tallied = Hash.new(0)
            rows.each { |row| tallied[row.values_at(:first, :last)] += row[:count] }
            [products.fetch(id), Handrail::Learning::ChartTruth.new(names, tallied)]
          end
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

      private

      def own(table) = Store.db[table].where(clinic_id: @clinic.id)

      # what was done at the fittings of each family, the most fittings first
      def counts
        own(:fitting_counts)
          .group(:family)
          .select(:family)
          .select_append { count.function.*.as(:fittings) }
          .select_append { [sum(changes).as(:changes), sum(rechecks).as(:rechecks)] }
          .reverse(:fittings)
          .order_append(:family)
      end

      # family => rechecks that should have been
      def overdue
        @overdue ||=
          Store.db[:visits]
            .where(Sequel[:visits][:clinic_id] => @clinic.id, :purpose => "recheck")
            .where(opened_at: nil, closed_at: nil, called_off_at: nil, resting: false)
            .where(Sequel[:due_to] < @today)
            .join(:fitting_counts, fitting_id: :fitting_id)
            .group_and_count(:family)
            .to_h { |row| row.values_at(:family, :count) }
      end

      def truth(product_id, names)
        rows =
          own(:fitting_outcomes)
            .where(product_id: product_id)
            .reverse(:fitting_id)
            .limit(NEWEST)
            .select_map(%i[first last])
        Handrail::Learning::ChartTruth.new(names, rows.tally)
      end
    end
  end
end
