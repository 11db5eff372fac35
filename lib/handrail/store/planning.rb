# frozen_string_literal: true

module Handrail
  module Store
    # What a clinic has booked, and where it has room for more.
    class Planning
      # A booked visit as a week shows it. id, version, purpose; from, to - Times; who - account id or nil;
      # room; name of the wearer; title - the device in words; family - its key; patient_id; closed;
      # newcomer - true of a first appointment without an order: its id is "first:" and a number then
      Booked =
        Value.new(
          :id,
          :version,
          :purpose,
          :from,
          :to,
          :who,
          :room,
          :name,
          :title,
          :family,
          :patient_id,
          :closed,
          :newcomer
        )

      # When something is booked, on the clinic's clock. id as of Booked; day - a Date; from, to - minutes of the
      # day, to at most 24 hours: what goes on after midnight ends there; who, room as of Booked
      Slot = Value.new(:id, :day, :from, :to, :who, :room)

      # how far ahead a free time is looked for, in days
      AHEAD = 42
      # minutes of a visit where a clinic has settled none
      MINUTES = { "first" => 60, "recheck" => 30 }.freeze

      attr_reader :clinic

      def initialize(clinic, now: Store.now)
        @clinic = clinic
        @choices = clinic.choices_made
        @now = now
      end

      # How long a visit of a kind is booked for, in minutes.
      def minutes(purpose) = @choices.minutes(purpose) || MINUTES.fetch(purpose)

      # Names of the rooms.
      def rooms = @choices.rooms

      # Who may be booked: open accounts that do clinical work, by name.
      def people
        @people ||=
          Store.prepared(:people_of_clinic, clinic: @clinic.id) do
            Account.where(clinic_id: :$clinic, status_id: 2, role: %w[fitter senior]).order(:name)
          end
      end

      # Visits that are booked on some days, as Booked, by time. days - a Range of Dates
      def booked(days)
        from, to = bounds(days)
        visits =
          Store.db["#{BOOKED} AND v.planned_for >= ? AND v.planned_for < ?", @clinic.id, from, to]
        (visits.map { |row| visit_booked(row) } + newcomers(from, to)).sort_by do |one|
          [one.from, one.id.to_s]
        end
      end

      # Some of what is booked on those days, as { id => Booked }. ids - as of Booked
      def known(days, ids)
        own, first = ids.partition { |id| id.is_a?(Integer) }
        visits =
          Store.prepared(:booked_of_clinic, clinic: @clinic.id, ids: own.join(",")) do
            Store.db["#{BOOKED} AND v.id = ANY(string_to_array(?, ',')::bigint[])", :$clinic, :$ids]
          end
        found = visits.map { |row| visit_booked(row) }
        found += newcomers(*bounds(days)).select { |one| first.include?(one.id) } if first.any?
        found.to_h { |one| [one.id, one] }
      end

      # When visits are booked on some days, as Slots, by time: what a week is laid out by, and what is free.
      def slots(days)
        from, to = bounds(days)
        clock = Clock.new(@clinic, days)
        visits =
          Store
            .prepared(:slots_of_clinic, clinic: @clinic.id, from: from, to: to) do
              Store.db[
                SLOTS,
                :$clinic,
                Sequel.cast(:$from, :timestamptz),
                Sequel.cast(:$to, :timestamptz)
              ]
            end
            .map { |row| slot(clock, **row) }
        first =
          newcomers(from, to).map do |one|
            slot(
              clock,
              id: one.id,
              from: one.from.to_i,
              to: one.to.to_i,
              who: one.who,
              room: one.room
            )
          end
        return visits if first.empty?

        (visits + first).sort_by { |one| [one.day, one.from, one.id.to_s] }
      end

      # Lets nobody else book on that day until this transaction ends: a visit and a first appointment lie in two
      # tables, which the database does not hold against each other.
      def one_at_a_time(day) =
        Store.db.get(Sequel.function(:pg_advisory_xact_lock, @clinic.id, day.jd))

      def bounds(days) = [@clinic.midnight(days.first), @clinic.midnight(days.last + 1)]

      def slot(clock, id:, from:, to:, who:, room:, purpose: nil)
        day, minute = clock.at(from)
        last, ends = clock.at(to || (from + (minutes(purpose) * 60)))
        Slot[id: id, day: day, from: minute, to: last == day ? ends : 24 * 60, who: who, room: room]
      end

      # What the clinic's clock shows on some days, without asking the zone for each moment: seconds since
      # midnight, but for the two days of a year that are longer or shorter.
      class Clock
        def initialize(clinic, days)
          @clinic = clinic
          @days = days.to_a
          @midnights = (days.first..(days.last + 1)).map { |day| clinic.midnight(day).to_i }
        end

        # [Date, minute of the day] of a moment. seconds - since 1970
        def at(seconds)
          after = @midnights.bsearch_index { |midnight| midnight > seconds }
          return asked(seconds) if after.nil? || after.zero?

          from, to = @midnights[after - 1, 2]
          return asked(seconds) unless to - from == 86_400

          [@days[after - 1], (seconds - from) / 60]
        end

        private

        def asked(seconds)
          local = @clinic.local(Time.at(seconds))
          [local.to_date, (local.hour * 60) + local.min]
        end
      end
      private_constant :Clock

      def visit_booked(row)
        Booked[
          **row.slice(:id, :version, :purpose, :title, :family, :patient_id),
          from: row[:planned_for],
          to: row[:planned_to] || (row[:planned_for] + (minutes(row[:purpose]) * 60)),
          who: row[:planned_with],
          room: row[:planned_room],
          name: [row[:given_name], row[:family_name]].compact.join(" "),
          closed: !row[:closed_at].nil?,
          newcomer: false
        ]
      end

      def newcomers(from, to)
        Newcomers
          .between(@clinic, from, to)
          .map do |row|
            Booked[
              **row.slice(:version, :patient_id),
              id: "first:#{row[:id]}",
              purpose: "first",
              title: row[:what],
              family: nil,
              from: row[:planned_for],
              to: row[:planned_to],
              who: row[:planned_with],
              room: row[:planned_room],
              name: [row[:given_name], row[:family_name]].compact.join(" "),
              closed: false,
              newcomer: true
            ]
          end
      end
      private :bounds, :slot, :visit_booked, :newcomers

      BOOKED = <<~SQL
        SELECT v.id, v.version, v.purpose, v.planned_for, v.planned_to, v.planned_with, v.planned_room, v.closed_at,
               s.title, o.family, p.id AS patient_id, p.given_name, p.family_name
        FROM visits v JOIN visit_summaries s ON s.visit_id = v.id JOIN patients p ON p.id = s.patient_id
        JOIN fittings f ON f.id = v.fitting_id JOIN prescriptions o ON o.id = f.prescription_id
        WHERE v.clinic_id = ? AND v.called_off_at IS NULL AND NOT v.practice AND NOT v.resting
      SQL
      SLOTS = <<~SQL
        SELECT v.id, v.purpose, extract(epoch FROM v.planned_for)::bigint AS "from",
               extract(epoch FROM v.planned_to)::bigint AS "to", v.planned_with AS who, v.planned_room AS room
        FROM visits v
        WHERE v.clinic_id = ? AND v.planned_for >= ? AND v.planned_for < ? AND v.called_off_at IS NULL
          AND NOT v.practice AND NOT v.resting
        ORDER BY v.planned_for, v.id
      SQL
      private_constant :BOOKED, :SLOTS

      # The booked visit that one more would meet, as Booked, or nil. from, to - Times; who, room -
      # of the new one; except - id of the visit that is being moved
      def clash(from, to, who:, room:, except:)
        day = @clinic.today(from)
        booked(day..day).find do |one|
          next if one.id == except || one.closed || one.from >= to || from >= one.to

          (who && one.who == who) || (room && one.room == room)
        end
      end

      # Free times for a visit, as Followup::Openings::Openings. purpose - of the visit; between - the
      # Dates of its window, or nil; where that has closed, the next time that can be had; with - an account id
      # that is wanted, or nil; prefer - an account id that comes first among several
      def openings(purpose, between: nil, with: nil, prefer: nil, count: 6)
        today = @clinic.today(@now)
        first = [between&.first, today].compact.max
        last = between && between.last >= first ? between.last : first + AHEAD
        days = (first..last).first(AHEAD)
        Followup::Openings.new(
          minutes: minutes(purpose),
          open: method(:open_on),
          people:
            people
              .partition { |one| one.id == prefer }
              .flatten
              .to_h { |one| [one.id, ->(day) { works(one, day) }] },
          rooms: rooms,
          taken: taken(days.first..days.last)
        ).first(count, days: days, with: with, after: first == today ? minute_of(@now) : 0)
      end

      # [from, to] in minutes on which the clinic is open, or nil.
      def open_on(day)
        return if @choices.closed_days.include?(day)

        @choices.any_hours? ? @choices.hours(Choices::DAYS[(day.wday - 1) % 7]) : EVERY_DAY
      end

      EVERY_DAY = [9 * 60, 17 * 60].freeze
      private_constant :EVERY_DAY

      # [from, to] in minutes on which somebody works, or nil; whenever the clinic is open where
      # they have settled nothing.
      def works(account, day)
        own = account.hours.to_h
        return open_on(day) if own.empty?

        Choices.minutes_of(own[Choices::DAYS[(day.wday - 1) % 7]].to_s)
      end

      # A Time on the clinic's clock, and its minute of the day.
      def local(time) = @clinic.local(time)
      def minute_of(time) = local(time).then { |at| (at.hour * 60) + at.min }

      private

      def taken(days)
        slots(days).map do |one|
          Followup::Openings::Taken[
            day: one.day,
            from: one.from,
            to: one.to,
            who: one.who,
            room: one.room
          ]
        end
      end
    end
  end
end
