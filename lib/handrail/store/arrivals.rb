# frozen_string_literal: true

module Handrail
  module Store
    # Patients that are brought in many at once, looked at before any of them is kept.
    #
    # rows - [[line, form], ...] with the fields of Commands::AddPatient.
    module Arrivals
      # faults - [[line, words], ...]; doubles - [[line, name, record number of the patient of the
      # same name and date of birth], ...]; count - rows in all
      Looked = Value.new(:faults, :doubles, :count) { def sound? = faults.empty? }

      class << self
        # Holds every row against the rules of a new patient, and against those who are here. Keeps
        # nothing.
        def look(clinic, account, rows)
          faults = []
          Store
            .db
            .transaction(rollback: :always, savepoint: true) do
              add(clinic, account, rows) { |fault| faults << fault }
            end
          Looked[faults: faults, doubles: doubles(clinic, rows), count: rows.size]
        end

        # Adds them one after another, in the transaction of the caller. Yields [line, words] of
        # each that can not be added. Returns the ids of those that were.
        def add(clinic, account, rows)
          rows.filter_map do |line, form|
            one(clinic, account, form)
          rescue Faults => e
            yield [line, e.fields.values.join(" ")]
            nil
          end
        end

        private

        def one(clinic, account, form)
          # that somebody of the name is there was shown, and looked at
          command = Commands::AddPatient.new(form.merge("another" => "yes"))
          Store
            .db
            .transaction(savepoint: true) { command.perform(clinic, account) }
            .last
            .fetch("patient")
        rescue Sequel::UniqueConstraintViolation => e
          raise command.doubled(e)
        end

        # the same name and date of birth under another number: perhaps the same person
        def doubles(clinic, rows)
          born = rows.filter_map { |_, form| day(form["born_on"]) }.uniq
          here =
            Patient
              .where(clinic_id: clinic.id, born_on: born)
              .all
              .group_by { |one| key(one.values) }
          rows.filter_map do |line, form|
            found =
              here[key(form.transform_keys(&:to_sym).merge(born_on: day(form["born_on"])))]&.first
            [line, found.name, found.record_number] if found
          end
        end

        def key(values)
          [values[:given_name], values[:family_name], values[:owner_name]].map do |text|
            text.to_s.strip.downcase
          end + [values[:born_on]]
        end

        def day(text)
          Quantity::Day.read(text.to_s)
        rescue Quantity::Day::Unreadable
          nil
        end
      end
    end
  end
end
