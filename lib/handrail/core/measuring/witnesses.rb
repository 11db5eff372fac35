# frozen_string_literal: true

module Handrail
  module Measuring
    # Who speaks against a reading, and which of them most clearly: the same site at the last visit,
    # the other limb, the order along the limb, and what the person's other girths say together
    # (Consistency; people only). Each has a doubt of its own. What is asked is data: a finding with
    # the figures of the strongest witness.
    #
    #   "code" - "since", "other_side", "along" or "beside"; "site"; "read" - as typed; "meant" - as it would have been
    #   typed, or nil; "as" - that as [figure, unit]; "other" - a site that was meant, or nil; "beside" - [[site,
    #   typed], ...]; "expected" - printed; "one_in"; "days"; "high" - whether the reading is too large for the witness
    class Witnesses
      # What one witness says. score - how much likelier another explanation is, as a logarithm,
      # beyond what is usual.
      Saying = Value.new(:score, :site, :ref, :finding)

      # A reading here. figures - site => Consistency::Figures; see `initialize`. SD of the
      # logarithm of left over right in people whose limbs are alike (common practice, no source)
      SIDES_SD = 0.03
      # one reading (Repeats::RELATIVE_SD), for each of two
      READING_SD = Repeats::RELATIVE_SD * Math.sqrt(2)
      # how far, in standard deviations, a witness lets a reading go before it speaks
      FAR = 4.0
      # how near a slip must bring it to count as what was meant
      NEAR = 2.0
      # a site along the limb may be larger than one that is the larger by its place by this share
      ORDER_SLACK = 0.03
      # [larger, smaller] by their place on the body
      ORDER = [
        %w[calf_widest calf_15_below_mid_patella],
        %w[calf_widest calf_20_below_mid_patella],
        %w[calf_widest calf_below_knee],
        %w[calf_widest ankle_narrowest],
        %w[calf_below_knee ankle_narrowest],
        %w[calf_15_below_mid_patella ankle_narrowest],
        %w[thigh_top thigh_mid],
        %w[thigh_gluteal_fold thigh_mid],
        %w[thigh_widest thigh_mid],
        %w[thigh_20_above_mid_patella thigh_15_above_mid_patella],
        %w[thigh_mid knee_mid_patella],
        %w[thigh_20_above_mid_patella knee_mid_patella],
        %w[thigh_15_above_mid_patella knee_mid_patella],
        %w[ankle_heel_instep ankle_narrowest],
        %w[hock_above hock_below],
        %w[carpus_above carpus_below]
      ].freeze
      # how a limb may change without being asked about: share a day, and at most (common practice,
      # no source); a limb that a family empties may fall faster
      CHANGE = { "per_day" => 0.002, "most" => 0.12, "falling_per_day" => 0.002 }.freeze

      # figures - site => Consistency::Figures of this side (of the trunk too), in the order taken;
      # site, ref - the reading that was just taken; past - site => [mm, days ago]; twin - the other
      # side then, [its name, mm], or nil; other - site => mm of the other side; human - whether the
      # joint numbers apply; change - as CHANGE; quiet - [site, :high or :low], answered "it is so"
      # before.
      def initialize(
        figures,
        site:,
        past: {},
        twin: nil,
        other: {},
        human: true,
        change: CHANGE,
        quiet: []
      )
        @figures = figures
        @site = site
        @past = past
        @twin = twin
        @other = other
        @human = human
        @change = CHANGE.merge(change)
        @quiet = quiet
      end

      # The Saying of the strongest witness, or nil.
      def strongest =
        [since, other_side, along, beside].compact.reject { |one| quiet?(one) }.max_by(&:score)

      private

      def quiet?(saying) = @quiet.include?([saying.site, saying.finding["high"] ? :high : :low])

      def newest = @figures.fetch(@site).last

      # the same site at the last visit
      def since
        before, days = @past[@site]
        return unless before

        falling = Math.log(newest.mm.fdiv(before)).negative?
        may = [@change[falling ? "falling_per_day" : "per_day"] * days, @change["most"]].min
        saying(
          "since",
          before,
          READING_SD,
          slack: may,
          figures: {
            "days" => days,
            **taken_on_other_side(may)
          }
        )
      end

      # what it read like on the other side: left and right taken for each other
      def taken_on_other_side(slack)
        side, there = @twin
        return {} unless there && Math.log(newest.mm.fdiv(there)).abs <= slack + (NEAR * READING_SD)

        { "side" => side, "meant" => nil, "as" => nil }
      end

      # the other limb: only where a slip explains it, since swollen limbs differ by more
      def other_side
        there = @other[@site] or return
        said = saying("other_side", there, Math.hypot(SIDES_SD, READING_SD))
        said if said && said.finding["meant"]
      end

      # a place that can not be larger than the one beside it
      def along
        ORDER
          .filter_map do |larger, smaller|
            unless [larger, smaller].include?(@site) && @figures.key?(larger) &&
                     @figures.key?(smaller)
              next
            end

            above = Math.log(fold(smaller).fdiv(fold(larger))) - ORDER_SLACK
            next unless above.positive?

            neighbour = @site == larger ? smaller : larger
            meant = meant_by { |mm| in_order?(mm, fold(neighbour), @site == larger) }
            Saying[
              score: ((above / READING_SD)**2) / 2,
              site: @site,
              ref: newest.ref,
              finding:
                finding(
                  "along",
                  @site == smaller,
                  meant,
                  "beside" => [[neighbour, said(neighbour)]]
                )
            ]
          end
          .max_by(&:score)
      end

      # whether a value could stand beside its neighbour: on the right side of it, and no other part
      # of the body
      def in_order?(mm, neighbour, larger)
        larger ? mm.between?(neighbour, neighbour * 1.7) : mm.between?(neighbour * 0.6, neighbour)
      end

      # all girths of one body together
      def beside
        return unless @human

        asked = Consistency.new(@figures).question(quiet: @quiet) or return
        expected = asked.expected
        others = (@figures.keys - [asked.site]).select { |site| GirthModel.default.knows?(site) }
        figure = @figures.fetch(asked.site).find { |one| one.ref == asked.ref }
        Saying[
          score: asked.score,
          site: asked.site,
          ref: asked.ref,
          finding: {
            "code" => "beside",
            "site" => asked.site,
            "read" => "#{figure.text} #{figure.unit}",
            "meant" => asked.meant&.said,
            "as" => asked.meant&.as,
            "other" => asked.other,
            "one_in" => expected.one_in,
            "beside" => others.map { |site| [site, said(site)] },
            "high" => expected.z.positive?,
            "from" => printed(expected.low, figure.unit),
            "to" => printed(expected.high, figure.unit),
            "unit" => figure.unit
          }
        ]
      end

      # the newest reading held against one value. slack - how far it may lie off besides, as a
      # logarithm
      def saying(code, value, deviation, slack: 0.0, figures: {})
        off = Math.log(newest.mm.fdiv(value))
        beyond = off.abs - slack
        return unless beyond > FAR * deviation

        meant = meant_by { |mm| Math.log(mm.fdiv(value)).abs <= slack + (NEAR * deviation) }
        Saying[
          score: ((beyond / deviation)**2) / 2,
          site: @site,
          ref: newest.ref,
          finding:
            finding(
              code,
              off.positive?,
              meant,
              "expected" => printed(value, newest.unit),
              "unit" => newest.unit,
              **figures
            )
        ]
      end

      def finding(code, high, meant, figures)
        {
          "code" => code,
          "site" => @site,
          "read" => "#{newest.text} #{newest.unit}",
          "meant" => meant&.said,
          "as" => meant&.as,
          "high" => high,
          **figures
        }
      end

      # the slip of the newest reading that the block accepts, as it would have been typed
      def meant_by = Slips.of(newest.text, newest.unit).find { |slip| yield slip.length.mm }

      def fold(site)
        lengths = @figures.fetch(site).map { |figure| Quantity::Length.mm(figure.mm) }
        Repeats.new(lengths, resolution: Quantity::Length.mm(1)).mm
      end

      def said(site) = @figures.fetch(site).last.then { |figure| "#{figure.text} #{figure.unit}" }
      def printed(mm, unit) =
        Quantity::Length.mm(mm.to_r.round(1)).then { |length| format("%.1f", length.in(unit)) }
    end
  end
end
