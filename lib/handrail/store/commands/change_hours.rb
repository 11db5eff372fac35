# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # The days and hours on which somebody works, for planning. Everyone changes their own, a senior
      # everybody's; what the other changed since the form was made is told, not overwritten.
      #
      #   ChangeHours.new("person" => "3", "seen" => ChangeHours.fingerprint(person), "hours" =>
      #   { "mon" => "09:00-13:00" })
      class ChangeHours < ClinicCommand
        include PersonOf

        role :anyone
        input :person, :id
        input :seen, :line, most: 40
        input :hours, :map

        # Changes whenever the person's hours have changed.
        def self.fingerprint(person) =
          Digest::SHA256.hexdigest(person.hours.to_h.sort.inspect)[0, 16]

        def perform(clinic, account)
          whom = person_of(clinic)
          unless account.senior? || account.id == person
            raise NotAllowed, t(:only_senior_changes_hours)
          end
          if seen && seen != self.class.fingerprint(whom)
            unacceptable("seen", t(:changed_while_your_page, now: said(whom.hours.to_h)))
          end

          typed =
            hours.slice(*Choices::DAYS).transform_values(&:strip).reject { |_, text| text.empty? }
          refuse!(typed.to_h { |day, text| ["hours[#{day}]", Choices.hours_fault(text)] })
          whom.update(hours: Store.json(typed))
          [t(:works, whom: whom.name, typed: said(typed)), {}]
        end

        private

        def said(typed)
          return t(:whenever_clinic_open) if typed.empty?

          typed.map { |day, text| "#{day} #{text}" }.join(", ")
        end
      end
    end
  end
end
