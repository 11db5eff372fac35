# frozen_string_literal: true

module Handrail
  module Wording
    # What is said of lines and volumes of the body. Part of Wording.
    module OfBody
      # What became of a line, for the wearer. before, after - Fitting::Alignments of one line
      def line_change(before, after)
        was, is = [before, after].map { |one| one.figures.values.first.abs }
        less = (was - is).round(1)
        return t("lines.as_before") if less.abs < LEAST_SEEN

        t(
          less.positive? ? "lines.straighter" : "lines.less_straight",
          degrees: format("%g", less.abs)
        )
      end

      # a change of an angle that a tapped point can be told apart by, in degrees: common practice, no source
      LEAST_SEEN = 0.5

      # The volume of a limb at a visit. state - Visit::VolumeWork::State
      def volume(state, visit)
        first = visit.volumes.states.find { |one| one.side == state.side }
        t(
          "volumes.here",
          side: state.side.capitalize,
          ml: state.volume.ml.round,
          excess: volume_excess(state).to_s,
          change: first.visit_id == state.visit_id ? "" : volume_change(state).to_s
        )
      end

      # How it changes. trend - a Followup::Trend in ml
      def volume_trend(side, trend)
        low, high = trend.interval.map { |daily| (daily * 7).abs }.sort
        t(
          "volumes.trend.#{trend.verdict}",
          side: side.capitalize,
          visits: trend.count,
          by: tenths((trend.slope * 7).abs),
          low: tenths(low),
          high: tenths(high)
        )
      end

      # A line of the body in words. alignment - a Fitting::Alignment
      def line(alignment)
        figures = alignment.figures
        said = figures.except(:unit).transform_values { |n| Kernel.format("%.1f", n.abs) }
        way = line_way(alignment.line.key, figures)
        t("lines.#{alignment.line.key}", **said, unit: figures[:unit], way: way, **tilts(figures))
      end

      # The one figure that is read off a line first, with its way: "2.5° inward", "11.2 mm inside".
      def line_figure(alignment)
        figures = alignment.figures
        amount, unit =
          alignment.line.key == "leg" ? figures.values_at(:offset, :unit) : [figures[:angle], "°"]
        t(
          "lines.figure",
          amount: Kernel.format("%.1f", amount.abs),
          unit: unit == "°" ? unit : " #{unit}",
          way: line_way(alignment.line.key, figures)
        )
      end

      # What was given of a limited correction. given - side, used, most, step, left
      def given_steps(given)
        key = given.left.positive? ? "lines.given" : "lines.given_all"
        side = given.side ? "#{given.side.capitalize}: " : ""
        said =
          { used: given.used, most: given.most, step: given.step }.transform_values do |n|
            plain(n.to_r)
          end
        t(key, side: side, left: given.left, **said)
      end

      # What the tilt of a heel would take, in steps. angle, step - degrees; heel - mm
      def bevel(angle, step:, heel:)
        steps = (angle.abs / step).round
        height = Sizing::Sheets::HeelWedge.height(heel, steps * step)
        t(
          "lines.bevel",
          step: plain(step.to_r),
          mm: tenths(Sizing::Sheets::HeelWedge.height(heel, step)),
          heel: heel.round,
          angle: tenths(angle.abs),
          steps: steps,
          height: tenths(height)
        )
      end

      private

      def volume_excess(state)
        return unless state.excess_ml

        step = state.severity ? t("volumes.severity", step: state.severity) : ""
        key = state.excess_ml.negative? ? "less" : "excess"
        t(
          "volumes.#{key}",
          ml: state.excess_ml.abs.round,
          percent: tenths(state.excess_percent.abs.to_f),
          severity: step
        )
      end

      def volume_change(state)
        return unless state.change_ml

        way = t(state.change_ml.negative? ? "volumes.fewer" : "volumes.more")
        t(
          "volumes.change",
          ml: state.change_ml.abs.round,
          percent: tenths(state.change_percent.abs.to_f),
          way: way
        )
      end

      # the side that a positive figure means
      def line_way(key, figures)
        case key
        when "leg"
          t(figures[:offset].negative? ? "lines.inside" : "lines.outside")
        when "heel"
          t(figures[:angle].negative? ? "lines.rolls_out" : "lines.rolls_in")
        else
          figures[:shift].negative? ? "right" : "left"
        end
      end

      # tilts keep their sign: it says which side is low
      def tilts(figures)
        figures.slice(:shoulders, :pelvis).transform_values { |n| Kernel.format("%+.1f", n) }
      end
    end
  end
end
