# frozen_string_literal: true

module Handrail
  module Store
    # One clinic's day, read from the visits' summaries: a few queries, however large the clinic is.
    # Lists that could grow without end are cut, and say how many there are in all.
    class Day
      # A visit on the board. row - its visit's row; patient - its Patient; family - key of the
      # device family; title
      # - the device in words; stage, state, finding, figures, done - see Handrail::Fitting::NextStep.
      Line =
        Value.new(:row, :patient, :family, :title, :stage, :state, :finding, :figures, :done) do
          def id = row.id
        end

      # Some lines of a list, and how many there are in all.
      Cut =
        Value.new(:lines, :count) do
          def any? = lines.any?
          def empty? = lines.empty?
          def more = count - lines.size
          # whether there are more than were counted
          def uncounted? = count > COUNTED
        end

      # the most that are shown of a list on a page of its own
      SHOWN = 40
      # the most that the board shows of each: today's visits are the work, of the others the first
      # will do
      ON_BOARD = { visits: 16, unsigned: 6, paused: 6, overdue: 6, unplanned: 6, coming: 6 }.freeze
      # how far a list is counted
      COUNTED = 100

      def initialize(clinic, now: Store.now)
        @clinic = clinic
        @now = now
        @today = clinic.today(now)
      end

      # The beginning of every list: name => Cut, read in one query. They are counted only where
      # they are cut.
      def lists
        found = together.group_by { |row| row.values.delete(:list).to_sym }
        lines = lines(found.flat_map { |name, own| own.first(ON_BOARD[name]) }).group_by(&:id)
        cut = ON_BOARD.select { |name, most| found.fetch(name, []).size > most }.keys
        counts = counts(cut)
        LISTS.to_h do |name|
          own = found.fetch(name, []).first(ON_BOARD[name]).map { |row| lines.fetch(row.id).first }
          [name, Cut[lines: own, count: counts.fetch(name, own.size)]]
        end
      end

      LISTS = ON_BOARD.keys.freeze

      # What a new clinic does first, in order: name => whether it is done. Nothing once somebody
      # was measured.
      def first_steps
        there = ->(table, **more) do
          Store.db[table].where(clinic_id: @clinic.id, **more).select(1).exists
        end
        found =
          Store
            .db
            .select(
              there[:products].as(:product),
              there[:chart_revisions].as(:chart),
              there[:patients, practice: false].as(:patient),
              there[:readings].as(:reading),
              (Store.db[:accounts].where(clinic_id: @clinic.id).select { count.function.* } > 1).as(
                :people
              )
            )
            .first
        found.delete(:reading) ? {} : found
      end

      # Timers that run at visits, the first to ring first: rows with :visit_id, :label, :side,
      # :rings_at and the wearer's :given_name and :family_name.
      def timers = Store.db[RUNNING, @clinic.id, ON_BOARD[:visits]].all

      RUNNING = <<~SQL
        SELECT t.visit_id, t.label, t.side, t.rings_at, p.given_name, p.family_name
        FROM visit_timers t JOIN visits v ON v.id = t.visit_id JOIN fittings f ON f.id = v.fitting_id
        JOIN patients p ON p.id = f.patient_id
        WHERE t.clinic_id = ? AND t.answered_at IS NULL AND v.closed_at IS NULL AND NOT v.practice
        ORDER BY t.rings_at, t.id LIMIT ?
      SQL
      private_constant :RUNNING

      # how far ahead parts and sizes are said, in days
      AHEAD = { "part" => 14, "size" => 42 }.freeze
      # what should not wait, unless a visit is booked within so many days
      CONCERNS = { "problem" => 365, "skin" => 14, "mark" => 14 }.freeze

      # Parts that are due within two weeks, sizes that end within six, and what stands and should
      # not wait with no visit booked soon: kind => rows, the first or oldest first.
      def dues
        wanted =
          AHEAD
            .transform_values { |days| [@today + days] }
            .merge(CONCERNS.transform_values { |days| [@today, bounds(@today + days).end] })
        found = Dues.of(@clinic, wanted, from: bounds(@today).begin, most: ON_BOARD[:overdue])
        wanted.keys.to_h { |kind| [kind, found.fetch(kind, [])] }
      end

      # Work that is away, the first due first: rows with :visit_id, :what, :doer, :due_on and the
      # wearer's names; :late where its day has passed.
      def slips = Store.db[AWAY, @today, @clinic.id, ON_BOARD[:visits]].all

      AWAY = <<~SQL
        SELECT s.visit_id, s.what, s.doer, s.due_on, s.due_on < ? AS late, p.given_name, p.family_name
        FROM job_slips s LEFT JOIN slip_returns r ON r.slip_id = s.id
        JOIN fittings f ON f.id = s.fitting_id JOIN patients p ON p.id = f.patient_id
        WHERE s.clinic_id = ? AND r.id IS NULL AND f.ended_at IS NULL AND NOT p.practice
        ORDER BY s.due_on, s.id LIMIT ?
      SQL
      private_constant :AWAY

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
      def begun =
        own.where(closed_at: nil).exclude(opened_at: nil).where(before_today).order(:opened_at, :id)
      # Everything was done but to sign.
      def unsigned = begun.where(at_hand_over.exists)
      def paused = begun.exclude(at_hand_over.exists)

      def at_hand_over =
        Store.db[:visit_summaries].where(visit_id: Sequel[:visits][:id], stage: "hand_over").select(
          1
        )

      # Rechecks whose window has closed, with nothing booked from today on.
      def overdue = unbooked.where(Sequel[:due_to] < @today).order(:due_to, :id)

      # Rechecks whose window is open, and first fittings, not booked yet.
      def unplanned =
        unbooked(purpose: %w[first recheck]).where(
          Sequel.expr(purpose: "first") |
            ((Sequel[:due_from] <= @today) & (Sequel[:due_to] >= @today))
        ).order(:due_to, :id)

      # Booked for the next seven days after today.
      def coming
        own.where(
          closed_at: nil,
          planned_for: (bounds(@today + 1).begin...bounds(@today + 8).begin)
        ).order(:planned_for, :id)
      end

      # the practice patient counts nowhere
      def own = Visit.where(clinic_id: @clinic.id, called_off_at: nil, practice: false)
      def unbooked(purpose: "recheck") =
        own.where(purpose: purpose, closed_at: nil, opened_at: nil).where(before_today)
      def before_today =
        Sequel.expr(planned_for: nil) | (Sequel[:planned_for] < bounds(@today).begin)

      # The day's first moment, and the next day's, in the clinic's time zone.
      def bounds(day) = @clinic.midnight(day)...@clinic.midnight(day + 1)

      # the first rows of every list, each with the list's name
      def together
        sets =
          ON_BOARD.map do |name, most|
            send(name)
              .select_all(:visits)
              .select_append(Sequel.as(name.to_s, :list))
              .limit(most + 1)
          end
        sets.reduce { |all, one| all.union(one, all: true, from_self: false) }.all
      end

      # How many there are in lists that are cut, in one query: name => number.
      def counts(names)
        return {} if names.empty?

        # in order, so that each is counted along its index
        sets =
          names.map do |name|
            send(name).select(1).limit(COUNTED + 1).from_self.select { count.function.* }.as(name)
          end
        Store.db.select(*sets).first
      end

      # visits with their summaries and patients, in two queries
      def lines(rows)
        return [] if rows.empty?

        summaries =
          SUMMARIES.where(
            Sequel[:s][:clinic_id] => @clinic.id,
            :visit_id => rows.map(&:id)
          ).as_hash(:visit_id)
        wearers = summaries.each_value.map { |summary| summary[:patient_id] }.uniq
        patients = Patient.where(clinic_id: @clinic.id, id: wearers).as_hash(:id)
        rows.map { |row| line(row, summaries.fetch(row.id), patients) }
      end

      # summaries of visits, each with the family of its order
      SUMMARIES =
        Store.db[Sequel[:visit_summaries].as(:s)]
          .join(Sequel[:visits].as(:v), id: :visit_id)
          .join(Sequel[:fittings].as(:f), id: :fitting_id)
          .join(Sequel[:prescriptions].as(:o), id: :prescription_id)
          .select_all(:s)
          .select_append(Sequel[:o][:family])
      private_constant :SUMMARIES

      def line(row, summary, patients)
        Line[
          row: row,
          patient: patients.fetch(summary[:patient_id]),
          family: summary[:family],
          title: summary[:title],
          stage: summary[:stage].to_sym,
          state: summary[:state].to_sym,
          finding: summary[:finding].to_sym,
          figures: summary[:figures].to_h.transform_keys(&:to_sym),
          done: summary[:done].to_a.map(&:to_sym)
        ]
      end
    end
  end
end
