# frozen_string_literal: true

module Handrail
  module Store
    # The one way to write at a visit. It locks the visit, keeps an entry that comes twice once,
    # looks whether someone else wrote on the same thing since the page was made, lets the command
    # decide on the visit as it stands, and writes entry, rows and summaries in one transaction.
    #
    #   taken = Ledger.new(visit, account, seen: 12, page: "0f...", entry_key: key).run(command)
    #   taken.visit  # the visit as it stands now; nothing is loaded again
    #   taken.entry  # the entry's row
    #
    # Raises Stale, Refused, Closed, Conflict, NotAllowed or Faults, each with the visit as it
    # stands; then nothing is kept.
    class Ledger
      # visit - a Handrail::Visit; entry - the row of the entry; again - true where it had been kept
      # before, or where there was nothing to write.
      Taken = Value.new(:visit, :entry, :again) { def result = entry ? entry[:result].to_h : {} }

      attr_reader :account

      # visit - a visit's row, a Handrail::Visit or its id; account - who writes; seen - the version that
      # their page showed, or nil; page - the page's own key: what the same page wrote is no
      # surprise to it; entry_key - of this entry.
      def initialize(visit, account, seen: nil, page: nil, entry_key: nil)
        @visit_id = visit.is_a?(Integer) ? visit : visit.id
        @account = account
        @seen = Inputs.whole(seen, 0..2_000_000_000)
        @page = page
        @entry_key = Inputs.entry_key(entry_key)
      end

      # command - a VisitCommand. Returns a Taken.
      def run(command)
        command.authorize!(account)
        Store.db.transaction { taken(command, locked) }
      rescue Sequel::UniqueConstraintViolation, Sequel::Postgres::ExclusionConstraintViolation => e
        raise unless command.respond_to?(:doubled)

        raise command.doubled(e)
      end

      private

      # the visit under its lock, loaded; who writes is told with it, as Store.as would
      def locked
        who = { clinic: account.clinic_id, visit: @visit_id, account: account.id.to_s }
        row =
          Store
            .prepared(:visit_locked, **who) do
              Visit
                .where(clinic_id: :$clinic, id: :$visit)
                .select_all(:visits)
                .select_append(Store.writer(:$account).as(:writer))
                .for_update
            end
            .first or raise Unacceptable.new("visit", "There is no such visit.")
        row.values.delete(:writer)
        Visits.load(account.clinic, [row]).first
      end

      def taken(command, visit)
        if (before = visit.events.find { |entry| entry[:entry_key] == @entry_key })
          raise Conflict unless before[:digest] == command.digest

          return Taken[visit: visit, entry: before, again: true]
        end
        raise Closed if visit.closed? && !command.correction?

        refuse_stale(visit, command)
        decision = command.decide(visit) or return Taken[visit: visit, again: true]
        write(visit, command, decision)
      rescue NotKept => e
        e.visit = visit
        raise
      end

      # topics of which several may be written at once
      NEVER_STALE = %w[note].freeze

      def refuse_stale(visit, command)
        return if @seen.nil? || visit.version <= @seen || NEVER_STALE.include?(command.topic)

        since =
          visit.events.select do |entry|
            entry[:version] > @seen && (entry[:page].nil? || entry[:page] != @page)
          end
        others = since.select { |entry| command.watch.any? { |topic| topic.match?(entry[:topic]) } }
        raise(Stale, others.map { |entry| Told.of(entry) }) if others.any?
      end

      # What someone else did, for the page that has not seen it.
      Told =
        Value.new(:said, :by, :at) do
          def self.of(entry) = self[said: entry[:said], by: entry[:by], at: entry[:at]]
        end

      def write(visit, command, decision)
        now = Store.now
        owner = {
          clinic_id: account.clinic_id,
          visit_id: visit.id,
          version: visit.version + 1,
          by: account.id,
          at: now
        }
        said = [
          decision.said,
          *decision.effects.filter_map { |effect| effect.prepare(visit) }
        ].join(", ")
        entry =
          visit.source.insert(
            :entries,
            owner,
            command: command.class.key,
            topic: command.topic,
            said: said,
            page: @page,
            entry_key: @entry_key,
            digest: command.digest,
            result: Store.json(decision.result.to_h)
          )
        decision.updates.each do |table, id, values|
          visit.source.update(table, id, **signed(values))
        end
        decision.rows.each { |table, values| visit.source.insert(table, owner, **values) }
        change(
          visit.row,
          version: owner[:version],
          **opening(visit, command, now),
          **signed(decision.visit.to_h)
        )
        decision.effects.each { |effect| effect.carry_out(visit, owner) }
        fresh = visit.renewed
        Summaries.keep(fresh, decision)
        Taken[visit: fresh, entry: entry, again: false]
      end

      # the visit's own row, as it is kept and as it was loaded; most entries only count it on
      def change(row, **values)
        return row.update(**values) unless values.one?

        Store.update(:visit_counted, where: { visit: row.id }, **values) do
          Store.db[:visits].where(id: :$visit)
        end
        row.values.merge!(values)
      end

      # who it was, where a decision leaves that open: it knows nobody
      def signed(values) =
        values.to_h { |name, value| [name, name.end_with?("_by") ? account.id : value] }

      def opening(visit, command, now)
        if visit.opened_at || visit.closed? || !command.opens?
          {}
        else
          { opened_at: now, opened_by: account.id }
        end
      end
    end
  end
end
