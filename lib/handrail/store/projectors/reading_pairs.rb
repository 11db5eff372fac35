# frozen_string_literal: true

module Handrail
  module Store
    module Projectors
      # How well each fitter of a clinic repeats each site: the first two readings that one person
      # took of one site, side and posture at one visit. The pairs are kept by visit, their sums by
      # fitter and site.
      class ReadingPairs < Projector
        keeps :reading_pairs,
              keys: %i[visit_id by site side posture],
              values: %i[first_mm second_mm]
        reads :readings

        class << self
          # Of a row of sums, as a Measuring::Repeatability.
          def repeatability(row) =
            Measuring::Repeatability[
              count: row[:pairs],
              squares: row[:squares].to_f,
              mean: row[:means].to_f / row[:pairs]
            ]

          # [account id, site] => Measuring::Repeatability
          def of(clinic)
            Store.db[:repeatabilities]
              .where(clinic_id: clinic.id)
              .exclude(pairs: 0)
              .order(:by, :site)
              .to_h { |row| [row.values_at(:by, :site), repeatability(row)] }
          end

          def clear(clinic)
            super
            Store.db[:repeatabilities].where(clinic_id: clinic.id).delete
          end

          # Makes the sums of a clinic anew from its pairs, in one statement.
          def finish(clinic)
            Store.db[:repeatabilities].where(clinic_id: clinic.id).delete
            Store.db.run(<<~SQL)
              INSERT INTO repeatabilities (clinic_id, by, site, pairs, squares, means)
              SELECT clinic_id, by, site, count(*), sum((first_mm - second_mm) ^ 2), sum((first_mm + second_mm) / 2)
              FROM reading_pairs WHERE clinic_id = #{clinic.id} GROUP BY clinic_id, by, site
            SQL
          end

          # Sums that are not those of the pairs: [[account id, site], kept, made].
          def differences(clinic)
            kept =
              Store.db[:repeatabilities]
                .where(clinic_id: clinic.id)
                .exclude(pairs: 0)
                .select_hash(%i[by site], %i[pairs squares means])
            made =
              Store.db[:reading_pairs]
                .where(clinic_id: clinic.id)
                .all
                .group_by { |row| row.values_at(:by, :site) }
                .transform_values do |rows|
                  sums(rows.map { |row| row.values_at(:first_mm, :second_mm) })
                end
            (kept.keys | made.keys)
              .reject { |key| kept[key] == made[key] }
              .map { |key| [key, kept[key], made[key]] }
          end

          # [count, sum of squared differences, sum of means]
          def sums(pairs)
            [
              pairs.size,
              pairs.sum(0.to_d) { |a, b| (a - b)**2 },
              pairs.sum(0.to_d) { |a, b| (a + b) / 2 }
            ]
          end
        end

        def rows = visits.flat_map { |visit| of_visit(visit) }

        private

        WHOSE = %i[by site side posture].freeze
        private_constant :WHOSE

        def of_visit(visit)
          corrections = visit.rows(:readings).select { |row| row[:corrects_id] }
          taken =
            (visit.usable_readings - corrections).group_by do |row|
              [row[:by], row[:site], row[:side].to_s, row[:posture]]
            end
          taken
            .select { |_, rows| rows.size > 1 }
            .map do |key, rows|
              first, second =
                rows.sort_by { |row| row[:id] }.first(2).map { |row| row[:value_mm].to_d }
              { visit_id: visit.id, **WHOSE.zip(key).to_h, first_mm: first, second_mm: second }
            end
        end

        def changed(was, is)
          count, squares, means =
            [is, was].map { |row| self.class.sums([row&.values_at(:first_mm, :second_mm)].compact) }
              .then { |now, before| now.zip(before).map { |a, b| a - b } }
          add_up((is || was).slice(:by, :site), count, squares, means)
          newest.source.forget_beside
        end

        def add_up(whose, count, squares, means)
          return take_away(whose, count, squares, means) unless count.positive?

          sums = { pairs: count, squares: squares, means: means }
          Store.replace(
            :repeatabilities,
            %i[by site],
            clinic_id: clinic.id,
            **whose,
            **sums
          ) do |name|
            if sums.key?(name)
              Sequel[:repeatabilities][name] + Sequel[:excluded][name]
            else
              Sequel[:excluded][name]
            end
          end
        end

        # what stands there is at least what is taken away, or only becomes another value
        def take_away(whose, count, squares, means)
          added = { pairs: count, squares: squares, means: means }
          Store.db[:repeatabilities].where(whose).update(
            added.to_h { |name, by| [name, Sequel[name] + by] }
          )
        end
      end
    end
  end
end
