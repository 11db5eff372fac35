# frozen_string_literal: true

module Handrail
  module Store
    # Readings from before Handrail: read from rows, looked at, and shown beside what is read here.
    module Earlier
      # faults - [[line, words], ...]; count - rows in all; people - how many wearers they are of
      Looked = Value.new(:faults, :count, :people) { def sound? = faults.empty? }

      # the most rows that are brought in at once
      MOST = 5000
      # what tells two readings apart
      KEY = %i[patient_id read_on site side posture typed].freeze

      class << self
        # Holds every row against the wearers and the sites that are known. Keeps nothing.
        #
        # rows - [[line, form], ...]: record_number, date, site, side, posture, value, unit.
        def look(clinic, rows)
          found, faults = read(clinic, rows)
          Looked[
            faults: faults,
            count: rows.size,
            people: found.map { |row| row[:patient_id] }.uniq.size
          ]
        end

        # Returns [rows for the table, [[line, words], ...]]. again - what becomes of a row that is here
        # already, or was before it in the file: :fault, or :pass for passing it over (a site that was
        # read twice alike on one day tells nothing more)
        def read(clinic, rows, again: :fault)
          patients = patients(clinic, rows)
          seen = {}
          faults = []
          found =
            rows.filter_map do |line, form|
              made = one(form, patients, clinic.today)
              next (faults << [line, made]) && nil if made.is_a?(String)

              key = made.values_at(*KEY)
              if seen[key]
                faults << [line, "says the same as line #{seen[key]}."] if again == :fault
                next
              end

              seen[key] = line
              made
            end
          there = here(clinic, found)
          if again == :pass
            return found.reject { |row| there.include?(row.values_at(*KEY)) }, faults
          end

          [found, faults + (seen.keys & there).map { |key| [seen[key], "is here already."] }]
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

        # A record number as numbers are compared: "C 77" and "c  77" are one.
        def key(number) = number.to_s.strip.gsub(/\s+/, " ").upcase

        # A wearer's, by site and side, the newest first: [[Anatomy::Site, side, [row, ...]], ...].
        def of(clinic, patient)
          Store.db[:earlier_readings]
            .where(clinic_id: clinic.id, patient_id: patient.id)
            .order(:site, :side, Sequel.desc(:read_on), :id)
            .limit(500)
            .all
            .group_by { |row| row.values_at(:site, :side) }
            .filter_map do |(key, side), own|
              site = Anatomy::Vocabulary.default[key]
              [site, side, own] if site
            end
        end

        private

        def patients(clinic, rows)
          numbers = rows.map { |_, form| key(form["record_number"]) }.uniq
          Patient.where(clinic_id: clinic.id, record_key: numbers).as_hash(:record_key)
        end

        # a row for the table, or what is wrong with it
        def one(form, patients, today)
          patient = patients[key(form["record_number"])] or
            return(
              "There is no patient with the number “#{form["record_number"]}”. Bring the patients in first."
            )
          site = Anatomy::Vocabulary.default[form["site"].to_s] or
            return "There is no site “#{form["site"]}”. The handbook has their keys."
          side = side_of(form, site)
          return side[:fault] if side.is_a?(Hash)

          day = day_of(form, patient, today)
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

        def day_of(form, patient, today)
          day = Quantity::Day.read(form["date"].to_s)
          return "#{Quantity::Day.write(day)} has not come yet." if day > today
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

          unit = Quantity::Length.unit(form["unit"].to_s) or
            return "“#{form["unit"]}” is no unit. Write mm, cm or in."
          length = Quantity::Length.parse(form["value"].to_s, unit: unit)
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

          { posture: posture, typed: form["value"], unit: unit, value_mm: Store.numeric(length.mm) }
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
