# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Changes what the clinic says of itself: name, address, town, telephone, time zone, the tape
      # in use, what it fits, and what it has settled for itself (Choices). Fittings that run keep
      # what they were made on; what was read keeps the tape it was read from. A page that has not
      # seen another senior's change is told, and writes nothing.
      class ChangeSettings < ClinicCommand
        role :senior
        input :seen, :line, most: 16, missing: t(:load_page_again)
        input :name, :line, most: 120
        input :address, :line, most: 400
        input :place, :line, most: 80
        input :phone, :line, most: 60
        input :time_zone, :line, most: 60
        input :tape, :line, most: 20
        input :families, :keys
        input :choices, :map, most: 400, lists: true
        input :bedside_routine, :flag
        input :codes_required, :flag
        # what becomes of the booked visits where the zone is changed: they keep their time of day, or the
        # moment
        input :booked, :one_of, of: %w[clock moment], default: nil

        def perform(clinic, account)
          fresh = Clinic.where(id: clinic.id).for_update.first
          raise Stale, [] if ClinicValues.digest(fresh) != seen

          values = ClinicValues.read(given)
          chosen = Choices.read(choices)
          refuse!(
            {
              **strangers(clinic, chosen),
              **ClinicValues.faults(values),
              **Choices.faults(chosen),
              **unasked(fresh)
            }
          )
          before = all_of(fresh)
          zone = fresh.time_zone
          fresh.update(
            **ClinicValues.columns(values),
            choices: Store.json(chosen),
            bedside_routine: bedside_routine,
            codes_required: codes_required
          )
          keep_clock_times(fresh, account, zone) if zone != fresh.time_zone && booked == "clock"
          [
            t(:settings, before: changes(before, all_of(fresh)), kept_said: kept_said(zone, fresh))[
              0,
              4000
            ],
            {}
          ]
        end

        private

        # how many booked visits are named
        NAMED = 12
        private_constant :NAMED

        # visits that are booked and have not begun, the next first
        def coming(clinic)
          Visit
            .where(clinic_id: clinic.id, opened_at: nil, closed_at: nil, called_off_at: nil)
            .where { planned_for > Store.now }
            .order(:planned_for, :id)
            .all
        end

        # a zone that is changed under booked visits is asked about, with the visits named
        def unasked(clinic)
          return {} if booked || time_zone == clinic.time_zone
          return {} unless TZInfo::Timezone.all_identifiers.include?(time_zone)

          visits = coming(clinic)
          return {} if visits.empty?

          named = visits.first(NAMED).map { |visit| told(visit, clinic) }
          more = visits.size - named.size
          named << t(:more, more: more) if more.positive?
          {
            "booked" =>
              t(
                :booked_say_what_becomes,
                many: visits.size,
                one: visits.one? ? t(:visit_is) : t(:visits_are),
                named: named.join("; ")
              )
          }
        end

        def told(visit, clinic)
          patient = Patient.first(clinic_id: clinic.id, id: visit.fitting.patient_id)
          "#{patient.record_number}, #{clinic.local(visit.planned_for).strftime("%-d %b %Y, %H:%M")}"
        end

        # one after the other, so that none meets another on its way
        def keep_clock_times(clinic, account, zone)
          later = clinic.zone.period_for(Store.now).observed_utc_offset
          before = TZInfo::Timezone.get(zone).period_for(Store.now).observed_utc_offset
          visits = coming(clinic)
          visits.reverse! if later < before
          visits.each do |visit|
            Ledger.new(visit, account, entry_key: SecureRandom.uuid).run(
              KeepClockTime.new("was" => zone, "is" => clinic.time_zone)
            )
          end
        end

        def kept_said(zone, clinic)
          return "" if zone == clinic.time_zone || booked.nil?

          if booked == "clock"
            t(:booked_visits_keep_clock)
          else
            t(:booked_visits_keep_moment)
          end
        end

        # a word that nobody could give would hold a stage for ever
        def strangers(clinic, chosen)
          named = Choices::WORDS.to_h { |name| [name, Choices.names(chosen[name])] }
          return {} if named.values.all?(&:empty?)

          mine = { clinic_id: clinic.id, role: "senior", status_id: 2 }
          seniors = Account.where(mine).select_map(:email).map(&:downcase)
          named
            .transform_values { |emails| (emails - seniors).first }
            .compact
            .transform_values { |email| t(:no_senior_here_signs, email: email) }
        end

        def given
          {
            "name" => name,
            "address" => address,
            "place" => place,
            "phone" => phone,
            "time_zone" => time_zone,
            "tape" => tape,
            "families" => families.to_a
          }
        end

        def all_of(clinic)
          more = ClinicValues.more(clinic)
          ClinicValues.of(clinic).merge(more.delete("choices").to_h, more)
        end

        def changes(before, after)
          changed = (before.keys | after.keys).reject { |field| before[field] == after[field] }
          return t(:nothing_changed) if changed.empty?

          changed
            .map { |field| "#{field.tr("_", " ")} #{said(before[field])} to #{said(after[field])}" }
            .join("; ")
        end

        def said(value) = value.is_a?(Array) ? "[#{value.join(", ")}]" : "“#{value}”"
      end
    end
  end
end
