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

      # Some lines of a list, and how many there are in all; nil where there are more and nobody
      # counted them.
      Cut =
        Value.new(:lines, :count) do
          def any? = lines.any?
          def empty? = lines.empty?
          def more = count ? count - lines.size : 1
          # whether there are more than were counted
          def uncounted? = count.nil? || count > COUNTED
        end

      # the most that are shown of a list on a page of its own
      SHOWN = 40
      # the most that the board shows of each: today's visits are the work, of the others the first
      # will do
      ON_BOARD = { visits: 16, unsigned: 6, paused: 6, overdue: 6, unplanned: 6, coming: 6 }.freeze
      # how far a list is counted
      COUNTED = 40

      def initialize(clinic, now: Store.now)
        @clinic = clinic
        @now = now
        @today = clinic.today(now)
      end

      # The beginning of every list: name => Cut, read in one query. Today's visits are counted where
      # they are cut, of the others it is enough that there are more.
      def lists
        found =
          Store
            .prepared(:day_lists, **asked) { DayLists.prepared.together(ON_BOARD) }
            .group_by { |row| row.values.delete(:list).to_sym }
        lines = lines(found.flat_map { |name, own| own.first(ON_BOARD[name]) }).group_by(&:id)
        cut = ON_BOARD.select { |name, most| found.fetch(name, []).size > most }.keys
        counts = counts_of(cut & COUNTED_LISTS)
        LISTS.to_h do |name|
          own = found.fetch(name, []).first(ON_BOARD[name]).map { |row| lines.fetch(row.id).first }
          [name, Cut[lines: own, count: cut.include?(name) ? counts[name] : own.size]]
        end
      end

      LISTS = ON_BOARD.keys.freeze
      COUNTED_LISTS = %i[visits].freeze
      private_constant :COUNTED_LISTS

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
      def timers
        most = ON_BOARD[:visits]
        Store.prepared(:day_timers, clinic: @clinic.id) do
          Store.db[RUNNING, { clinic: :$clinic, most: most }]
        end
      end

      RUNNING = <<~SQL
        SELECT t.visit_id, t.label, t.side, t.rings_at, p.given_name, p.family_name
        FROM visit_timers t JOIN visits v ON v.id = t.visit_id JOIN fittings f ON f.id = v.fitting_id
        JOIN patients p ON p.id = f.patient_id
        WHERE t.clinic_id = :clinic AND t.answered_at IS NULL AND v.closed_at IS NULL AND v.called_off_at IS NULL
          AND NOT v.practice
        ORDER BY t.rings_at, t.id LIMIT :most
      SQL
      private_constant :RUNNING

      # how far ahead parts and sizes are said, in days
      AHEAD = { "part" => 14, "size" => 42 }.freeze
      # what should not wait, unless a visit is booked within so many days
      CONCERNS = { "problem" => 365, "skin" => 14, "mark" => 14, "misread" => 0 }.freeze

      # Parts that are due within two weeks, sizes that end within six, and what stands and should
      # not wait with no visit booked soon: kind => rows, the first or oldest first.
      def dues
        wanted =
          AHEAD
            .transform_values { |days| [@today + days] }
            .merge(CONCERNS.transform_values { |days| [@today, bounds(@today + days).end] })
        found =
          Projectors::FittingDues.of(
            @clinic,
            wanted,
            from: bounds(@today).begin,
            most: ON_BOARD[:overdue]
          )
        wanted.keys.to_h { |kind| [kind, found.fetch(kind, [])] }
      end

      # Work that is away, the first due first: rows with :visit_id, :what, :doer, :due_on and the
      # wearer's names; :late where its day has passed.
      def slips
        most = ON_BOARD[:visits]
        Store.prepared(:day_slips, clinic: @clinic.id, today: @today) do
          Store.db[AWAY, { clinic: :$clinic, today: Sequel.cast(:$today, Date), most: most }]
        end
      end

      AWAY = <<~SQL
        SELECT s.visit_id, s.what, s.doer, s.due_on, s.due_on < :today AS late, p.given_name, p.family_name
        FROM job_slips s LEFT JOIN slip_returns r ON r.slip_id = s.id
        JOIN fittings f ON f.id = s.fitting_id JOIN patients p ON p.id = f.patient_id
        WHERE s.clinic_id = :clinic AND r.id IS NULL AND f.ended_at IS NULL AND NOT p.practice
        ORDER BY s.due_on, s.id LIMIT :most
      SQL
      private_constant :AWAY

      # One list from a place on, for the rest of it.
      def page(name, offset: 0) = cut(name, offset: offset)

      private

      def cut(name, offset: 0)
        set = DayLists.new(**asked).public_send(name)
        rows = set.limit(SHOWN + 1, offset).all
        count = rows.size > SHOWN || offset.positive? ? set.count : rows.size
        Cut[lines: lines(rows.first(SHOWN)), count: count]
      end

      # The day's first moment, and the next day's, in the clinic's time zone.
      def bounds(day) = @clinic.midnight(day)...@clinic.midnight(day + 1)

      # what the lists are asked with
      def asked
        today = bounds(@today)
        {
          clinic: @clinic.id,
          today: @today,
          from: today.begin,
          to: today.end,
          soon: bounds(@today + 7).end
        }
      end

      # How many there are in lists that are cut, in one query: name => number.
      def counts_of(names)
        return {} if names.empty?

        Store
          .prepared(:"day_counts_#{names.join("_")}", **asked) do
            DayLists.prepared.counts(names, COUNTED)
          end
          .first
      end

      # visits with their summaries and patients, in two queries
      def lines(rows)
        return [] if rows.empty?

        ids = rows.map(&:id).join(",")
        summaries =
          Store
            .prepared(:day_summaries, clinic: @clinic.id, ids: ids) { SUMMARIES }
            .to_h { |summary| [summary[:visit_id], summary] }
        wearers = summaries.each_value.map { |summary| summary[:patient_id] }.uniq
        patients = Patient.of(@clinic, wearers)
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
          .where(Sequel[:s][:clinic_id] => :$clinic, :visit_id => Store.among(:$ids))
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
