# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What identifies a wearer, as typed, and what is wrong with it. Shared by adding and changing
      # patients.
      module PatientValues
        FIELDS = %w[
          record_number
          species
          given_name
          family_name
          owner_name
          born_on
          phone
          address
          payer
          referrer
          note
          language
        ].freeze

        def self.included(base)
          base.class_eval do
            role :anyone
            input :record_number, :line, most: 40
            input :species,
                  :one_of,
                  of: %w[human dog],
                  default: "human",
                  missing: Wording.t("commands.choose_person_dog")
            input :given_name, :line, most: 100
            input :family_name, :line, most: 100
            input :owner_name, :line, most: 200
            input :born_on, :line, most: 40
            input :phone, :line, most: 60
            input :address, :line, most: 300
            input :payer, :line, most: 200
            input :referrer, :line, most: 200
            input :note, :line, most: 1000
            # of the wearer's sheet; the clinic's own where none was said
            input :language, :one_of, of: Language::ALL.keys, default: nil
          end
        end

        private

        # the columns; raises Faults with every field that can not be taken
        def values(clinic)
          refuse!(faults(clinic))
          {
            record_number: record_number.squeeze(" "),
            species: species,
            given_name: given_name,
            family_name: family_name,
            owner_name: animal? ? owner_name : nil,
            born_on: Quantity::Day.read(born_on),
            phone: phone,
            address: address,
            payer: payer,
            referrer: referrer,
            note: note,
            language: language || clinic.choices_made.sheet_language
          }
        end

        def animal? = species != "human"

        def faults(clinic)
          {
            "given_name" =>
              (t(:write_name, animal: animal? ? "animal’s" : "first") unless given_name),
            "family_name" => (t(:write_family_name) unless animal? || family_name),
            "owner_name" => (t(:write_owners_name_owner) if animal? && !owner_name),
            "record_number" => (t(:write_record_number_date) unless record_number),
            "born_on" => born_fault(clinic.today)
          }
        end

        # faults, and whose the number is already, however it is spaced; except - the id of who is changed
        def faults_and_number(found, clinic, except: nil)
          return found if found.compact.any?

          there =
            Find.same(
              clinic,
              record_number: record_number,
              name: "",
              born_on: nil,
              except: except
            ).first or return found
          words =
            t(:record_number_of_another, record_number: record_number, first: who(there.first))
          found.merge("record_number" => words)
        end

        def who(one) =
          t(
            :born_record,
            one: one.name,
            born_on: Quantity::Day.write(one.born_on),
            record_number: one.record_number
          )

        def born_fault(today)
          return if Quantity::Day.read(born_on).between?(Date.new(1900, 1, 1), today)

          t(:date_birth_must_lie)
        rescue Quantity::Day::Unreadable => e
          e.message
        end

        public

        def doubled(_error)
          Faults.new("record_number" => t(:record_number_taken, record_number: record_number))
        end
      end
    end
  end
end
