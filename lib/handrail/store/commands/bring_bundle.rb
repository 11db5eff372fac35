# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Brings in the patients and the readings of a bundle as one: all of them or none. Who is here
      # already under the same number and date of birth is not added again; a reading that is here is
      # passed over.
      #
      #   BringBundle.new("rows" => JSON.generate("patients" => [[1, { "record_number" => "C 77", ... }]],
      #                                           "readings" => [[2, { "record_number" => "C 77", ... }]]))
      #
      # record - a wearer's whole record from elsewhere with its files (Exchange::WearerIn), or nil: it is kept as it
      # came, to be read, with the wearer whose number it names.
      class BringBundle < ClinicCommand
        input :rows, :text, most: 3_000_000, missing: t(:choose_file_first)
        input :record, :line, most: 64
        # id of what came from another clinic of the group, which is taken by it
        input :coming, :id, default: nil

        NO_LIST = t(:no_bundle_looked_choose)

        def initialize(params = {}, record: nil)
          @whole = record
          super({ **params.to_h.transform_keys(&:to_s), "record" => record&.sha256 })
        end

        # the same record, brought in at the same moment from another page
        def doubled(_error)
          Unacceptable.new("rows", t(:brought_moment_ago_look))
        end

        def perform(clinic, account)
          patients, readings = listed
          faults = {}
          added = add_patients(clinic, account, patients, faults)
          found, wrong = Earlier.read(clinic, readings, again: :pass)
          wrong.each { |place, words| faults["entry #{place}"] ||= words }
          refuse!(faults)
          kept = @whole && keep_record(clinic, account)
          unacceptable("rows", t(:nothing_new)) if added.empty? && found.empty? && kept.nil?

          ids = Earlier.add(clinic, account, found)
          said = t(:patients_readings_bundle_brought, patients: added.size, readings: ids.size)
          said += t(:with_the_record_of, clinic: @whole.clinic) if kept
          taken = coming ? taken(clinic, account) : {}
          [said, { "patients" => added, "earlier" => ids, "record" => kept, **taken }.compact]
        end

        private

        def listed
          whole = JSON.parse(rows)
          unacceptable("rows", NO_LIST) unless whole.is_a?(Hash)
          %w[patients readings].map do |name|
            list = whole[name]
            Earlier.list?(list) ? list : unacceptable("rows", NO_LIST)
          end
        rescue JSON::ParserError
          unacceptable("rows", NO_LIST)
        end

        # what came is taken: whose it is here, and whom to tell
        def taken(clinic, account)
          unacceptable("rows", NO_LIST) unless @whole
          number = @whole.told["patient"]["record_number"]
          here = Patient.first(clinic_id: clinic.id, record_key: Earlier.key(number))
          row = SentRecords.end_here(clinic, coming, by: account.id, record: number) or
            unacceptable("coming", Wording.t("sent.gone"))
          told = { "from_clinic_id" => row[:from_clinic_id], "key" => row[:key] }
          { "of" => here.id, "number" => here.record_number, "coming" => told }
        end

        # the record as it came; nil where it is here already
        def keep_record(clinic, account)
          number = @whole.told["patient"]["record_number"]
          patient = Patient.first(clinic_id: clinic.id, record_key: Earlier.key(number)) or
            unacceptable("rows", t(:record_who_not_bundle, number: number))
          own = { clinic_id: clinic.id, patient_id: patient.id, sha256: @whole.sha256 }
          return if Store.db[:brought_records].where(own).where(ended_at: nil).any?

          keep_files(clinic)
          Store.db[:brought_records].insert(
            **own,
            by: account.id,
            at: Store.now,
            clinic: @whole.clinic,
            told: Store.json(@whole.told),
            files:
              Store.json(
                @whole.files.map do |file|
                  { name: file.name, type: file.type, sha256: file.sha256 }
                end
              )
          )
        end

        def keep_files(clinic)
          @whole.files.each do |file|
            Store.db[:files].insert_conflict.insert(
              clinic_id: clinic.id,
              sha256: file.sha256,
              content_type: file.type,
              bytes: Sequel.blob(file.bytes)
            )
          end
        end

        # ids of those that were added; who is somebody else under the same number is a fault
        def add_patients(clinic, account, forms, faults)
          fresh = forms.reject { |place, form| here?(clinic, place, form, faults) }
          Arrivals.add(clinic, account, fresh) { |place, words| faults["entry #{place}"] = words }
        end

        # the family name decides: given names are written in full or not
        def same_name?(here, form) =
          Earlier.key(here.family_name) == Earlier.key(form["family_name"])

        def here?(clinic, place, form, faults)
          number = form["record_number"].to_s
          here = Patient.first(clinic_id: clinic.id, record_key: Earlier.key(number)) or
            return false
          if here.born_on.iso8601 != form["born_on"]
            faults["entry #{place}"] = t(:somebody_else_here_born, number: number)
          elsif !same_name?(here, form)
            faults["entry #{place}"] = t(:here_born_same_day, number: number, here: here.name)
          end
          true
        end
      end
    end
  end
end
