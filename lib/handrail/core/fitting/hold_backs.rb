# frozen_string_literal: true

module Handrail
  module Fitting
    # Everything that can hold work back at a visit, each found as Blocks: what a stage or an act is
    # held by is put together of these by Gates, which is who is asked.
    #
    #   HoldBacks.new(visit).size("left") # => [Block[code: :no_device, stage: :size, ...]] or []
    class HoldBacks
      # visit - see Gates
      def initialize(visit)
        @visit = visit
        @size = {}
        @work = {}
      end

      # Open stop signs; of some only, where those are given.
      def stops(open = @visit.safety.stops)
        open.map do |stop|
          code = stop.standing ? :limit_passed : :stop
          block(
            code,
            :order,
            side: stop.side,
            subject: stop.key,
            rests_on: stop.seq,
            figures: {
              text: stop.text,
              urgency: stop.urgency,
              **stop.figures.to_h
            }
          )
        end
      end

      # Stops, identity and cautions.
      def order
        @order ||= (stops + identity + cautions).freeze
      end

      # Identity that was not confirmed, or of a record that was changed since.
      def identity
        return [] if @visit.safety.identity?

        [block(@visit.safety.identity_gone? ? :identity_changed : :identity_open, :order)]
      end

      def cautions = @visit.safety.cautions_asked? ? [] : [block(:cautions_open, :order)]
      private :cautions

      # Sites that were not read, and readings in question.
      def measure = @measure ||= (unread + doubts).freeze

      # The size and the device of a side, as one thing after the other.
      def size(side) = @size[side] ||= find_size(side)

      def find_size(side)
        return [block(:no_size, :size, side: side)] unless @visit.sizing.choice(side)
        return [block(:size_outdated, :size, side: side)] if @visit.sizing.size_outdated?(side)
        return [no_device(side)] unless @visit.sizing.device(side)
        return [block(:other_device, :size, side: side)] unless @visit.sizing.device_fits?(side)

        []
      end
      private :find_size

      # nobody wrote it down; or it is being made, or on its way
      def no_device(side)
        slip = @visit.fit.awaited(side) or return block(:no_device, :size, side: side)
        figures = { doer: slip[:doer], due: slip[:due_on] }
        block(:piece_awaited, :size, side: side, subject: slip[:version].to_s, figures: figures)
      end

      # a place on the skin that was there before is looked at again before a recheck is closed
      def unseen_skin
        @visit.body.skin_waiting.map do |place|
          block(
            :skin_unseen,
            :recheck,
            side: place.last[:side],
            subject: place.first[:version].to_s,
            rests_on: place.last[:version],
            figures: {
              kind: place.kind
            }
          )
        end
      end

      # Steps and checks of a side, found once.
      def work(side) = @work[side] ||= steps(side) + checks(side)

      # Steps of a side that were not done.
      def steps(side)
        @visit
          .fit
          .applying(side)
          .open
          .map do |step|
            block(
              :step_open,
              :fit,
              side: side,
              subject: step.key,
              rests_on: @visit.fit.fitted_at(side)
            )
          end
      end

      # failed, changed since, never made; the final check among them
      def checks(side)
        list = @visit.fit.checklist(side)
        failed(side) +
          list.open_again.map do |item|
            check_block(:check_changed, side, item, changed(side, item))
          end + list.not_done.map { |item| undone(side, item, list) }
      end

      # Checks of a side that have failed.
      def failed(side)
        @visit
          .fit
          .checklist(side)
          .failed
          .map { |item| check_block(:check_failed, side, item, [item.result.seq]) }
      end

      # work that is away at the workshop or the maker, of this fitting
      def slips
        @visit.fit.slips_out.map do |slip|
          block(
            :slip_out,
            :fit,
            side: slip[:side],
            subject: slip[:id].to_s,
            figures: {
              what: slip[:what],
              doer: slip[:doer],
              due: slip[:due_on]
            }
          )
        end
      end

      # what is set further than was ordered
      def overset(side)
        @visit
          .wear
          .overset(side)
          .map do |one|
            block(
              :set_too_far,
              :fit,
              side: side,
              subject: one.field.key,
              figures: {
                setting: one.field.label,
                text: one.text,
                limit: one.label,
                bound: one.bound_said
              }
            )
          end
      end

      # unaided and faultless, and after the last step, size, device or change
      def teach(side)
        last = @visit.fit.teach_back(side)
        fitted = @visit.fit.fitted_at(side)
        return [block(:teach_back_open, :teach, side: side, rests_on: fitted)] unless last
        return [poor_teach_back(side, last)] unless last.passed?(@visit.tasks)
        return [] unless last.gone || last.seq < fitted

        [block(:teach_back_old, :teach, side: side, rests_on: [last.seq, fitted])]
      end

      private

      def unread =
        @visit.unread.map do |item|
          block(:unread, :measure, side: item.side, subject: item.site.key)
        end

      def doubts =
        @visit.doubts.map do |row|
          block(:doubt, :measure, side: row[:side], subject: row[:site], rests_on: row[:version])
        end

      # a sign of distress that was seen holds until it is seen gone, as does a limit that nobody may
      # pass: no word lets either go by
      def firm(item)
        return :check_distress if item.distress?

        :check_firm if item.check.firm && item.result&.seen? && !item.result.good?
      end

      def check_block(code, side, item, rests_on, reason = nil)
        block(
          firm(item) || code,
          :fit,
          side: side,
          place: item.place,
          subject: item.check.key,
          rests_on: rests_on,
          figures: {
            after: item.opened_by&.title,
            cause: item.opened_by&.cause,
            reason: reason
          }.compact
        )
      end

      # never looked at, or not possible today: that blocks like a missing look, and what a senior
      # lets pass is that one answer
      def undone(side, item, list)
        if item.result
          rests_on = [item.result.seq, list.last_change]
          return check_block(:check_not_possible, side, item, rests_on, item.result.note)
        end

        check_block(:check_open, side, item, [@visit.fit.fitted_at(side), list.last_change])
      end

      # which tasks are still open, and whether mistakes are left
      def poor_teach_back(side, last)
        block(
          :teach_back_poor,
          :teach,
          side: side,
          rests_on: last.seq,
          figures: {
            tasks: last.open_tasks(@visit.tasks).map(&:text),
            mistakes: last.mistakes.size
          }
        )
      end

      # what a changed check rests on: an opening by its number, another basis by what was done last
      def changed(side, item)
        since = item.result.gone ? @visit.fit.fitted_at(side) : item.opened_by.seq
        [item.result.seq, since]
      end

      def block(code, stage, **what) = Block[code: code, stage: stage, **what]
    end
  end
end
