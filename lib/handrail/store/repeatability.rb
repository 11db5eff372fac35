# frozen_string_literal: true

module Handrail
  module Store
    # How well each fitter of a clinic repeats each site: the first two readings that one person
    # took of one site, side and posture at one visit. The pairs are kept by visit, their sums by
    # fitter and site.
    module Repeatability
      class << self
        # [account id, site] => Measuring::Repeatability
        def of(clinic)
          Store
            .prepared(:repeatabilities_of, clinic: clinic.id) do
              Store.db[:repeatabilities]
                .where(clinic_id: :$clinic)
                .where { pairs > 0 }
                .order(:by, :site)
            end
            .to_h do |row|
              [
                [row[:by], row[:site]],
                Measuring::Repeatability[
                  count: row[:pairs],
                  squares: row[:squares].to_f,
                  mean: row[:means].to_f / row[:pairs]
                ]
              ]
            end
        end

        # Brings the pairs of a visit up to date, and the sums by what changed. added - the version
        # whose entry added a reading and touched none that stood: what was kept until then follows
        # from the others, and need not be looked for.
        def keep(visit, added: nil)
          return if visit.patient.practice

          table = Store.db[:reading_pairs].where(clinic_id: visit.clinic.id, visit_id: visit.id)
          before = added ? pairs(visit, before: added) : kept(table)
          now = pairs(visit)
          return if before == now

          (before.keys | now.keys).each { |key| replace(visit, table, key, before[key], now[key]) }
        end

        # Makes the sums of a clinic anew from its pairs, in one statement.
        def sum(clinic)
          Store.db[:repeatabilities].where(clinic_id: clinic.id).delete
          Store.db.run(<<~SQL)
            INSERT INTO repeatabilities (clinic_id, by, site, pairs, squares, means)
            SELECT clinic_id, by, site, count(*), sum((first_mm - second_mm) ^ 2), sum((first_mm + second_mm) / 2)
            FROM reading_pairs WHERE clinic_id = #{clinic.id} GROUP BY clinic_id, by, site
          SQL
        end

        def clear(clinic)
          %i[reading_pairs repeatabilities].each do |table|
            Store.db[table].where(clinic_id: clinic.id).delete
          end
        end

        # Sums that are not those of the pairs: [[account id, site], kept, made].
        def differences(clinic)
          kept =
            Store.db[:repeatabilities]
              .where(clinic_id: clinic.id)
              .where { pairs > 0 }
              .select_hash(%i[by site], %i[pairs squares means])
          made =
            Store.db[:reading_pairs]
              .where(clinic_id: clinic.id)
              .all
              .group_by { |row| row.values_at(:by, :site) }
              .transform_values { |rows| sums(rows.map { |row| lengths(row) }) }
          (kept.keys | made.keys)
            .reject { |key| kept[key] == made[key] }
            .map { |key| [key, kept[key], made[key]] }
        end

        private

        KEYS = %i[by site side posture].freeze

        # [by, site, side, posture] => [first, second] in mm, as they stand in the table
        def kept(table)
          table.all.to_h { |row| [row.values_at(*KEYS), lengths(row)] }
        end

        def lengths(row) = row.values_at(:first_mm, :second_mm)

        # [by, site, side, posture] => [first, second] in mm. before - a version, up to which
        # readings count
        def pairs(visit, before: nil)
          corrections = visit.rows(:readings).select { |row| row[:corrects_id] }
          taken =
            (visit.usable_readings - corrections)
              .select { |row| before.nil? || row[:version] < before }
              .group_by { |row| [row[:by], row[:site], row[:side].to_s, row[:posture]] }
          taken
            .select { |_, rows| rows.size > 1 }
            .transform_values do |rows|
              rows.sort_by { |row| row[:id] }.first(2).map { |row| row[:value_mm].to_d }
            end
        end

        def replace(visit, table, key, before, now)
          return if before == now

          columns = KEYS.zip(key).to_h
          table.where(columns).delete if before
          owner = { clinic_id: visit.clinic.id, visit_id: visit.id }
          if now
            Store.insert(:reading_pairs, **owner, **columns, first_mm: now[0], second_mm: now[1])
          end
          count, squares, means =
            sums([now].compact).zip(sums([before].compact)).map { |a, b| a - b }
          add(visit.clinic, columns.slice(:by, :site), count, squares, means)
        end

        # [count, sum of squared differences, sum of means]
        def sums(pairs)
          [
            pairs.size,
            pairs.sum(0.to_d) { |a, b| (a - b)**2 },
            pairs.sum(0.to_d) { |a, b| (a + b) / 2 }
          ]
        end

        def add(clinic, whose, count, squares, means)
          unless count.positive?
            return(
              Store.db[:repeatabilities].where(whose).update(
                pairs: Sequel[:pairs] + count,
                squares: Sequel[:squares] + squares,
                means: Sequel[:means] + means
              )
            )
          end

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
      end
    end
  end
end
