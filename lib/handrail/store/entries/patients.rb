# frozen_string_literal: true

module Handrail
  module Store
    module Entries
      # The people and animals that a clinic serves.
      module Patients
        FIELDS = %w[record_number species given_name family_name owner_name born_on phone note].freeze

        class << self
          # form - Hash of FIELDS. Returns the Patient. Raises Faults.
          def create(clinic, account, form)
            values = values(clinic, form)
            Store.as(account.id) { Patient.create(clinic_id: clinic.id, **values) }
          rescue Sequel::UniqueConstraintViolation
            raise Faults,
                  "record_number" => "Record number #{values[:record_number]} belongs to another patient. Look them up, or use another number."
          end

          # seen - the version that the form showed. Raises Faults, and Stale with what was changed meanwhile.
          def update(clinic, account, patient, form, seen:)
            values = values(clinic, form)
            Store.as(account.id) do
              fresh = Patient.where(clinic_id: clinic.id, id: patient.id).for_update.first
              raise Stale, changes_since(fresh, seen) if fresh.version != seen

              fresh.update(**values, version: fresh.version + 1)
            end
          rescue Sequel::UniqueConstraintViolation
            raise Faults, "record_number" => "Record number #{values[:record_number]} belongs to another patient."
          end

          private

          def values(clinic, form)
            values = FIELDS.to_h { |key| [key.to_sym, Entries.optional(form[key])] }
            values[:species] ||= "human"
            faults = faults(clinic, values)
            raise Faults, faults if faults.any?

            values.merge(born_on: Quantity::Day.read(values[:born_on]))
          end

          def faults(clinic, values)
            animal = values[:species] != "human"
            faults = {}
            faults["given_name"] = "Write the #{animal ? 'animal’s' : 'first'} name." unless values[:given_name]
            faults["family_name"] = "Write the family name." unless animal || values[:family_name]
            faults["owner_name"] = "Write the owner's name: the owner is the second identifier." if animal && !values[:owner_name]
            faults["record_number"] = "Write the record number: with the date of birth it identifies the patient." unless values[:record_number]
            faults["species"] = "Choose person or dog." unless %w[human dog].include?(values[:species])
            faults["born_on"] = born(values[:born_on], clinic.today)
            faults.compact
          end

          def born(text, today)
            "The date of birth must lie between 1900 and today." unless Quantity::Day.read(text).between?(Date.new(1900, 1, 1), today)
          rescue Quantity::Day::Unreadable => e
            e.message
          end

          def changes_since(patient, seen)
            AuditEntry.where(clinic_id: patient.clinic_id, table_name: "patients", row_id: patient.id).order(:id).all
                      .select { |entry| entry.after && entry.after["version"].to_i > seen }.map { |entry| PatientChange.of(entry) }
          end
        end

        # A change of a patient's record, in words.
        PatientChange = Struct.new(:said, :by, :at) do
          def self.of(entry)
            keys = FIELDS.reject { |key| entry.before && entry.before[key] == entry.after[key] }
            new(keys.map { |key| "#{key.tr('_', ' ')} is now #{entry.after[key] || 'empty'}" }.join(", "), entry.account_id, entry.at)
          end
        end
      end
    end
  end
end
