# frozen_string_literal: true

module Handrail
  module Store
    # Patients that are brought in many at once, looked at before any of them is kept.
    #
    # rows - [[line, form], ...] with the fields of Commands::AddPatient.
    module Arrivals
      # faults - [[line, words], ...]; doubles - [[line, name, record number of the patient of the
      # same name and date of birth], ...]; count - rows in all; shown - the rows as they will be kept, in words:
      # [[line, { column => text }], ...]
      Looked = Value.new(:faults, :doubles, :count, :shown) { def sound? = faults.empty? }

      class << self
        # Holds every row against the rules of a new patient, and against those who are here. Keeps
        # nothing.
        def look(clinic, account, rows)
          faults = []
          shown = []
          Store
            .db
            .transaction(rollback: :always, savepoint: true) do
              ids = add(clinic, account, rows) { |fault| faults << fault }
              shown = rows.map(&:first).zip(told(clinic, ids)) if faults.empty?
            end
          Looked[faults: faults, doubles: doubles(clinic, rows), count: rows.size, shown: shown]
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

        # patients as they were added, in words
        def told(clinic, ids)
          added = Patient.where(clinic_id: clinic.id, id: ids).as_hash(:id)
          added
            .values_at(*ids)
            .map do |one|
              {
                "record_number" => one.record_number,
                "species" => one.species,
                "name" => one.name,
                "owner" => one.owner_name,
                "born" => Quantity::Day.write(one.born_on),
                "phone" => one.phone,
                "note" => one.note
              }.compact
            end
        end

        # a number that a spreadsheet has shortened
        SHORTENED = /\A\d+(?:[.,]\d+)?E[+-]?\d+\z/i
        private_constant :SHORTENED

        # what a file may say and a form can not
        def odd(form)
          {
            "record_number" =>
              (
                if form["record_number"].to_s.match?(SHORTENED)
                  Wording.t("arrivals.shortened", number: form["record_number"])
                end
              ),
            "owner_name" =>
              (
                if form["owner_name"] && form.fetch("species", "human") == "human"
                  Wording.t("arrivals.owner")
                end
              )
          }.compact
        end

        def one(clinic, account, form)
          raise Faults, odd(form) if odd(form).any?

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
          above = {}
          rows.filter_map do |line, form|
            own = key(form.transform_keys(&:to_sym).merge(born_on: day(form["born_on"])))
            found = here[own]&.first
            next line, found.name, found.record_number if found

            twin = above[own]
            above[own] ||= [line, form]
            next if twin.nil? || own.last.nil?

            name = form.values_at("given_name", "family_name").compact.join(" ")
            [
              line,
              name,
              Wording.t("arrivals.above", line: twin.first, number: twin.last["record_number"])
            ]
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
