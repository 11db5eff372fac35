# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Day, hour, with whom and where of what is booked: held against the hours of the clinic and of who is to be
      # there, and against what is booked already. Shared by what books a visit and a first appointment; who includes
      # it answers `planning`.
      module BookingValues
        MEETS = Wording.t("commands.time_taken_meanwhile_choose").freeze

        def self.included(base)
          base.class_eval do
            input :day, :day
            input :time, :time
            input :minutes, :count, within: Choices::MINUTES, default: nil
            input :with, :id, default: nil
            input :room, :line, most: 40, default: nil
            # the clinic is shut then, or the day has passed, and it is booked all the same
            input :anyway, :flag
          end
        end

        private

        # [from, to] as Times. lasting - in minutes; but - what is being moved: its id, else nil; kept - its
        # room of now. Raises Unacceptable.
        def booked_at(clinic, lasting, but: nil, kept: nil)
          from = clinic.moment(day, *time)
          ask_again(clinic, lasting)
          refuse_clash(clinic, from, from + (lasting * 60), but, kept)
          [from, from + (lasting * 60)]
        rescue TZInfo::PeriodNotFound
          unacceptable("time", t(:clocks_go_forward_over))
        end

        def ask_again(clinic, lasting)
          return if anyway

          why = off(clinic, lasting) or return
          unacceptable("anyway", t(:book_it_all_the_same, why: why))
        end

        # why somebody may not mean that time, or nil
        def off(clinic, lasting)
          return t(:day_has_passed) if day < clinic.today

          clinic.choices_made.shut(day, *time, lasting: lasting) || away(lasting)
        end

        # the fitter works at other times
        def away(lasting)
          who = fitter or return
          from, to = planning.works(who, day)
          return t(:does_not_work_day, who: who.name) unless from

          at = (time[0] * 60) + time[1]
          return if at >= from && at + lasting <= to

          t(:works_day, who: who.name, from: clock(from), to: clock(to))
        end

        def refuse_clash(clinic, from, to, but, kept)
          planning.one_at_a_time(day)
          found = planning.clash(from, to, who: fitter&.id, room: place(kept), except: but) or
            return
          where = found.who && found.who == with ? fitter.name : found.room
          at = [found.from, found.to].map { |one| clinic.local(one).strftime("%H:%M") }.join(" to ")
          unacceptable(
            "time",
            t(:taken_choose_another_time, where: where, at: at, found: found.name)
          )
        end

        def fitter
          return unless with

          planning.people.find { |one| one.id == with } or
            unacceptable("with", t(:choose_somebody_who_fits))
        end

        # kept - the room in which it is booked now
        def place(kept)
          return unless room
          return room if planning.rooms.include?(room) || room == kept

          unacceptable("room", t(:choose_one_clinics_rooms))
        end

        def booked_said(clinic, from, kept)
          [
            t(:booked_for, from: clinic.local(from).strftime("%-d %b %Y, %H:%M")),
            fitter&.name&.prepend("with "),
            place(kept)
          ].compact.join(", ")
        end

        def clock(minutes) = format("%02d:%02d", *minutes.divmod(60))
      end
    end
  end
end
