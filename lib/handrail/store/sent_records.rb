# frozen_string_literal: true

module Handrail
  module Store
    # A wearer's record on its way to another clinic of the group, with the consent that was written down. It is written
    # here first, then delivered; both sides know it by one key, so that it is delivered once however often it is tried.
    #
    #   SentRecords.deliver(patient, sent_id, zip)  # => true once it lies there
    #   SentRecords.coming(clinic)                  # => rows of what lies here, the newest first
    #
    # What comes is taken as any record from elsewhere is (Commands::BringBundle), or not taken; then the clinic that
    # sent it is told: what it keeps of it (taken_at, taken_as) is when, and the number there or NOT_TAKEN. Where it
    # could not be told then, it asks: SentRecords.ask_after.
    module SentRecords
      NOT_TAKEN = "not taken"

      class << self
        # Those of a wearer, the newest first.
        def of(clinic, patient_id) =
          Store.db[:sent_records]
            .where(clinic_id: clinic.id, patient_id: patient_id)
            .reverse(:id)
            .all

        # Lays the record down at the other clinic. bytes - the wearer's zip file. Returns whether it lies there; false
        # where that clinic can not be asked now.
        def deliver(patient, id, bytes)
          own = { clinic_id: patient.clinic_id, patient_id: patient.id, id: id }
          sent = Store.db[:sent_records].where(own).first or return false
          return true if sent[:delivered_at]

          clinic = Clinic[patient.clinic_id]
          there = Places.cluster_of(sent[:to_clinic_id])
          Clusters.within(there) { lay_down(clinic, patient, sent, bytes) }
          Store.db[:sent_records].where(id: id).update(delivered_at: Store.now)
          true
        rescue Sequel::DatabaseError, Sequel::PoolTimeout => e
          raise unless Standby.no_writer?(e) || Clusters.held?(e)

          false
        end

        # What lies here and was neither taken nor sent back, without its bytes.
        def coming(clinic)
          Store.db[:coming_records]
            .where(clinic_id: clinic.id, ended_at: nil)
            .reverse(:id)
            .select(:id, :at, :from_name, :from_record, :wearer, :consent)
            .all
        end

        # One of them with its bytes, or nil.
        def one(clinic, id) =
          Store.db[:coming_records].where(clinic_id: clinic.id, ended_at: nil, id: id).first

        # It is taken, or sent back: its bytes go, and the clinic that sent it is told. record - the number under which
        # the wearer is here, nil where it is sent back
        def end_here(clinic, id, by:, record: nil)
          coming = Store.db[:coming_records].where(clinic_id: clinic.id, ended_at: nil, id: id)
          row = coming.for_update.first or return
          coming.update(
            ended_at: Store.now,
            ended_by: by,
            ended_as: record ? "taken" : "refused",
            ended_record: record,
            bytes: nil
          )
          row
        end

        # Tells the clinic that sent it. It can be told again. record - as for end_here
        def tell(row, clinic, record: nil)
          Clusters.within(Places.cluster_of(row[:from_clinic_id])) do
            keep(row[:from_clinic_id], row[:key], record ? "#{record}, #{clinic.name}" : NOT_TAKEN)
          end
        rescue Sequel::DatabaseError, Sequel::PoolTimeout => e
          raise unless Standby.no_writer?(e) || Clusters.held?(e)
        end

        # Asks there what became of one that lies there. Returns false where it was never delivered, so that there is
        # nothing to ask.
        def ask_after(patient, id)
          own = { clinic_id: patient.clinic_id, patient_id: patient.id, id: id }
          sent = Store.db[:sent_records].where(own).first or return false
          return false unless sent[:delivered_at]
          return true if sent[:taken_at]

          ended =
            Clusters.within(Places.cluster_of(sent[:to_clinic_id])) do
              there = { clinic_id: sent[:to_clinic_id], key: sent[:key] }
              Store.db[:coming_records].where(there).exclude(ended_at: nil).first
            end
          keep(patient.clinic_id, sent[:key], became(sent, ended)) if ended
          true
        rescue Sequel::DatabaseError, Sequel::PoolTimeout => e
          raise unless Standby.no_writer?(e) || Clusters.held?(e)

          true
        end

        private

        def became(sent, ended)
          return NOT_TAKEN if ended[:ended_as] == "refused"

          [ended[:ended_record], sent[:to_name]].compact.join(", ")
        end

        def keep(clinic_id, key, as)
          sent = Store.db[:sent_records].where(clinic_id: clinic_id, key: key, taken_at: nil)
          sent.update(taken_at: Store.now, taken_as: as)
        end

        def lay_down(clinic, patient, sent, bytes)
          Store.db[:coming_records].insert_conflict(target: :key).insert(
            clinic_id: sent[:to_clinic_id],
            key: sent[:key],
            at: Store.now,
            from_clinic_id: clinic.id,
            from_name: clinic.name,
            from_record: patient.record_number,
            wearer: patient.name,
            consent: "#{sent[:consent_by]}, #{Quantity::Day.write(sent[:consent_on])}",
            bytes: Sequel.blob(bytes)
          )
        end
      end
    end
  end
end
