# frozen_string_literal: true

module Handrail
  module Wording
    # What is said of lines and volumes of the body. Part of Wording.
    module OfBody
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
