# frozen_string_literal: true

module Handrail
  module Store
    # The part of a visit's record that finds the size: for each side of the order the readings on the chart, the trials, the
    # computed sheets, and what they advise.
    module RecordSizing
      # The sides of the order: one, both legs, or [nil] where there is none.
      def sides = Measuring::Plan.sides(side)

      # The chart revision that counts: the one this visit's size was chosen on, else the newest in force.
      def revision
        row = rows(:size_choices).reverse.find { |choice| choice[:chart_revision_id] }
        row ? @rows.revision(row[:chart_revision_id]) : @rows.in_force(fitting.product_id)
      end

      def chart = revision&.chart

      # The readings of a side on the chart; nil without a chart.
      def match(side = sides.first)
        return unless chart

        @matches ||= {}
        @matches[side] ||= chart.match(core_readings(side), rule: revision.rule, resolution: resolution(usable_readings), precision: precision(side))
      end

      # Sizing::Sheets by key, computed from the readings of a side.
      def sheets(side = sides.first)
        @sheets ||= {}
        @sheets[side] ||= Families::Computing.sheets(family, config) do |site, posture|
          repeats(site, Anatomy::Vocabulary.default.fetch(site).paired ? side : nil, posture)&.length
        end
      end

      def trial_run(side = sides.first)
        part = chart&.parts&.first or return
        trials = rows(:size_trials).select { |row| row[:side] == side }.map { |row| Sizing::TrialRun::Trial[size: row[:size], outcome: row[:outcome]] }
        Sizing::TrialRun.new(part, start: match(side).size, trials: trials)
      end

      # What is advised for a side: a Sizing::Advice, or nil where the product has no chart and needs one.
      def advice(side = sides.first)
        case family.size_rule.by
        when "sheet" then Sizing::Advice::BySheet[sheet: sheets(side).fetch(family.size_rule.sheet)]
        when "trial" then chart && Sizing::Advice::ByTrial[run: trial_run(side), match: match(side), run_names: chart.names]
        else chart && Sizing::Advice::ByChart[match: match(side), all_must_fit: family.size_rule.all_must_fit]
        end
      end

      # How far the values of a side may be off, for this wearer and these fitters.
      def precision(side = sides.first)
        @precisions ||= {}
        @precisions[side] ||= Measuring::Precision.of(profile(body_figure, side), figure: body_figure.key, repeatability: repeatability(side))
      end

      # The wearer's profile on a figure: the reference bent to the girths of this visit, or of the first one where there are none yet.
      def profile(figure, side = sides.first)
        @profiles ||= {}
        @profiles[[figure.key, side]] ||= begin
          source = usable_readings.empty? ? first : self
          figure.profile(source.known_girths(figure, side))
        end
      end

      # [[level, girth], ...] of the readings that lie on a figure's body.
      def known_girths(figure, side)
        usable_readings.map { |row| row[:site] }.uniq.filter_map do |key|
          site = Anatomy::Vocabulary.default[key]
          next unless site&.level && site.kind == "girth" && Anatomy::Figure.fetch(site.figure).body == figure.body

          value = repeats(key, site.paired ? side : nil, site.postures.size > 1 ? nil : site.posture)
          value && [site.level.mm.to_f, value.mm.to_f]
        end.uniq(&:first)
      end

      # The figure that stands for the device: the family's, or that of the first site where none of the sites lies on it.
      def figure
        @figure ||= begin
          shown = needs.map { |item| item.site.figure }
          Anatomy::Figure.fetch(shown.empty? || shown.include?(family.figure) ? family.figure : shown.first)
        end
      end

      # the front view of the same body, where girths have their levels
      def body_figure
        @body_figure ||= Anatomy::Figure.all.each_value.find { |other| other.body == figure.body && other.reference } || Anatomy::Figure.fetch("leg")
      end

      # Chosen sizes by side: at this visit, or for a recheck at an earlier one.
      def choices
        found = rows(:size_choices)
        found = all_rows(:size_choices) if found.empty? && recheck?
        found.to_h { |row| [row[:side] || sides.first, row] }
      end

      def choice(side = sides.first) = choices[side]

      # Both sizes in words: "M", or "left M, right L".
      def size_said
        return if choices.empty?

        sides.one? ? choice&.fetch(:chosen) : choices.map { |side, row| "#{side} #{row[:chosen]}" }.join(", ")
      end

      def devices = all_rows(:issued_devices).to_h { |row| [row[:side] || sides.first, row] }
      def device(side = sides.first) = devices[side]

      # The piece that is held for a side, or nil; where both sides take the same size, each its own.
      def reserved(side = sides.first)
        size = choice(side)&.fetch(:chosen) or return
        held = @rows.stock(fitting.id).select { |row| row[:state] != "gone" && ["", side.to_s].include?(row[:side]) && row[:size] == size }
        held[sides.take_while { |other| other != side }.count { |other| choice(other)&.fetch(:chosen) == size }]
      end

      # Whether anything of this product is kept on the shelf at all.
      def stocked? = @rows.stocked?(fitting.product_id)

      # How many of a size stand on the shelf.
      def on_shelf(size, side = nil)
        @rows.shelf(fitting.product_id).sum { |row| row[:size] == size && ["", side.to_s].include?(row[:side]) ? row[:count] : 0 }
      end

      # The steps that count for what was read: called with a site, gives a Length.
      def tape_resolution = resolution(usable_readings)

      # The readings of a side as the core takes them.
      def core_readings(side)
        rows_for(side).map do |row|
          Measuring::Reading[site: row[:site], side: row[:side], posture: row[:posture], tension: row[:tension],
                             length: Quantity::Length.mm(row[:value_mm].to_r), typed: row[:typed], struck: false]
        end
      end

      private

      # the repeatability of whoever read each site last, where it is known well enough
      def repeatability(side)
        rows_for(side).to_h { |row| [row[:site], @rows.repeatability(row[:by], row[:site])] }
                      .select { |_, found| found&.enough? && found.tem.positive? }.transform_values(&:share)
      end

      # the readings that a side's size hangs on; a device without a side is sized by the larger of two limbs
      def rows_for(side)
        return usable_readings.select { |row| row[:side].nil? || row[:side] == side } if side

        usable_readings.group_by { |row| row[:site] }.values.flat_map do |rows|
          rows.group_by { |row| row[:side] }.values.max_by { |of_side| of_side.sum { |row| row[:value_mm] } / of_side.size }
        end
      end

      # the coarsest tape used decides; at a site whose own step is coarser, that one
      def resolution(rows)
        tape = rows.map do |row|
          row[:tape]
        end.uniq.then { |tapes| tapes.empty? ? [clinic.tape] : tapes }.map { |key| Quantity::Tape[key].resolution }.max
        ->(site) { [tape, Anatomy::Vocabulary.default[site]&.resolution].compact.max }
      end
    end
  end
end
