# frozen_string_literal: true

module Handrail
  module Store
    # One clinic's day. Every list is of Visits.
    class Day
      def initialize(clinic, now: Store.now)
        @clinic = clinic
        @now = now
        @today = clinic.today(now)
      end

      # Booked for today, by time.
      def visits = own.where(planned_for: bounds(@today)).order(:planned_for, :id).all

      # Begun and not closed, and not booked for today.
      def paused
        own.where(closed_at: nil).exclude(opened_at: nil).where(before_today).order(:opened_at).limit(20).all
      end

      # Rechecks whose window has closed, with nothing booked from today on.
      def overdue = unbooked.where(Sequel[:due_to] < @today).order(:due_to).all

      # Rechecks whose window is open, not booked yet.
      def due_unbooked = unbooked.where((Sequel[:due_from] <= @today) & (Sequel[:due_to] >= @today)).order(:due_to).all

      # Booked for the next seven days after today.
      def coming
        own.where(closed_at: nil, planned_for: (bounds(@today + 1).begin...bounds(@today + 8).begin)).order(:planned_for).limit(12).all
      end

      private

      def own = Visit.where(clinic_id: @clinic.id)

      def unbooked = own.where(purpose: "recheck", closed_at: nil, opened_at: nil).where(before_today)
      def before_today = Sequel.expr(planned_for: nil) | (Sequel[:planned_for] < bounds(@today).begin)

      # The day's first moment, and the next day's, in the clinic's time zone.
      def bounds(day)
        first, last = [day, day + 1].map { |d| @clinic.zone.local_to_utc(Time.utc(d.year, d.month, d.day)) }
        first...last
      end
    end
  end
end
