# frozen_string_literal: true

module Handrail
  module Store
    # The one way to write at a visit. Every write locks the visit, looks whether someone else wrote on the same thing since
    # the page was made, raises the visit's version by one, and says in words what happened.
    #
    #   ledger.write("check:slip") { |owner, record| db[:check_results].insert(**owner, ...); "slipped 16 mm" }
    class Ledger
      attr_reader :clinic_id, :visit_id, :account

      # account - who writes; seen - the version that their page showed, or nil; page - the page's own key: what the same page
      # wrote is no surprise to it.
      def initialize(visit, account, seen: nil, page: nil)
        @clinic_id = visit.clinic_id
        @visit_id = visit.id
        @account = account
        @seen = seen
        @page = page
      end

      # topic - what is written on; watch - Regexps of topics that must not have changed meanwhile (default: the topic itself);
      # correction - true for what may still be written once the visit is closed; opens - false where the visit does not begin with it.
      # The block gets the owner columns of a new row (clinic, visit, who, version, when) and the VisitRecord as it stands under the
      # lock: what may be is decided on that, never on what was read before. It returns what to say of the entry; nil: nothing was
      # written after all. Raises Stale, Closed, or what the block raises; then nothing is kept.
      def write(topic, watch: nil, correction: false, opens: true)
        Store.as(account.id) do
          visit = Visit.where(clinic_id: clinic_id, id: visit_id).for_update.first or raise Handrail::Error, "There is no such visit."
          raise Closed if visit.closed? && !correction

          refuse_stale(visit, watch || [/\A#{Regexp.escape(topic)}\z/])
          owner = { clinic_id: clinic_id, visit_id: visit_id, by: account.id, version: visit.version + 1, at: Store.now }
          visit.update(version: owner[:version], **(opens ? opening(visit) : {}))
          said = yield owner, VisitRecord.load(Clinic[clinic_id], [visit]).first
          raise Sequel::Rollback unless said

          VisitEvent.create(**owner, topic: topic, said: said, page: @page)
        end
      end

      private

      def opening(visit) = visit.opened_at || visit.closed? ? {} : { opened_at: Store.now, opened_by: account.id }

      def refuse_stale(visit, watch)
        return if @seen.nil? || visit.version <= @seen

        seen = @seen
        since = VisitEvent.where(visit_id: visit_id).where { version > seen }.order(:version).all
        others = since.select { |event| (event.page.nil? || event.page != @page) && watch.any? { |topic| topic.match?(event.topic) } }
        raise Stale, others if others.any?
      end
    end
  end
end
