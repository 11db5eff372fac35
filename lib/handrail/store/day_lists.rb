# frozen_string_literal: true

module Handrail
  module Store
    # The lists of a clinic's day, as datasets of visits: today's, what was begun, what is overdue,
    # what nobody has booked, what is coming.
    #
    # They are made of values, or of placeholders for a statement that the database prepares once.
    class DayLists
      # clinic - its id; today - a Date; from, to - its first moment and the next day's; soon - the
      # end of what is coming
      def initialize(clinic:, today:, from:, to:, soon:)
        @clinic = clinic
        @today = today
        @from = from
        @to = to
        @soon = soon
      end

      # The lists with placeholders in place of values.
      def self.prepared
        new(
          clinic: :$clinic,
          today: Sequel.cast(:$today, Date),
          from: moment(:$from),
          to: moment(:$to),
          soon: moment(:$soon)
        )
      end

      def self.moment(placeholder) = Sequel.cast(placeholder, :timestamptz)
      private_class_method :moment

      # The first rows of every list, each with the list's name as :list. most - name => how many,
      # and one more, so that it shows whether it is cut.
      def together(most)
        sets =
          most.map do |name, count|
            public_send(name)
              .select_all(:visits)
              .select_append(Sequel.as(Sequel.cast(name.to_s, String), :list))
              .limit(count + 1)
          end
        sets.reduce { |all, one| all.union(one, all: true, from_self: false) }
      end

      # How many there are in some lists, counted up to `most` and one more, in order, so that each
      # is counted along its index: one row of name => number.
      def counts(names, most)
        sets =
          names.map do |name|
            public_send(name)
              .select(1)
              .limit(most + 1)
              .from_self
              .select { count.function.* }
              .as(name)
          end
        Store.db.select(*sets)
      end

      # Booked for today, by time; those that are closed come last.
      def visits =
        own
          .where(Sequel[:planned_for] >= @from)
          .where(Sequel[:planned_for] < @to)
          .order(Sequel.~(closed_at: nil), :planned_for, :id)

      # Everything was done but to sign.
      def unsigned = begun.where(at_hand_over.exists)

      # Begun and not closed, and not booked for today.
      def paused = begun.exclude(at_hand_over.exists)

      # Rechecks whose window has closed, with nothing booked from today on.
      def overdue =
        unbooked.where(purpose: "recheck").where(Sequel[:due_to] < @today).order(:due_to, :id)

      # Rechecks whose window is open, and first fittings, not booked yet.
      def unplanned
        open = Sequel.expr(Sequel[:due_from] <= @today) & (Sequel[:due_to] >= @today)
        unbooked
          .where(purpose: %w[first recheck])
          .where(Sequel.expr(purpose: "first") | open)
          .order(:due_to, :id)
      end

      # Booked for the next seven days after today.
      def coming
        own
          .where(closed_at: nil)
          .where(Sequel[:planned_for] >= @to)
          .where(Sequel[:planned_for] < @soon)
          .order(:planned_for, :id)
      end

      private

      # the practice patient counts nowhere, and nobody waits for who died, moved away or wants no calls
      def own = Visit.where(clinic_id: @clinic, called_off_at: nil, practice: false, resting: false)
      def unbooked = own.where(closed_at: nil, opened_at: nil).where(before_today)
      def before_today = Sequel.expr(planned_for: nil) | (Sequel[:planned_for] < @from)

      def begun =
        own.where(closed_at: nil).exclude(opened_at: nil).where(before_today).order(:opened_at, :id)

      def at_hand_over =
        Store.db[:visit_summaries].where(visit_id: Sequel[:visits][:id], stage: "hand_over").select(
          1
        )
    end
  end
end
