# frozen_string_literal: true

module Handrail
  module Wording
    # What is said of the steps of a fitting and of what opens a check again. Part of Wording.
    module OfSteps
      # "serial K-100", or "lot 7" of a device without a serial number. device - with :serial and :lot
      def device_number(device) =
        if device[:serial]
          device_numbers(serial: device[:serial])
        else
          t("device.lot", number: device[:lot])
        end

      # "2 cm to 3 cm", of what was changed; what is not known is asked, and nil is where neither is
      def from_to(before, after)
        t("from_to", before: before || "?", after: after || "?") if before || after
      end

      # "serial K-100, lot 7": those that there are
      def device_numbers(serial: nil, lot: nil)
        said = { "device.serial" => serial, "device.lot" => lot }.compact
        said.map { |key, number| t(key, number: number) }.join(", ")
      end

      # What opened a check again. change - title or cause of a Fitting::Change
      def opened_by(change)
        cause = change[:cause]
        change[:title] || t("causes.#{cause ? cause[:code] : :another}", **cause.to_h.except(:code))
      end

      # How far a strap is past its mark. drift - a Fitting::MarkDrift
      def mark_drift(drift)
        mm = ->(length) { Quantity::Length.mm(length).plain("mm") }
        t(
          "mark_drifts.#{drift.state}",
          strap: drift.field.label,
          past: mm[drift.past],
          reach: mm[drift.reach],
          left: mm[drift.left]
        )
      end

      # What straps press that are pulled just to their marks: a sentence for each state that there
      # is. pulls - Fitting::LeastPulls, from the lowest up
      def least_pulls(pulls)
        pulls
          .group_by(&:state)
          .map do |state, same|
            [
              state,
              t(
                "least_pulls.#{state}",
                count: same.size,
                numbers: listed(same.map { |pull| pull.number.to_s }, t("sizing.and")),
                now: listed(same.map { |pull| pull.pressure.round.to_s }, t("sizing.and")),
                wanted: listed(same.map { |pull| pull.target.round.to_s }, t("sizing.and"))
              )
            ]
          end
      end

      # What a strap pulls. pull - a Visit::PressureWork::Pull
      def pull(pull)
        figures = {
          number: pull.number,
          newtons: tenths(pull.newtons),
          more: pull.one_more.round,
          girth: pull.next_girth&.round
        }
        t(pull.next_girth ? "pulls.strap" : "pulls.top", **figures)
      end

      # "4 hours a day". hours - a number
      def hours_a_day(hours) = t("hours_a_day", count: plain(hours))

      # In which order it is looked. postures - keys, in the order of the checks
      def posture_order(postures)
        return t("posture_order.none") if postures.empty?

        first, *others = postures.map { |key| t("postures.#{key}") }
        return t("posture_order.one", first: first.downcase) if others.empty?

        t("posture_order.many", first: first, others: others.map(&:downcase).join(", "))
      end

      # Which step goes before another one. step - a Families::Step
      def goes_first(step) = step.why || t("steps.first", step: step.title)

      # What is noted where steps were passed over, or nil.
      def order_swapped(step, skipped)
        return if skipped.empty?

        t("steps.swapped", step: step.title, others: skipped.map(&:title).join(", "))
      end
    end
  end
end
