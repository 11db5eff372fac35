# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # The days and hours on which somebody works, for planning. Everyone changes their own, a senior
      # everybody's.
      #
      #   ChangeHours.new("person" => "3", "hours" => { "mon" => "09:00-13:00" })
      class ChangeHours < ClinicCommand
        include PersonOf

        role :anyone
        input :person, :id
        input :hours, :map

        def perform(clinic, account)
          whom = person_of(clinic)
          unless account.senior? || account.id == person
            raise NotAllowed, t(:only_senior_changes_hours)
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
