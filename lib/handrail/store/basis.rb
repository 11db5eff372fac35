# frozen_string_literal: true

require "json"

module Handrail
  module Store
    # What evidence rests on, as it is kept and as a page sends it, see Handrail::Fitting::Basis.
    module Basis
      # fact => topics of the entries that change it
      CHANGED_BY = {
        pin: /\A(?:pin|order)\z/,
        size: /\Asize/,
        piece: /\Adevice:/,
        settings: /\Asettings/,
        allowed: /\A(?:stage|pin|order)/,
        readings: /\A(?:reading|limb)/,
        slips: /\Aslip-row:/,
        fitted: /\A(?:step|change|size|device|slip-row):/
      }.freeze
      LONGEST = 4000
      private_constant :CHANGED_BY, :LONGEST

      class << self
        # The column of a new row of evidence; none for what is no evidence. A row that says for
        # itself what it rests on keeps that.
        def column(table, visit, row)
          return {} unless Handrail::Fitting::Basis::RESTS_ON.key?(table) && !row.key?(:rests_on)

          about = { side: row[:side], place: row[:place], subject: row[:check_key] }
          { rests_on: Store.json(Handrail::Fitting::Basis.of(table, visit, **about)) }
        end

        # What a page sent, as Strings to values; nil where it sent nothing that can be read.
        def read(text)
          return unless text.is_a?(String) && text.size <= LONGEST

          found = JSON.parse(text)
          found if found.is_a?(Hash)
        rescue JSON::ParserError
          nil
        end

        # What a page sends along with evidence.
        def shown(kind, visit, **about) =
          JSON.generate(Handrail::Fitting::Basis.shown(kind, visit, **about))

        # What changed a fact, for the page that has not seen it, as a Ledger::Told.
        def told(fact, visit)
          return wearer_changed(visit) if fact == :wearer

          entry =
            visit.fitting_events.reverse.find { |one| one[:topic].match?(CHANGED_BY.fetch(fact)) }
          return Ledger::Told.of(entry) if entry

          Ledger::Told[said: Wording.t("causes.#{fact}"), by: nil, at: Store.now]
        end

        private

        def wearer_changed(visit)
          now = [visit.patient.name, Quantity::Day.write(visit.patient.born_on)].join(", ")
          last =
            AuditEntry
              .where(clinic_id: visit.clinic.id, table_name: "patients", row_id: visit.patient.id)
              .reverse(:id)
              .first
          Ledger::Told[
            said: Wording.t("told.wearer", wearer: now),
            by: last&.account_id,
            at: last&.at || Store.now
          ]
        end
      end
    end
  end
end
