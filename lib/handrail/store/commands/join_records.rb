# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Two records are of one person: the devices and earlier readings of one go over to the other, which is the
      # record from then on. The first stays, names the other, and is found no more. Letters that were written stay
      # with the record that they were written to. PartRecords takes it back.
      #
      #   JoinRecords.new("from" => 18, "into" => "HQ 0412", "why" => "written down twice, asked her")
      #
      # Refuses the same record, another species, the practice patient, and records that are joined already. An
      # identity that was confirmed under another name is confirmed anew.
      class JoinRecords < ClinicCommand
        include JoinsRecords

        role :senior
        input :from, :id
        input :into, :text, most: 40, missing: t(:write_number_record_stays)
        input :why,
              :text,
              least: 5,
              most: 300,
              missing: t(:say_how_you_know),
              short: t(:say_shortly_how_you_know)

        def perform(clinic, account)
          meant = Patient.numbered(clinic, into)&.id
          both = locked(clinic, [from, meant].compact)
          one = both[from] or unacceptable("from", t(:no_such_patient))
          other = both[meant] or unacceptable("into", t(:no_record, number: into.strip))
          refuse_unlike(one, other)
          moved = MOVED.to_h { |table| [table.to_s, rows_of(clinic, table, one, other)] }
          give(clinic, moved, other.id)
          one.update(joined_into_id: other.id)
          join(clinic, account, one, other, moved)
          renew(clinic, [one, other])
          [
            t(
              :record_joined_into,
              record_number: one.record_number,
              into: other.record_number,
              why: why
            ),
            { "patient" => other.id }
          ]
        end

        private

        def refuse_unlike(one, other)
          unacceptable("into", t(:very_record)) if one.id == other.id
          unless one.species == other.species
            unacceptable("into", t(:another_species, record_number: other.record_number))
          end
          gone = [one, other].find(&:joined_into_id) or return
          unacceptable("into", t(:record_joined_already, record_number: gone.record_number))
        end

        # what tells rows of a record apart: one that the other record has too stays where it is
        SAME = {
          earlier_readings: Earlier::KEY - %i[patient_id],
          brought_records: %i[sha256]
        }.freeze
        private_constant :SAME

        def rows_of(clinic, table, one, other)
          own = Store.db[table].where(clinic_id: clinic.id, patient_id: one.id)
          return appointments(own, other) if table == :first_appointments

          same = SAME[table] or return own.select_map(:id)
          there = Store.db[table].where(clinic_id: clinic.id, patient_id: other.id).select_map(same)
          own.select_map([:id, *same]).reject { |_, *key| there.include?(key) }.map(&:first)
        end

        # one of two that are open stays where it is: somebody has to say which holds
        def appointments(own, other)
          there =
            Store.db[:first_appointments].where(
              clinic_id: other.clinic_id,
              patient_id: other.id,
              ended_at: nil
            ).any?
          (there ? own.exclude(ended_at: nil) : own).select_map(:id)
        end

        def join(clinic, account, one, other, moved)
          Store.db[:record_joins].insert(
            clinic_id: clinic.id,
            by: account.id,
            at: Store.now,
            from_id: one.id,
            into_id: other.id,
            why: why,
            moved: Store.json(moved)
          )
        end
      end
    end
  end
end
