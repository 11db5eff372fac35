# frozen_string_literal: true

module Handrail
  class Visit
    # What straps press: as they were read, on a thinner leg, with one layer more, at the next girth,
    # and at the least pull. Part of Visit.
    class PressureWork
      # A strap's pull. number - from the lowest up; newtons - in one layer; one_more - mmHg with a
      # layer more; next_girth - mmHg that the same pull would press at the girth of the strap above,
      # nil for the top one.
      Pull = Value.new(:number, :newtons, :one_more, :next_girth)
      # The straps on a leg that is so many percent thinner. pressures - mmHg, from the lowest up;
      # below - numbers of those that fall out of their band.
      Thinned = Value.new(:percent, :pressures, :below)

      # m/s^2: a kilogram-force in newtons (NIST SP 330)
      GRAVITY = 9.80665
      PERCENTS = (1..5)

      def initialize(visit)
        @visit = visit
      end

      # The fewest straps to ease or pull, as Compression::FewestChanges::Straps from the lowest up;
      # nil where the family has no line to hold to, or while a strap's pressure is not read, or was
      # read before the last change.
      def pressures(side = first_side)
        return unless line && wanted

        items = @visit.fit.checklist(side).items.select { |item| item.check.key == line["check"] }
        return if items.empty? || items.any? { |item| item.result&.value.nil? || item.opened_by }

        read = items.each_with_index.to_h { |item, i| [i + 1, item.result.value] }
        @visit.method_of("fewest_changes").new(read, **wanted).straps
      end

      # What the straps press as they are, or as they are to be set, on a leg that is 1 to 5 % thinner,
      # as Thinneds; empty where the device's stretch is not known or a strap is not read.
      def thinned(side = first_side)
        read = pressures(side)
        return [] unless read && stretch

        PERCENTS.map do |percent|
          pressed = read.map { |strap| pressed(strap, percent) }
          below =
            read
              .zip(pressed)
              .filter_map { |strap, mmhg| strap.number if mmhg < strap.target - within }
          Thinned[percent: percent, pressures: pressed, below: below]
        end
      end

      # The pull of each strap that was read, by Laplace, as Pulls from the lowest up; empty where
      # girth or width is not known.
      def pulls(side = first_side)
        read = pressures(side)
        width = @visit.family.option("strap_width")&.value(@visit.config["strap_width"])
        return [] unless read && width

        seats = with_girths(side, read)
        seats.each_with_index.map do |(strap, girth), i|
          pull(strap, girth, width, seats[i + 1]&.last)
        end
      end

      # What the straps press today, pulled just to their marks, as Fitting::LeastPulls from the lowest
      # up; empty where the family has no line or no least marks, and until the limb was read today.
      def least_pulls(side = first_side)
        marked = (marked_at(side) if least_marks?)
        drawn = marked&.pressure&.pressures(side)
        return [] unless drawn && stretch

        before = marked.sizing.profile(marked.sizing.figure, side)
        with_girths(side, drawn).map do |strap, girth|
          Fitting::LeastPull[
            number: strap.number,
            was: strap.pressure,
            girth_then: before.girth(level(side, strap)),
            girth_now: girth,
            target: strap.target,
            within: within,
            stretch: stretch
          ]
        end
      end

      private

      def first_side = @visit.sides.first
      def line = @visit.family.pressure_line
      def wanted = @visit.family.wanted_pressure(@visit.config)
      def within = wanted[:within].to_f

      # of a strap as it is worn, 0 to 1, or nil
      def stretch
        percent = @visit.family.option("stretch")&.value(@visit.config["stretch"])
        percent && (percent / 100.0)
      end

      def least_marks?
        line && wanted && @visit.recheck? && @visit.family.marks["kind"] == "least" &&
          @visit.usable_readings.any?
      end

      # The visit at which the marks that are worn were drawn: the last one at which the straps were read
      # with nothing past their marks, else the first.
      def marked_at(side)
        so_far = @visit.visits_so_far.reverse
        so_far.map { |row| @visit.at(row) }.find { |one| one.first? || marked_anew?(one, side) }
      end

      def marked_anew?(visit, side)
        past = @visit.family.marks.dig("drift", "past").to_a
        written =
          visit
            .rows(:strap_settings)
            .select { |row| past.include?(row[:setting]) && [nil, side].include?(row[:side]) }
            .to_h { |row| [row[:setting], row[:value_mm]] }
        past.any? && past.all? { |key| written[key]&.zero? } && !visit.pressure.pressures(side).nil?
      end

      def pressed(strap, percent)
        @visit.method_of("thinner").pressure(
          (strap.set_to || strap.pressure).to_f,
          stretch: stretch,
          share: percent / 100.0
        )
      end

      # [[strap that was read, mm of girth at its height], ...]
      def with_girths(side, read)
        profile = @visit.sizing.profile(@visit.sizing.figure, side)
        read.filter_map do |strap|
          at = level(side, strap)
          [strap, profile.girth(at)] if at
        end
      end

      # mm, or nil
      def level(side, strap)
        text = @visit.sizing.straps(side)[strap.number - 1]&.level
        text && Quantity::Length.parse(text).mm.to_f
      end

      # girth, above - mm; width - a Length
      def pull(strap, girth, width, above)
        laplace = @visit.method_of("laplace")
        mmhg = strap.pressure.to_f
        tension = laplace.tension(mmhg, girth: girth / 10, width: width.mm.to_f / 10)
        Pull[
          number: strap.number,
          newtons: tension * GRAVITY,
          one_more: laplace.one_more(mmhg, 1),
          next_girth: above && laplace.at_girth(mmhg, girth, above)
        ]
      end
    end
  end
end
