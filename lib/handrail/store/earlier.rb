# frozen_string_literal: true

module Handrail
  module Store
    # Readings from before Handrail: read from rows, looked at, and shown beside what is read here.
    module Earlier
      # faults - [[line, words], ...]; count - rows in all; people - how many wearers they are of; shown - the rows as
      # they will be kept, in words: [[line, { column => text }], ...]; left - rows that do not count
      Looked = Value.new(:faults, :count, :people, :shown, :left) { def sound? = faults.empty? }

      # the most rows that are brought in at once
      MOST = 5000
      # how a tape is pulled
      TENSIONS = %w[resting snug firm hard].freeze
      # what tells two readings apart
      KEY = %i[patient_id read_on site side posture tension typed].freeze

      class << self
        # Holds every row against the wearers and the sites that are known. Keeps nothing.
        #
        # rows - [[line, form], ...]: record_number, date, site, side, posture, tension, value, unit; those that say of
        # themselves that they do not count ("counts" is "no") are left out.
        def look(clinic, rows)
          found, faults = lined(clinic, rows, :fault)
          Looked[
            faults: faults,
            count: found.size,
            people: found.map { |_, row| row[:patient_id] }.uniq.size,
            shown: (faults.empty? ? shown(clinic, found) : []),
            left: rows.size - found.size - faults.size
          ]
        end

        # Returns [rows for the table, [[line, words], ...]]. again - what becomes of a row that is here
        # already, or was before it in the file: :fault, or :pass for passing it over (a site that was
        # read twice alike on one day tells nothing more)
        def read(clinic, rows, again: :fault)
          found, faults = lined(clinic, rows, again)
          [found.map(&:last), faults]
        end

        # Keeps rows for the table. Returns their ids.
        def add(clinic, account, rows)
          owner = { clinic_id: clinic.id, by: account.id, at: Store.now }
          Array(
            Store.db[:earlier_readings].multi_insert(
              rows.map { |row| { **owner, **row } },
              return: :primary_key
            )
          )
        end

        # Whether something is a list of rows: [[line, { column => text }], ...], not too many.
        def list?(list)
          list.is_a?(Array) && list.size <= MOST &&
            list.all? { |row| row.is_a?(Array) && row[1].is_a?(Hash) && row[1].values.all?(String) }
        end

        # Those that count.
        def counting(rows) = rows.reject { |_, form| form["counts"].to_s.downcase == "no" }

        # A record number as numbers are compared: "C 77" and "c  77" are one.
        def key(number) = number.to_s.strip.gsub(/\s+/, " ").upcase

        # All of a wearer's as rows, the oldest first.
        def rows(clinic, patient)
          own = Store.db[:earlier_readings].where(clinic_id: clinic.id, patient_id: patient.id)
          own.order(:read_on, :id).all
        end

        # Rows by site and side in their order: [[Anatomy::Site, side, [row, ...]], ...].
        def by_site(rows)
          rows
            .group_by { |row| row.values_at(:site, :side) }
            .filter_map do |(key, side), own|
              site = Anatomy::Vocabulary.default[key]
              [site, side, own] if site
            end
        end

        private

        # the same, each row with its line
        def lined(clinic, rows, again)
          rows = counting(rows)
          patients = patients(clinic, rows)
          seen = {}
          faults = []
          found =
            rows.filter_map do |line, form|
              made = one(form, patients)
              next (faults << [line, made]) && nil if made.is_a?(String)

              key = made.values_at(*KEY)
              if seen[key]
                # a reading that was repeated alike tells nothing more, where the file says that it counts
                told = again == :fault && !form.key?("counts")
                faults << [line, "says the same as line #{seen[key]}."] if told
                next
              end

              seen[key] = line
              [line, made]
            end
          there = here(clinic, found.map(&:last))
          if again == :pass
            return found.reject { |_, row| there.include?(row.values_at(*KEY)) }, faults
          end

          [found, faults + (seen.keys & there).map { |key| [seen[key], "is here already."] }]
        end

        # found - [[line, row], ...]
        def shown(clinic, found)
          ids = found.map { |_, row| row[:patient_id] }.uniq
          names = Patient.where(clinic_id: clinic.id, id: ids).as_hash(:id)
          found.map { |line, row| [line, told(row, names.fetch(row[:patient_id]))] }
        end

        def told(row, patient)
          {
            "patient" => "#{patient.record_number}, #{patient.name}",
            "day" => Quantity::Day.write(row[:read_on]),
            "site" => Anatomy::Vocabulary.default[row[:site]].name,
            "side" => row[:side],
            "posture" => row[:posture],
            "tension" => row[:tension],
            "reading" => in_mm(row)
          }.compact
        end

        def in_mm(row)
          typed = "#{row[:typed]} #{row[:unit]}"
          if row[:unit] == "mm"
            typed
          else
            "#{typed} = #{Quantity::Length.mm(row[:value_mm].to_r).exact("mm")} mm"
          end
        end

        def patients(clinic, rows)
          numbers = rows.map { |_, form| key(form["record_number"]) }.uniq
          Patient.where(clinic_id: clinic.id, record_key: numbers).as_hash(:record_key)
        end

        # a row for the table, or what is wrong with it
        def one(form, patients)
          patient = patients[key(form["record_number"])] or
            return(
              "There is no patient with the number “#{form["record_number"]}”. Bring the patients in first."
            )
          site = Anatomy::Vocabulary.default[form["site"].to_s] or
            return "There is no site “#{form["site"]}”. The handbook has their keys."
          side = side_of(form, site)
          return side[:fault] if side.is_a?(Hash)

          day = day_of(form, patient)
          return day if day.is_a?(String)

          measured(form, site, patient).then do |made|
            return made if made.is_a?(String)

            { patient_id: patient.id, read_on: day, site: site.key, side: side, **made }
          end
        end

        def side_of(form, site)
          side = form["side"].to_s.downcase
          if site.paired && !%w[left right].include?(side)
            return { fault: "#{site.name} has a left and a right: say which." }
          end
          return { fault: "#{site.name} has no side." } if !site.paired && !side.empty?

          side.empty? ? nil : side
        end

        # written elsewhere, perhaps on a clock ahead of ours
        def day_of(form, patient)
          day = Quantity::Day.read(form["date"].to_s)
          if day > Quantity::Day.newest(Store.now)
            return "#{Quantity::Day.write(day)} has not come yet."
          end
          return "#{Quantity::Day.write(day)} is before they were born." if day < patient.born_on

          day
        rescue Quantity::Day::Unreadable => e
          e.message
        end

        def measured(form, site, patient)
          posture = form["posture"]&.downcase
          if posture && !site.postures.include?(posture)
            return "#{site.name} is read #{site.postures.join(" or ")}, not “#{posture}”."
          end

          tension = form["tension"]&.downcase
          if tension && !TENSIONS.include?(tension)
            return(
              "“#{form["tension"]}” is no pull of the tape. Write #{TENSIONS.join(", ")}, or leave it empty."
            )
          end

          unit = Quantity::Length.unit(form["unit"].to_s) or
            return "“#{form["unit"]}” is no unit. Write mm, cm or in."
          length = Quantity::Length.of_cell(form["value"].to_s, unit: unit)
          unlikely =
            Measuring::Plausibility.judge(
              site,
              length,
              typed_unit: unit,
              species: patient.species
            ).finding
          if unlikely
            return(
              "#{unlikely["read"]} is no reading #{site.where}: it lies between " \
                "#{unlikely["from"]} and #{unlikely["to"]} #{unit}."
            )
          end

          {
            posture: posture,
            tension: tension,
            typed: form["value"],
            unit: unit,
            value_mm: Store.numeric(length.mm)
          }
        rescue Quantity::Length::Unreadable => e
          e.message
        end

        # the keys of rows that were brought in before
        def here(clinic, found)
          Store.db[:earlier_readings].where(
            clinic_id: clinic.id,
            patient_id: found.map { |row| row[:patient_id] }.uniq
          ).select_map(KEY)
        end
      end
    end
  end
end
