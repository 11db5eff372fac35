# frozen_string_literal: true

module Handrail
  module Followup
    # Free times for a visit: within the clinic's hours and the fitter's own, with nobody in two
    # places and no room holding two.
    #
    # Times of day are minutes since midnight on the clinic's clock, days are Dates.
    #
    #   Openings.new(minutes: 30, open: ->(day) { [540, 1020] }, people: { 3 => ->(day) { [540, 780] } },
    #                rooms: ["Room 1"], taken: [Taken[day: monday, from: 540, to: 600, who: 3]])
    #     .first(6, days: monday..friday)
    class Openings
      # A time that is free. day; minute; who - id of a fitter, nil where the clinic has named none;
      # room - its name, nil where there are none
      Opening = Value.new(:day, :minute, :who, :room)

      # A time that is not. day; from, to - minutes; who, room - nil where it was booked without
      Taken =
        Value.new(:day, :from, :to, :who, :room) do
          def meets?(day, from, to) = self.day == day && self.from < to && from < self.to
        end

      # minutes apart at which visits begin
      STEP = 15
      # of one day, at most this many are proposed: a wearer who can not come that day wants another
      A_DAY = 2
      # how far apart (minutes) the proposals of one day lie
      APART = 120

      # minutes - how long the visit takes; open - called with a Date, gives [from, to] or nil where
      # the clinic is shut; people - id => the same of a person; rooms - names; taken - Takens
      def initialize(minutes:, open:, people: {}, rooms: [], taken: [])
        @minutes = minutes
        @open = open
        @people = people
        @rooms = rooms
        @taken = taken.group_by(&:day)
      end

      # The first so many Openings. days - Dates to look through; with - the id of who is wanted, or
      # nil; after - no earlier than this minute of the first day
      def first(count, days:, with: nil, after: 0)
        days
          .each_with_index
          .lazy
          .flat_map { |day, i| of_day(day, with, i.zero? ? after : 0) }
          .first(count)
      end

      private

      def of_day(day, with, after)
        from, to = @open.call(day)
        return [] unless from

        begin_at = [from, after].max
        begin_at += -begin_at % STEP
        found = []
        (begin_at..(to - @minutes)).step(STEP) do |minute|
          break if found.size == A_DAY
          next if found.any? && minute < found.last.minute + APART

          free = opening(day, minute, with) and found << free
        end
        found
      end

      def opening(day, minute, with)
        busy = @taken.fetch(day, []).select { |one| one.meets?(day, minute, minute + @minutes) }
        room = @rooms.find { |name| busy.none? { |one| one.room == name } }
        return if room.nil? && @rooms.any?
        return Opening[day: day, minute: minute, room: room] if @people.empty?

        who = (with ? [with] : @people.keys).find { |id| free?(id, busy, day, minute) } or return
        Opening[day: day, minute: minute, who: who, room: room]
      end

      def free?(id, busy, day, minute)
        return false if busy.any? { |one| one.who == id }

        from, to = @people.fetch(id).call(day)
        from ? minute >= from && minute + @minutes <= to : false
      end
    end
  end
end
