# frozen_string_literal: true

module Handrail
  class Visit
    # What finds the size at a visit: for each side of the order the readings on the chart, the
    # trials, the computed sheets, what they advise, what was chosen and which device was taken for
    # it.
    class SizeWork
      # states of a piece that is kept for somebody
      HELD = %w[reserved taken].freeze
      # What the same readings come to is the same at every page: it is computed once.
      MATCHES = Memory.new(500)
      PRECISIONS = Memory.new(500)
      PROFILES = Memory.new(500)
      private_constant :MATCHES, :PRECISIONS, :PROFILES

      def initialize(visit)
        @visit = visit
        @matches = {}
        @sheets = {}
        @precisions = {}
        @profiles = {}
        @straps = {}
      end

      # The readings of a side on the pinned chart, as a Sizing::Match; nil without a chart.
      def match(side = first_side)
        chart = @visit.pin.chart or return
        @matches[side] ||= begin
          readings = core_readings(side)
          rule = @visit.pin.rule
          step = tape_resolution
          precise = precision(side)
          way = @visit.method_of("match")
          steps = readings.map { |reading| step[reading.site] }
          MATCHES.remember([way, chart, readings, steps, rule.name, rule.primary, precise]) do
            way.call(chart, readings, rule: rule, resolution: step, precision: precise)
          end
        end
      end

      # Sizing::Sheets by key, computed from the readings of a side.
      def sheets(side = first_side)
        @sheets[side] ||= Families::Computing.sheets(
          @visit.pin,
          @visit.config,
          side,
          girth: ->(strap) { girth_under(strap, side) }
        ) do |site, posture|
          paired = Anatomy::Vocabulary.default.fetch(site).paired
          @visit.repeats(site, paired ? side : nil, posture)&.length
        end
      end

      # The girth under a strap, from what was read of the limb, to the mm; nil where nothing was.
      def girth_under(key, side)
        level = @visit.family.straps.find { |strap| strap.key == key }&.level
        return unless level && girths_known(figure, side).any?

        at = Quantity::Length.parse(level).mm.to_f
        Quantity::Length.mm(profile(figure, side).girth(at).round)
      end
      private :girth_under

      # Both sizes in words: "M", or "left M, right L"; nil before one is chosen.
      def size_said
        return if choices.empty?

        if @visit.sides.one?
          choice&.fetch(:chosen)
        else
          choices.map { |side, row| "#{side} #{row[:chosen]}" }.join(", ")
        end
      end

      # The run of trial sizes on a side, or nil without a chart that names it.
      def trial_run(side = first_side)
        part = @visit.pin.chart&.parts&.first or return
        trials =
          @visit
            .rows(:size_trials)
            .select { |row| row[:side] == side }
            .map { |row| Sizing::TrialRun::Trial[size: row[:size], outcome: row[:outcome]] }
        @visit.method_of("trial_run").new(part, start: match(side).size, trials: trials)
      end

      # What is advised for a side: a Sizing::Advice, or nil where the product has no chart and
      # needs one.
      def advice(side = first_side)
        rule = @visit.family.size_rule
        chart = @visit.pin.chart
        case rule.by
        when "sheet"
          Sizing::Advice::BySheet[sheet: sheets(side).fetch(rule.sheet)]
        when "trial"
          chart &&
            Sizing::Advice::ByTrial[
              run: trial_run(side),
              match: match(side),
              run_names: chart.names
            ]
        else
          chart && Sizing::Advice::ByChart[match: match(side), all_must_fit: rule.all_must_fit]
        end
      end

      # Where most of those ended who were first fitted here in the size that is advised for a side,
      # once that is clear: [Learning::ChartTruth::Size, name of the other size, how many]; nil while it
      # is not, or while no size is advised.
      def ended_elsewhere(side = first_side)
        chart = @visit.pin.chart
        size = chart && advice(side)&.size or return
        found = @visit.source.chart_truth(chart.names).sizes.find { |one| one.name == size } or
          return
        other, many = found.clearly
        [found, other, many] if other
      end

      # How far the values of a side may be off, for this wearer and these fitters, as a
      # Measuring::Precision.
      def precision(side = first_side)
        @precisions[side] ||= begin
          girths = girths_known(body_figure, side)
          shares = repeatability(side)
          way = @visit.method_of("precision")
          PRECISIONS.remember([way, Edition.here.digest, body_figure.key, girths, shares]) do
            way.of(profile(body_figure, side), figure: body_figure.key, repeatability: shares)
          end
        end
      end

      # The wearer's profile on a figure: the reference bent to the girths of this visit, or of the
      # one before where there are none yet.
      def profile(figure, side = first_side)
        @profiles[[figure.key, side]] ||= profile_of(figure, girths_known(figure, side))
      end

      # What is read and what the rest will probably be, for a drawing only: [profile, levels that
      # were read]. Nothing is expected before anything was read, nor of animals.
      def expected_profile(figure, side = first_side)
        known = girths_known(figure, side)
        return profile(figure, side), [] if known.empty?

        all = (known + expected_girths(figure, side)).uniq(&:first)
        [profile_of(figure, all), known.map(&:first)]
      end

      # The figure that stands for the device: the family's, or that of the first site where none
      # lies on it.
      def figure
        @figure ||=
          begin
            shown = @visit.needs.map { |item| item.site.figure }
            own = @visit.family.figure
            Anatomy::Figure.fetch(shown.empty? || shown.include?(own) ? own : shown.first)
          end
      end

      # The front view of the same body, where girths have their levels.
      def body_figure
        @body_figure ||=
          Anatomy::Figure.all.each_value.find do |other|
            other.body == figure.body && other.reference
          end || Anatomy::Figure.fetch("leg")
      end

      # Chosen sizes by side: at this visit, or for a recheck at an earlier one.
      def choices = @choices ||= choices_so_far

      def choices_so_far
        here = @visit.rows(:size_choices)
        before = @visit.recheck? ? @visit.rows_so_far(:size_choices) : []
        (before + here).to_h { |row| [row[:side] || first_side, row] }
      end

      private :choices_so_far

      def choice(side = first_side) = choices[side]

      # Whether the size of a side was chosen at this very visit.
      def chosen_here?(side) = choice(side) ? choice(side)[:visit_id] == @visit.id : false

      # Whether the piece of a side came at this very visit: one whose number was put right came when
      # it came.
      def issued_here?(side)
        number = piece(side) or return false
        @visit.rows(:issued_devices).any? { |row| row[:version] == number }
      end

      # The number of the entry with which the piece of a side came, or nil.
      def piece(side) = device(side)&.then { |row| row[:piece] || row[:version] }

      # Whether the size rests on other readings than there are now, and those say another size: read
      # since, struck out or corrected.
      def size_outdated?(side)
        chosen = choice(side)
        return false unless chosen && chosen_here?(side) && !@visit.closed?

        kept = chosen[:rests_on].to_h["readings"]
        others = kept ? kept != deciding_entries(side) : read_since?(side, chosen)
        others && advice(side)&.size != chosen[:chosen]
      end

      # The numbers of the entries that took the readings which decide on a side, in their order.
      def deciding_entries(side)
        side ||= first_side
        rows_for(side).select { |row| decides?(row) }.map { |row| row[:version] }.sort
      end

      # Devices that are worn, by side.
      def devices
        @devices ||=
          @visit
            .rows_so_far(:issued_devices)
            .reject { |row| row[:ended_at] && row[:ended_why] == "written_anew" }
            .to_h { |row| [row[:side] || first_side, row] }
      end

      def device(side = first_side) = devices[side]

      # Whether the device that was written down is of the size that was chosen, and was written
      # down for it.
      def device_fits?(side)
        device = device(side)
        chosen = choice(side)
        return false unless device && chosen && device[:size] == chosen[:chosen]

        !chosen_here?(side) || issued_here?(side)
      end

      # The piece of the shelf that is held for a side, or nil.
      def reserved(side = first_side)
        size = choice(side)&.fetch(:chosen) or return
        held = @visit.source.stock.select { |row| row[:size] == size && HELD.include?(row[:state]) }
        held.find { |row| row[:held_side] == side.to_s }
      end

      # Whether anything of this product is kept on the shelf at all.
      def stocked? = @visit.source.stocked?

      # How many of a size stand on the shelf.
      def on_shelf(size, side = nil)
        sides = ["", side.to_s]
        @visit.source.shelf.sum do |row|
          row[:size] == size && sides.include?(row[:side]) ? row[:count] : 0
        end
      end

      # The steps that count for what was read: called with a site, gives a Length.
      def tape_resolution = @visit.resolution(@visit.usable_readings)

      # The readings of a side, as Measuring::Readings.
      def core_readings(side) = rows_for(side).map { |row| Measuring::Reading.of(row) }

      # The device's straps on a side, in closing order: the family's that apply, or as many as its
      # sheet counts.
      def straps(side = first_side) =
        @straps[side] ||= @visit.family.straps_for(@visit.config, sheets(side))

      private

      def first_side = @visit.sides.first

      # of a size from before it kept what it rested on
      def read_since?(side, chosen) =
        rows_for(side).any? { |row| row[:version] > chosen[:version] && decides?(row) }

      def decides?(row) = @visit.needs.any? { |item| item.decides && item.counts?(row) }

      def profile_of(figure, girths) =
        PROFILES.remember([Edition.here.digest, figure.key, girths]) { figure.profile(girths) }

      # the girths of this visit, or of the first one where there are none yet
      def girths_known(figure, side)
        source = @visit.usable_readings.empty? ? @visit.first : @visit
        known_girths(source, figure, side)
      end

      # [[level, girth], ...] of the readings of a visit that lie on a figure's body
      def known_girths(source, figure, side)
        source
          .usable_readings
          .map { |row| row[:site] }
          .uniq
          .filter_map do |key|
            site = Anatomy::Vocabulary.default[key]
            unless site&.level && site.kind == "girth" &&
                     Anatomy::Figure.fetch(site.figure).body == figure.body
              next
            end

            value = source.repeats(key, site.paired ? side : nil)
            value && [site.level.mm.to_f, value.mm.to_f]
          end
          .uniq(&:first)
      end

      # what the girths that were read let expect at the other sites of the body: [[level, mm], ...]
      def expected_girths(figure, side)
        Measuring::GirthModel.default.sites.filter_map do |key|
          site = Anatomy::Vocabulary.default[key]
          next unless site.level && Anatomy::Figure.fetch(site.figure).body == figure.body

          found = @visit.cross.forecast(key, site.paired ? side : nil)
          found && [site.level.mm.to_f, found.expected]
        end
      end

      # the repeatability of whoever read each site last, where it is known well enough
      def repeatability(side)
        rows_for(side)
          .to_h { |row| [row[:site], @visit.source.repeatability(row[:by], row[:site])] }
          .select { |_, found| found&.enough? && found.tem.positive? }
          .transform_values(&:share)
      end

      # the readings that a side's size hangs on; a device without a side is sized by the larger of
      # two limbs
      def rows_for(side)
        usable = @visit.usable_readings
        return usable.select { |row| row[:side].nil? || row[:side] == side } if side

        usable
          .group_by { |row| row[:site] }
          .values
          .flat_map do |rows|
            rows
              .group_by { |row| row[:side] }
              .values
              .max_by { |own| own.sum { |row| row[:value_mm] } / own.size }
          end
      end
    end
  end
end
