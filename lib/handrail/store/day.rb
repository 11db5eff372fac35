# frozen_string_literal: true

module Handrail
  module Store
    # One clinic's day, read from the visits' summaries: a few queries, however large the clinic is. Lists that could
    # grow without end are cut, and say how many there are in all.
    class Day
      # A visit on the board. row - its visit's row; patient - its Patient; family - key of the device family; title
      # - the device in words; stage, state, finding, figures, done - see Handrail::Fitting::NextStep.
      Line = Value.new(:row, :patient, :family, :title, :stage, :state, :finding, :figures, :done) do
        def id = row.id
      end

      # Some lines of a list, and how many there are in all.
      Cut = Value.new(:lines, :count) do
        def any? = lines.any?
        def empty? = lines.empty?
        def more = count - lines.size
      end

      # the most that are shown of a list
      SHOWN = 40

      def initialize(clinic, now: Store.now)
        @clinic = clinic
        @now = now
        @today = clinic.today(now)
      end

      # All lists: name => Cut, read in one query. They are counted only where they are cut.
      def lists
        found = together.group_by { |row| row.values.delete(:list).to_sym }
        lines = lines(found.values.flat_map { |own| own.first(SHOWN) }).group_by(&:id)
        LISTS.to_h do |name|
          own = found.fetch(name, [])
          count = own.size > SHOWN ? send(name).count : own.size
          [name, Cut[lines: own.first(SHOWN).map { |row| lines.fetch(row.id).first }, count: count]]
        end
      end

      LISTS = %i[visits paused overdue unplanned coming].freeze

      # One list from a place on, for the rest of it.
      def page(name, offset: 0) = cut(name, offset: offset)

      private

      def cut(name, offset: 0)
        set = send(name)
        rows = set.limit(SHOWN + 1, offset).all
        count = rows.size > SHOWN || offset.positive? ? set.count : rows.size
        Cut[lines: lines(rows.first(SHOWN)), count: count]
      end

      # Booked for today, by time.
      def visits = own.where(planned_for: bounds(@today)).order(:planned_for, :id)

      # Begun and not closed, and not booked for today.
      def paused = own.where(closed_at: nil).exclude(opened_at: nil).where(before_today).order(:opened_at, :id)

      # Rechecks whose window has closed, with nothing booked from today on.
      def overdue = unbooked.where(Sequel[:due_to] < @today).order(:due_to, :id)

      # Rechecks whose window is open, not booked yet.
      def unplanned = unbooked.where((Sequel[:due_from] <= @today) & (Sequel[:due_to] >= @today)).order(:due_to, :id)

      # Booked for the next seven days after today.
      def coming
        own.where(closed_at: nil, planned_for: (bounds(@today + 1).begin...bounds(@today + 8).begin))
           .order(:planned_for, :id)
      end

      def own = Visit.where(clinic_id: @clinic.id, called_off_at: nil)
      def unbooked = own.where(purpose: "recheck", closed_at: nil, opened_at: nil).where(before_today)
      def before_today = Sequel.expr(planned_for: nil) | (Sequel[:planned_for] < bounds(@today).begin)

      # The day's first moment, and the next day's, in the clinic's time zone.
      def bounds(day) = @clinic.midnight(day)...@clinic.midnight(day + 1)

      # the first rows of every list, each with the list's name
      def together
        LISTS.map { |name| send(name).select_all(:visits).select_append(Sequel.as(name.to_s, :list)).limit(SHOWN + 1) }
             .reduce { |all, one| all.union(one, all: true, from_self: false) }.all
      end

      # visits with their summaries and patients, in two queries
      def lines(rows)
        return [] if rows.empty?

        summaries = SUMMARIES.where(Sequel[:s][:clinic_id] => @clinic.id, visit_id: rows.map(&:id)).as_hash(:visit_id)
        wearers = summaries.each_value.map { |summary| summary[:patient_id] }.uniq
        patients = Patient.where(clinic_id: @clinic.id, id: wearers).as_hash(:id)
        rows.map { |row| line(row, summaries.fetch(row.id), patients) }
      end

      # summaries of visits, each with the family of its order
      SUMMARIES = Store.db[Sequel[:visit_summaries].as(:s)].join(Sequel[:visits].as(:v), id: :visit_id)
                       .join(Sequel[:fittings].as(:f), id: :fitting_id)
                       .join(Sequel[:prescriptions].as(:o), id: :prescription_id)
                       .select_all(:s).select_append(Sequel[:o][:family])
      private_constant :SUMMARIES

      def line(row, summary, patients)
        Line[row: row, patient: patients.fetch(summary[:patient_id]), family: summary[:family], title: summary[:title],
             stage: summary[:stage].to_sym, state: summary[:state].to_sym, finding: summary[:finding].to_sym,
             figures: summary[:figures].to_h.transform_keys(&:to_sym), done: summary[:done].to_a.map(&:to_sym)]
      end
    end
  end
end
