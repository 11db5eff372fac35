# frozen_string_literal: true

module Handrail
  module Store
    # What wearers would be sent: texts and letters about their visits. A stand-in for a service that
    # sends them: they are kept as they would go out, and nothing leaves the house.
    class Outbox
      # the most on one page
      SHOWN = 30

      def initialize(clinic) = @clinic = clinic

      # Messages, the newest first: rows with the wearer's names and who caused them. One more than
      # SHOWN is read, so that a page knows whether there are more.
      def newest(from: 0) = Store.db[NEWEST, @clinic.id, SHOWN + 1, from].all

      NEWEST = <<~SQL
        SELECT m.id, m.kind, m.language, m.recipient, m.body, m.at, m.patient_id, m.visit_id,
               p.given_name, p.family_name, a.name AS by_name
        FROM messages m JOIN patients p ON p.id = m.patient_id JOIN accounts a ON a.id = m.by
        WHERE m.clinic_id = ? ORDER BY m.at DESC, m.id DESC LIMIT ? OFFSET ?
      SQL
      private_constant :NEWEST
    end
  end
end
