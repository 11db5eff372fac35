# frozen_string_literal: true

module Handrail
  module Web
    # For pages that list the checks of a side and draw the device on the figure.
    module WithChecks
      # A check in the list. item - a Checklist::Item; title, note; value - printed; before - what
      # it was at the first fitting, printed; struck - what was seen and counts no longer, printed, or
      # nil; current - the one to make now; posture - said where it begins; twin - of the other device of
      # a pair: [state, what was seen], or nil.
      Row = Value.new(:item, :title, :note, :value, :before, :struck, :current, :posture, :twin)
      # The other device of a pair. side; step - the one to do now, or nil; position, count - where
      # that is; state - of its checks.
      Twin = Value.new(:side, :step, :position, :count, :state)

      def checklist = visit.fit.checklist(side)

      # The other device, where two are fitted: as a Twin, else nil.
      def twin
        return @twin if defined?(@twin)

        @twin = two_sides? ? twin_of(visit.sides.find { |one| one != side }) : nil
      end

      # The check to make now: the one that a link names or a form was sent for, else the next one.
      def next_check
        check = given("check")
        named = [check, given("place")].compact.reject(&:empty?).join(":")
        (check && checklist.items.find { |item| [check, named].include?(item.key) }) ||
          checklist.next
      end

      # Whether a check would be taken now: no button for what the command refuses.
      def answerable? = writable? && visit.gates.before(:record_check).empty?

      # The checks; with_before - true where the first visit's results stand beside them.
      def check_rows(with_before: false)
        earlier = with_before ? visit.first.fit.checklist(side) : nil
        last = nil
        now = (next_check if answerable?)
        checklist.items.map do |item|
          posture = item.check.posture
          new = posture if posture && posture != last
          last = posture || last
          check_row(item, earlier && earlier[item.key], new, here: item.equal?(now))
        end
      end

      # In which order it is looked: "Lying first, then standing, sitting."
      def posture_order
        Wording.posture_order(checklist.items.filter_map { |item| item.check.posture }.uniq)
      end

      # What an answer to a check is about, see Fitting::Basis.
      def about(item) = { side: side, place: item.place, subject: item.check.key }

      # A check with its side and place, as it stands beside others of the wearer.
      def check_said(item) = [visit.said_side(side), check_title(item)].compact.join(": ")

      # What the field of a measured check asks for.
      def check_label(item)
        "#{item.check.ask || visit.fill(item.check.title)}, #{item.check.criterion.unit}"
      end

      # The device on the figure, its straps as far as they are closed.
      def device_figure
        straps = visit.sizing.straps(side).map { |strap| [strap, strap_state(strap)] }
        Figures.new(visit, side: side).with_device(straps, spots: spots)
      end

      # Points on the figure: [[Spot, words], ...].
      def spots = []

      private

      def check_row(item, earlier, posture, here:)
        here &&= !item.check.answered_by
        Row[
          posture: posture,
          item: item,
          title: check_title(item),
          current: here,
          note: check_note(item, here),
          value: check_value(item),
          before: earlier&.result ? result_words(earlier) : "–",
          struck: (result_words(item) if item.state == :look_again),
          twin: beside(item)
        ]
      end

      def twin_of(other)
        applying = visit.fit.applying(other)
        list = visit.fit.checklist(other)
        step = applying.next
        step = nil if step && applying.unlooked(step, list).any?
        Twin[
          side: other,
          step: step,
          position: step && applying.position(step),
          count: applying.steps.size,
          state: list.failed.any? ? :stop : (list.good? ? :good : :not_done)
        ]
      end

      # the same check of the other device
      def beside(item)
        other = twin && visit.fit.checklist(twin.side)[item.key] or return
        [other.state, check_value(other)]
      end

      def check_title(item)
        place = visit.sizing.straps(side).find { |strap| strap.key == item.place }&.label
        [visit.fill(item.check.title), place].compact.join(": ")
      end

      def check_note(item, here)
        if item.state == :look_again
          return(
            Wording.t(
              "web.look_again_at",
              opened_by: visit.fill(Wording.opened_by(item.opened_by.to_h))
            )
          )
        end
        if item.result && !item.result.seen?
          return Wording.t("web.not_possible_today", note: item.result.note)
        end

        parts = [
          (Wording.limits(item.check.criterion) if item.check.criterion.measured?),
          (visit.fill(item.check.hint) if here && item.check.hint)
        ].compact
        parts.empty? ? nil : parts.join(". ")
      end

      def check_value(item)
        return "?" if item.state == :look_again
        return Wording.t("web.not_today") if item.result && !item.result.seen?

        item.result ? result_words(item) : "–"
      end

      def result_words(item)
        return Wording.t("web.not_today") unless item.result.seen?

        way = item.check.way(item.result.way)&.label
        return way || (item.result.good? ? "yes" : "no") unless item.result.value

        [item.check.criterion.print(item.result.value), way].compact.join(", ")
      end

      def strap_state(strap)
        applying = visit.fit.applying(side)
        steps = applying.steps.select { |step| step.strap == strap.key }
        return :active if moved?(strap) || (steps.include?(current_step) && !worn?)
        return :done if worn? || steps.any? { |step| applying.done?(step) }

        steps.empty? && applying.finished? ? :done : :waiting
      end

      def current_step = visit.fit.applying(side).next

      # at a recheck the wearer comes in it
      def worn? = visit.recheck? && visit.fit.applying(side).done.empty?

      # a strap that the last change touched, while its checks are still open
      def moved?(strap)
        last = visit.fit.changes.last or return false
        remedy = visit.family.problem(last.problem)&.remedies&.find { |one| one.key == last.remedy }
        checklist.open_again.any? && remedy&.straps.to_a.include?(strap.key)
      end
    end
  end
end
