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
      def timers = of_fitters["timer"]

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
      CONCERNS = {
        "problem" => 365,
        "skin" => 14,
        "mark" => 14,
        "misread" => 0,
        "failed" => 0,
        "turned" => 0
      }.freeze

      # Parts that are due within two weeks, sizes that end within six, and what stands and should
      # not wait with no visit booked soon: kind => rows, the first or oldest first.
      def dues
        found = of_fitters["due"].group_by { |row| row[:kind] }
        wanted.keys.to_h { |kind| [kind, found.fetch(kind, [])] }
      end

      # Work that is away, the first due first: rows with :visit_id, :what, :doer, :due_on and the
      # wearer's names; :late where its day has passed.
      def slips = of_fitters["slip"]

      # Records that came from other clinics of the group and wait: rows of :wearer and :from_name.
      def records_coming = of_fitters["records_coming"]

      AWAY = <<~SQL
        SELECT s.visit_id, s.what, s.doer, s.due_on, s.due_on < :today AS late, p.given_name, p.family_name
        FROM job_slips s LEFT JOIN slip_returns r ON r.slip_id = s.id
        JOIN fittings f ON f.id = s.fitting_id JOIN patients p ON p.id = f.patient_id
        WHERE s.clinic_id = :clinic AND r.id IS NULL AND f.ended_at IS NULL AND NOT p.practice
        ORDER BY s.due_on, s.id LIMIT :most
      SQL
      private_constant :AWAY

      # What is low on the shelf, see Shelf::LOW, and first appointments without an order: today's, and those of
      # earlier days that are open still, see Newcomers.
      def low = of_all["low"]
      def newcomers =
        of_all["newcomer"].partition { |row| row[:planned_for] >= bounds(@today).begin }

      COMING = <<~SQL
        SELECT wearer, from_name FROM coming_records WHERE clinic_id = :clinic AND ended_at IS NULL ORDER BY id LIMIT 6
      SQL
      private_constant :COMING

      # One list from a place on, for the rest of it.
      def page(name, offset: 0) = cut(name, offset: offset)

      private

      # how many days back a first appointment is shown that nobody ended
      NEWCOMERS_BACK = 31
      private_constant :NEWCOMERS_BACK

      # what everybody sees beside the lists, and what only who does clinical work does
      def of_all
        @of_all ||=
          Gathered.read(
            :day_of_all,
            clinic: @clinic.id,
            since: bounds(@today - NEWCOMERS_BACK).begin,
            to: bounds(@today).end
          ) do
            {
              "low" => Store.db[Shelf::LOW, { clinic: :$clinic }],
              "newcomer" => Newcomers.on_board
            }
          end
      end

      def of_fitters
        @of_fitters ||=
          Gathered.read(:day_of_fitters, **asked_of_fitters) do
            place = { clinic: :$clinic, today: Sequel.cast(:$today, Date), most: ON_BOARD[:visits] }
            {
              "timer" => Store.db[RUNNING, place],
              "slip" => Store.db[AWAY, place],
              "records_coming" => Store.db[COMING, place],
              "due" => Projectors::FittingDues.soon(wanted.keys, ON_BOARD[:overdue])
            }
          end
      end

      def asked_of_fitters =
        {
          clinic: @clinic.id,
          today: @today,
          **Projectors::FittingDues.asked(wanted, from: bounds(@today).begin)
        }

      # kind => [last day, moment], see Projectors::FittingDues.asked
      def wanted
        @wanted ||=
          AHEAD
            .transform_values { |days| [@today + days] }
            .merge(CONCERNS.transform_values { |days| [@today, bounds(@today + days).end] })
      end

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

      # visits with their summaries and patients, in one query
      def lines(rows)
        return [] if rows.empty?

        ids = rows.map(&:id).join(",")
        summaries =
          Store
            .prepared(:day_summaries, clinic: @clinic.id, ids: ids) { SUMMARIES }
            .to_h { |summary| [summary[:visit_id], summary] }
        rows.map { |row| line(row, summaries.fetch(row.id)) }
      end

      # what of a wearer stands on the lists
      WEARER = %i[given_name family_name record_number born_on species].freeze
      # summaries of visits, each with the family of its order and its wearer
      SUMMARIES =
        Store.db[Sequel[:visit_summaries].as(:s)]
          .join(Sequel[:visits].as(:v), id: :visit_id)
          .join(Sequel[:fittings].as(:f), id: :fitting_id)
          .join(Sequel[:prescriptions].as(:o), id: :prescription_id)
          .join(Sequel[:patients].as(:p), id: Sequel[:f][:patient_id])
          .select_all(:s)
          .select_append(Sequel[:o][:family])
          .select_append(*WEARER.map { |name| Sequel[:p][name] })
          .where(Sequel[:s][:clinic_id] => :$clinic, :visit_id => Store.among(:$ids))
      private_constant :WEARER, :SUMMARIES

      def line(row, summary)
        Line[
          row: row,
          patient: Patient.call(id: summary[:patient_id], **summary.slice(*WEARER)),
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
