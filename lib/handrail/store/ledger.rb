# frozen_string_literal: true

module Handrail
  module Store
    # The one way to write at a visit. It locks the visit's fitting, since what is true is true of the
    # whole fitting, and its wearer against change; keeps an entry that comes twice once; looks whether
    # someone else wrote on the same thing since the page was made; lets the command decide on the
    # visit as it stands; and writes entry, rows and summaries in one transaction. Entries are numbered
    # by fitting.
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

      # visit - a visit's row, a Handrail::Visit or its id; account - who writes; seen - the version of
      # the fitting that their page showed, or nil; page - the page's own key: what the same page wrote is no
      # surprise to it; entry_key - of this entry; made - when it was made, in seconds since 1970 by the clock of
      # the server, where it waited for the line since.
      def initialize(visit, account, seen: nil, page: nil, entry_key: nil, rests_on: nil, made: nil)
        @visit_id = visit.is_a?(Integer) ? visit : visit.id
        @account = account
        @seen = Inputs.whole(seen, 0..2_000_000_000)
        @page = page
        @entry_key = Inputs.entry_key(entry_key)
        @shown = Basis.read(rests_on)
        @made = Inputs.whole(made, 0..9_999_999_999)
      end

      # command - a VisitCommand. Returns a Taken.
      def run(command)
        command.authorize!(account)
        Store.again do
          Store.db.transaction do
            locked.then { |visit| visit.by_edition { taken(command, visit) } }
          end
        end
      rescue Sequel::UniqueConstraintViolation, Sequel::Postgres::ExclusionConstraintViolation => e
        raise unless command.respond_to?(:doubled)

        raise command.doubled(e)
      end

      private

      # the visit, loaded under the lock of its fitting; who writes is told with it, as Store.as would
      def locked
        who = { clinic: account.clinic_id, visit: @visit_id, account: account.id.to_s }
        row = Store.prepared(:fitting_locked, **who) { LOCKED }.first
        visit = row && Visits.to_write(account.clinic, row[:id], @visit_id)
        visit or raise Unacceptable.new("visit", "There is no such visit.")
      end

      # The fitting first, then its wearer: the one order in which both are locked. Several fittings
      # are locked by their ids, the smallest first. The clinic's row is held against nothing but its being moved to
      # another cluster.
      LOCKED =
        Store.db[:fittings]
          .join(:patients, { clinic_id: :clinic_id, id: :patient_id })
          .where(Sequel[:fittings][:clinic_id] => :$clinic)
          .where(
            Sequel[:fittings][:id] =>
              Store.db[:visits].where(clinic_id: :$clinic, id: :$visit).select(:fitting_id)
          )
          .select(Sequel[:fittings][:id], Store.writer(:$account).as(:writer))
          .join(:clinics, id: Sequel[:fittings][:clinic_id])
          .lock_style(
            "FOR NO KEY UPDATE OF fittings FOR SHARE OF patients FOR KEY SHARE OF clinics"
          )
      private_constant :LOCKED

      def taken(command, visit)
        if (before = visit.fitting_events.find { |entry| entry[:entry_key] == @entry_key })
          raise Conflict unless before[:digest] == command.digest

          return Taken[visit: visit, entry: before, again: true]
        end
        raise Closed if visit.closed? && !command.correction?

        refuse_stale(visit, command)
        refuse_moved(visit, command)
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
          visit.fitting_events.select do |entry|
            entry[:version] > @seen && (entry[:page].nil? || entry[:page] != @page)
          end
        others = since.select { |entry| command.watch.any? { |topic| topic.match?(entry[:topic]) } }
        raise(Stale, others.map { |entry| Told.of(entry) }) if others.any?
      end

      # the page shows another piece, size, wearer than there is now: nothing of it is taken
      def refuse_moved(visit, command)
        kind, about = command.rests_on(visit)
        return unless kind && @shown

        gone = Handrail::Fitting::Basis.gone(@shown, visit, **about.to_h)
        raise(Stale, gone.map { |fact| Basis.told(fact, visit) }) if gone.any?
      end

      # What someone else did, for the page that has not seen it.
      Told =
        Value.new(:said, :by, :at) do
          def self.of(entry) = self[said: entry[:said], by: entry[:by], at: entry[:at]]
        end

      def write(visit, command, decision)
        arrived = Store.now
        made = hour_made(visit, arrived)
        owner = owner_at(visit, arrived)
        entry = write_entry(visit, command, decision, { **owner, made_at: made }.compact)
        # what was seen was seen when it was made, whenever the line let it through
        owner[:at] = made || arrived
        decision.updates.each { |table, id, row| visit.source.update(table, id, **signed(row)) }
        decision.rows.each do |table, row|
          visit.source.insert(table, owner, **row, **Basis.column(table, visit, row))
        end
        # the database has counted both on with the entry
        [visit.row, visit.fitting].each { |one| one.values[:version] = owner[:version] }
        own = { **opening(visit, command, owner[:at]), **signed(decision.visit.to_h) }
        own[:clinic_state_id] = ClinicStates.keep(visit.clinic) if own[:closed_at]
        visit.row.update(**own) if own.any?
        decision.effects.each { |effect| effect.carry_out(visit, owner) }
        fresh = visit.renewed
        Summaries.keep(fresh)
        remember(fresh, decision)
        Taken[visit: fresh, entry: entry, again: false]
      end

      # once it is certain, what stands now is kept for who asks next; not where more was changed than the visit's rows
      def remember(visit, decision)
        return if decision.effects.any?

        Store.db.after_commit { visit.source.remember(visit.fitting.id) }
      end

      # how old (seconds) an entry may be: one that waited longer is of the hour in which it arrives
      OLDEST = 7 * 86_400
      private_constant :OLDEST

      # When an entry that waited was made: never later than now, nor before there was this order.
      def hour_made(visit, now)
        made = @made && Time.at(@made)
        made if made && made < now - 1 && made > [now - OLDEST, visit.source.prescription.at].max
      end

      def owner_at(visit, moment)
        {
          clinic_id: account.clinic_id,
          visit_id: visit.id,
          version: visit.version + 1,
          by: account.id,
          at: moment
        }
      end

      def write_entry(visit, command, decision, owner)
        done = decision.effects.filter_map { |effect| effect.prepare(visit) }
        visit.source.insert(
          :entries,
          owner,
          fitting_id: visit.fitting.id,
          command: command.class.key,
          topic: command.topic,
          said: [decision.said, *done].join(", "),
          page: @page,
          entry_key: @entry_key,
          digest: command.digest,
          result: Store.json(decision.result.to_h)
        )
      end

      # who it was, where a decision leaves that open: it knows nobody
      def signed(values) =
        values.to_h { |name, value| [name, name.end_with?("_by") ? account.id : value] }

      def opening(visit, command, now)
        if visit.opened_at || visit.closed? || visit.row.called_off_at || !command.opens?
          {}
        else
          { opened_at: now, opened_by: account.id }
        end
      end
    end
  end
end
