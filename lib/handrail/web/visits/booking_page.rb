# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # When a visit is to be: what was typed, free times that suit its window, and what may be said
      # of a booking that does not take place.
      class BookingPage
        attr_reader :visit, :trouble

        # trouble - a Store::NotKept, or nil
        def initialize(visit, params:, trouble: nil)
          @visit = visit
          @params = params
          @trouble = trouble
        end

        def planning = visit.source.planning
        # Whether the time in which it was due has passed.
        def overdue? = visit.due_to ? visit.due_to < visit.clinic.today : false
        def booked? = !visit.planned_for.nil?
        def rooms = planning.rooms
        def people = planning.people

        # Where it goes back to.
        def back =
          SignedIn.inside?(given("back").to_s) ? given("back") : "/patients/#{visit.patient.id}"

        # What stands in a field: what was typed, else what is booked, else what is proposed.
        def day = given("day") || Quantity::Day.write(planned&.to_date || first_day)
        def time = given("time") || planned&.strftime("%H:%M") || first_time
        def minutes = given("minutes") || booked_minutes || planning.minutes(visit.purpose)
        def with = given("with")&.to_i || visit.planned_with
        def room = given("room") || visit.planned_room

        # What is wrong, in words, or nil.
        def fault
          return unless trouble
          return trouble.message unless trouble.is_a?(Store::Stale)

          told = trouble.events.map { |event| "#{visit.name_of(event.by)}: #{event.said}" }
          "#{Wording.t("not_kept.stale")} #{told.join("; ")}"
        end

        # Whether the clinic is shut then, and it may be booked all the same.
        def may_anyway? = trouble.is_a?(Store::Unacceptable) && trouble.field == "anyway"

        # Free times as [Opening, words] pairs.
        def openings
          @openings ||=
            planning
              .openings(visit.purpose, between: window, with: visit.planned_with, prefer: known)
              .map { |opening| [opening, words(opening)] }
        end

        def name_of(id) = people.find { |one| one.id == id }&.name

        # "09:40"
        def clock(minute) = format("%02d:%02d", *minute.divmod(60))

        # Why earlier bookings did not take place, newest first: rows.
        def missed = visit.rows(:missed_visits).reverse

        private

        # who has seen this wearer with the device last: they are known to each other
        def known = visit.visits.reverse.filter_map { |row| row.closed_by || row.opened_by }.first

        def window = visit.due_from && (visit.due_from..visit.due_to)
        def planned = visit.planned_for && visit.clinic.local(visit.planned_for)
        def first_day =
          openings.first&.first&.day || [visit.due_from, visit.clinic.today].compact.max
        def first_time = openings.any? ? clock(openings.first.first.minute) : "09:00"

        def booked_minutes
          return unless visit.planned_to

          ((visit.planned_to - visit.planned_for) / 60).round
        end

        def words(opening)
          [
            "#{opening.day.strftime("%a")} #{Quantity::Day.write(opening.day)}",
            clock(opening.minute),
            name_of(opening.who),
            opening.room
          ].compact.join(", ")
        end

        def given(name)
          value = @params[name]
          value if value.is_a?(String) && !value.empty?
        end
      end
    end
  end
end
