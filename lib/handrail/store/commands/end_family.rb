# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Ends a family that was brought in: in place of one that ships, that one holds again; of a key of its own,
      # nothing is ordered of it any more. What was ordered stays on its own text.
      #
      #   EndFamily.new("key" => "night_splint", "why" => "no longer made")
      class EndFamily < ClinicCommand
        role :senior
        input :key, :line, most: 80
        input :why,
              :text,
              least: 5,
              most: 300,
              missing: t(:say_why_ended),
              short: t(:say_shortly_why_ended)

        def perform(clinic, account)
          own = Clinic.where(id: clinic.id).for_update.first
          row = Store.db[:clinic_families].where(clinic_id: clinic.id, key: key, ended_at: nil)
          found = row.first or unacceptable("key", t(:no_such_own_family))
          row.update(ended_at: Store.now, ended_by: account.id, ended_why: why)
          own.update(own_families: Store.json(OwnFamilies.in_force(own)))
          [t(:device_ended, key: key, why: why), { "family" => found[:key] }]
        end
      end
    end
  end
end
