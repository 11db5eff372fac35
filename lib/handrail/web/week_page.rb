# frozen_string_literal: true

module Handrail
  module Web
    # Booked visits as lanes: one a day for a week, one a fitter for a day. Times lie on a tape from
    # the first hour that anything begins to the last.
    class WeekPage
      # minutes of a row: the finest that anything is booked at
      STEP = 5

      # A lane. day; who - an Account, nil in a week or for what is booked with nobody yet; heading;
      # blocks - Blocks; more - [[row, rows, how many], ...] that a week has no room to show; shut -
      # [[row, rows], ...] in which nobody is booked; today
      Lane =
        Value.new(:day, :who, :heading, :blocks, :more, :shut, :today) do
          # how many visits lie side by side where most do
          def columns = blocks.map(&:columns).max || 1
        end
      # A visit in a lane. booked - a Store::Planning::Booked (its Slot while it is laid out); row, rows - on the
      # tape, from 0; column, columns - where several lie side by side; clock - "09:40"; who - a name, or nil
      Block = Value.new(:booked, :row, :rows, :column, :columns, :clock, :who)

      # the most that lie side by side; of more, a week shows one fewer and says how many the others
      # are: the day's own view has them all
      MOST = 4
      private_constant :STEP

      attr_reader :day, :kind, :who, :today

      # monday - a Date; who - an Account whose visits alone are shown, or nil
      def self.of_week(planning, monday, today:, who: nil) =
        new(planning, :week, monday, who: who, today: today)
      def self.of_day(planning, day, today:) = new(planning, :day, day, today: today)

      def initialize(planning, kind, day, today:, who: nil)
        @planning = planning
        @kind = kind
        @day = day
        @who = who
        @today = today
        slots = planning.slots(span_of_days)
        @busy = slots.map(&:day).uniq
        slots = slots.select { |one| one.who.nil? || one.who == who.id } if who
        @slots = slots
        @by_day = slots.group_by(&:day)
      end

      def week? = kind == :week
      def days = @days ||= week? ? shown_days : [day]
      def people = @planning.people
      def title =
        if week?
          Wording.t("web.week_of", day: Quantity::Day.write(day))
        else
          "#{day.strftime("%A")} #{Quantity::Day.write(day)}"
        end
      def step = week? ? 7 : 1
      def before = day - step
      def after = day + step

      # The address of another day in the same view.
      def path(other, view: kind)
        query = { "on" => other.iso8601, "who" => (who&.id if view == :week) }.compact
        "/week#{"/day" if view == :day}?#{Rack::Utils.build_query(query)}"
      end

      def lanes = @lanes ||= filled(week? ? day_lanes : fitter_lanes)

      # The first minute of the tape, and the first after it: whole hours.
      def from = span.first
      def to = span.last
      def rows = (to - from) / STEP

      # [[row, "09:00"], ...]
      def hours =
        (from...to)
          .step(60)
          .map { |minute| [(minute - from) / STEP, format("%02d:00", minute / 60)] }
      def any? = @slots.any?

      # CSS classes of a block: where it lies, and what it is.
      def classes(block)
        [
          "booked at-#{block.row} for-#{block.rows} col-#{block.column}-of-#{block.columns}",
          ("is-closed" if block.booked.closed),
          ("is-narrow" if block.columns > 1)
        ].compact.join(" ")
      end

      # With whom, where, and what for: the front desk sees which kind of device.
      def about(block, clinical:)
        booked = block.booked
        kind = @planning.clinic.device_families[booked.family]&.name.to_s.downcase
        [block.who&.split&.first, booked.room, clinical ? booked.title : kind].compact.join(", ")
      end

      private

      def span_of_days = day..(week? ? day + 6 : day)

      # the lanes with what is known of each visit that they show; of a full week that is a part
      def filled(lanes)
        ids = lanes.flat_map { |lane| lane.blocks.map { |block| block.booked.id } }
        known = @planning.known(span_of_days, ids)
        lanes.map do |lane|
          # what was moved away meanwhile is not there any more
          blocks = lane.blocks.select { |block| known.key?(block.booked.id) }
          lane.with(blocks: blocks.map { |block| block.with(booked: known[block.booked.id]) })
        end
      end

      # a week is shown without the days at its end on which nobody works and nothing is booked
      def shown_days
        (day..(day + 6)).select do |one|
          one.wday.between?(1, 5) || @planning.open_on(one) || @busy.include?(one)
        end
      end

      def day_lanes
        days.map do |one|
          lane(one, nil, one.strftime("%a %-d %b"), on(one), @planning.open_on(one))
        end
      end

      def fitter_lanes
        own =
          people.map do |one|
            lane(
              day,
              one,
              one.name,
              on(day).select { |b| b.who == one.id },
              @planning.works(one, day)
            )
          end
        nobody = on(day).reject { |b| people.any? { |one| one.id == b.who } }
        own + [lane(day, nil, Wording.t("web.nobody_yet"), nobody, @planning.open_on(day))]
      end

      def lane(day, who, heading, slots, open)
        shown, more = laid_out(slots)
        Lane[
          day: day,
          who: who,
          heading: heading,
          today: week? && day == today,
          shut: shut(open),
          blocks: shown,
          more: more
        ]
      end

      # the rows outside of what is open
      def shut(open)
        return [[0, rows]] unless open

        [
          [0, (open.first - from) / STEP],
          [(open.last - from) / STEP, rows - ((open.last - from) / STEP)]
        ].select { |_, count| count.positive? }
      end

      # [blocks, more]: side by side where they meet, each in the first column that is free, as wide as
      # its neighbours let it
      def laid_out(slots)
        blocks = []
        left = []
        together(slots).each do |group|
          placed = group.zip(columns_of(group))
          width = placed.map(&:last).max + 1
          most = week? && width > MOST ? MOST - 1 : width
          kept, over = placed.partition { |_, column| column < most }
          blocks.concat(kept.map { |one, column| block(one, column % MOST, [width, MOST].min) })
          left << more(over.map(&:first)) if over.any?
        end
        [blocks, left]
      end

      # the column of each; in a week MOST of all that lies further
      def columns_of(group)
        ends = []
        group.map do |one|
          column = ends.index { |time| time <= one.from } || ends.size
          next MOST if week? && column >= MOST

          ends[column] = one.to
          column
        end
      end

      # [row, rows, how many] of what is not shown
      def more(slots)
        row = row_of(slots.map(&:from).min)
        [row, [row_of(slots.map { |one| end_of(one) }.max) - row, 1].max, slots.size]
      end

      # slots that meet one another, in groups
      def together(slots)
        last = nil
        slots.each_with_object([]) do |one, groups|
          last && last > one.from ? groups.last << one : groups << [one]
          last = [last, one.to].compact.max
        end
      end

      def block(one, column, columns)
        Block[
          booked: one,
          row: row_of(one.from),
          rows: [row_of(end_of(one)) - row_of(one.from), 1].max,
          column: column,
          columns: columns,
          clock: format("%02d:%02d", one.from / 60, one.from % 60),
          who: week? && who.nil? ? people.find { |person| person.id == one.who }&.name : nil
        ]
      end

      def on(day) = @by_day.fetch(day, [])
      def row_of(minute) = (minute - from) / STEP

      # the first and the last minute of the tape, in whole hours
      def span
        @span ||=
          begin
            open = days.filter_map { |one| @planning.open_on(one) }
            first = [*open.map(&:first), *@slots.map(&:from)].min || (9 * 60)
            last = [*open.map(&:last), *@slots.map { |one| end_of(one) }].max || (17 * 60)
            [first / 60 * 60, [(last + 59) / 60 * 60, (first / 60 * 60) + 60].max]
          end
      end

      def end_of(one) = [one.to, one.from + STEP].max
    end
  end
end
