# frozen_string_literal: true

module Handrail
  module Store
    # The way to write what belongs to no visit: patients, orders, stock, catalogue. An entry that
    # comes twice is kept once, also when both come at the same time.
    #
    #   Desk.new(clinic, account, entry_key: key).run(Commands::AddPatient.new(params)) # => { "patient" => 17 }
    #
    # Raises Faults, Stale, Conflict or NotAllowed; then nothing is kept.
    class Desk
      attr_reader :clinic, :account

      def initialize(clinic, account, entry_key: nil, page: nil)
        @clinic = clinic
        @account = account
        @page = page
        @entry_key = Inputs.entry_key(entry_key)
      end

      # command - a ClinicCommand. Returns its result: a Hash of names to ids.
      def run(command)
        command.authorize!(account)
        known(command) || Store.again { Store.as(account.id) { write(command) } }
      rescue Sequel::UniqueConstraintViolation => e
        known(command) || raise(command.doubled(e) || e)
      rescue Sequel::ForeignKeyConstraintViolation
        # somebody took away meanwhile what it belongs to: a patient brought in with a file, say
        raise Faults,
              {
                "form" =>
                  "What this belongs to was taken away meanwhile. Look it up again; nothing was kept."
              }
      rescue Faults, Stale
        # what stands in its way may be the same entry, kept meanwhile
        known(command) || raise
      end

      private

      # the result of the same entry, where it was kept before
      def known(command)
        before =
          Store.db[:entries].where(
            clinic_id: clinic.id,
            visit_id: nil,
            entry_key: @entry_key
          ).first or return
        raise Conflict unless before[:digest] == command.digest

        before[:result].to_h
      end

      def write(command)
        said, result = command.perform(clinic, account)
        Store.db[:entries].insert(
          clinic_id: clinic.id,
          by: account.id,
          at: Store.now,
          command: command.class.key,
          topic: command.class.key,
          said: said,
          page: @page,
          entry_key: @entry_key,
          digest: command.digest,
          result: Store.json(result)
        )
        result
      end
    end
  end
end
