# frozen_string_literal: true

module Handrail
  module Measuring
    # Whether the girths of one person go together, and where they do not, which single reading best
    # explains it and what it may have been.
    #
    # Every explanation (a slip of one reading, two neighbouring sites the wrong way round, a
    # reading that nothing explains) is weighed against "all of it is so": how much likelier the
    # girths would be with it, as a logarithm, less what it costs to suppose it. The best one is
    # asked about where its score passes the threshold of the model, which is set so that one honest
    # person in a hundred is asked (docs/consistency.md). It asks and never refuses, and it has no
    # part in a size's probability.
    class Consistency
      # One reading as it was typed. mm - exact; text - the figure without its unit; unit; ref -
      # what the caller knows it by.
      Figure = Value.new(:mm, :text, :unit, :ref)

      # A site given the others. mm - its value, repeats folded; expected, low, high - mm as Floats,
      # 95 in 100 of those whose other girths are these lie between; z - how far off, in standard
      # deviations of its logarithm.
      Expected =
        Value.new(:site, :mm, :expected, :low, :high, :z) do
          # Less than one in so many lies that far off or farther, in round numbers; at most a
          # million.
          def one_in
            share = 2 * Normal.phi(-z.abs)
            [10**Math.log10(1 / [share, 1e-6].max).floor, 1_000_000].min
          end
        end

      # What is asked. site; ref - of the Figure; kind - :digits, :unit, :ten, :site or :unlike;
      # meant - a Slips::Slip, or nil; other - the other site where two are the wrong way round, or
      # nil; score; expected - an Expected.
      Question = Value.new(:site, :ref, :kind, :meant, :other, :score, :expected)

      # what it costs to suppose an explanation, as a logarithm; a reading that nothing explains is
      # supposed last
      COST = { digits: 0.0, unit: 0.0, ten: 0.0, site: 0.0, unlike: 3.0 }.freeze
      # the logarithms of girths of a body span this much: the density of a reading that could be
      # anything
      SPAN = 3.0
      # sites that are taken for each other: they lie near and are read one after the other
      NEIGHBOURS = [
        %w[calf_widest ankle_narrowest],
        %w[thigh_gluteal_fold knee_mid_patella],
        %w[knee_mid_patella calf_widest],
        %w[waist_natural hip_fullest],
        %w[hip_fullest thigh_gluteal_fold],
        %w[chest_fullest waist_natural],
        %w[thigh_15_above_mid_patella knee_mid_patella],
        %w[thigh_20_above_mid_patella knee_mid_patella],
        %w[knee_mid_patella calf_15_below_mid_patella],
        %w[thigh_15_above_mid_patella calf_15_below_mid_patella]
      ].freeze
      # 95 in 100 of a normal lie within so many standard deviations
      NINETY_FIVE = 1.959963984540054

      # figures - site => Figures in the order taken, all of one body and, where there are two, of
      # one side; model - a GirthModel; near - whether sites that only stand near one of the model's
      # count.
      def initialize(figures, model: GirthModel.default, near: true)
        @model = model
        @figures = figures.select { |site, _| model.knows?(site, near: near) }
        @sites = @figures.keys.sort
        @values = @figures.transform_values { |own| fold(own.map(&:mm)) }
        return if @sites.size < 2

        @part = model.part(@sites)
        @logs = @sites.map { |site| Math.log(@values[site].to_f) }
        @pulls = @part.pulls(@logs)
      end

      # Whether there are enough sites to say anything.
      def any? = !@part.nil?

      # The Expected of a site, or nil where it or the others are not known.
      def expected(site)
        return unless any? && @figures.key?(site)

        (@expected ||= {})[site] ||= given_the_others(site)
      end

      # What a site that was not read would probably be: an Expected without a value. Nil where
      # nothing is known.
      def forecast(site)
        return if @figures.key?(site) || @values.empty? || !@model.knows?(site)

        part = @model.part([site, *@sites])
        logs = [part.mean.first, *@sites.map { |one| Math.log(@values[one].to_f) }]
        at = part.expected(0, logs, part.pulls(logs))
        band = NINETY_FIVE * part.sd(0)
        Expected[
          site: site,
          expected: Math.exp(at),
          low: Math.exp(at - band),
          high: Math.exp(at + band),
          z: 0.0
        ]
      end

      # The Question, or nil: where nothing is unlikely, or what best explains it is among `quiet`,
      # an Array of [site, :high or :low] that were answered "it is so" before.
      def question(quiet: [])
        return unless any?

        best = explanations.max_by(&:score)
        return if best.nil? || best.score < @model.threshold(@sites.size)

        best unless quiet.include?([best.site, best.expected.z.positive? ? :high : :low])
      end

      # The score of the best explanation (for setting thresholds).
      def score = any? ? explanations.map(&:score).max : -Float::INFINITY

      private

      def given_the_others(site)
        i = @sites.index(site)
        at = @part.expected(i, @logs, @pulls)
        band = NINETY_FIVE * @part.sd(i)
        Expected[
          site: site,
          mm: @values[site],
          expected: Math.exp(at),
          low: Math.exp(at - band),
          high: Math.exp(at + band),
          z: (@logs[i] - at) / @part.sd(i)
        ]
      end

      def fold(values) =
        Repeats.new(values.map { |mm| Quantity::Length.mm(mm) }, resolution: STEP).mm

      # the tape matters to a Repeats' doubt, not to its value
      STEP = Quantity::Length.mm(1)
      private_constant :STEP

      def explanations
        @explanations ||=
          @sites.each_with_index.flat_map { |site, i| slips(site, i) + [unlike(site, i)] } +
            exchanges
      end

      # each figure of a site read another way, the repeats folded anew
      def slips(site, i)
        own = @figures[site]
        own.each_with_index.flat_map do |figure, n|
          Slips
            .of(figure.text, figure.unit)
            .map do |slip|
              values = own.map(&:mm)
              values[n] = slip.length.mm
              gain = @part.gain(@pulls, i, Math.log(fold(values).to_f) - @logs[i])
              Question[
                site: site,
                ref: figure.ref,
                kind: slip.kind,
                meant: slip,
                score: gain - COST[slip.kind],
                expected: expected(site)
              ]
            end
        end
      end

      # nothing explains it: it could be anything
      def unlike(site, i)
        found = expected(site)
        score =
          ((found.z**2) / 2) + Math.log(@part.sd(i) * Math.sqrt(2 * Math::PI) / SPAN) -
            COST[:unlike]
        Question[
          site: site,
          ref: @figures[site].last.ref,
          kind: :unlike,
          score: score,
          expected: found
        ]
      end

      # two neighbours the wrong way round; asked where it is farther off
      def exchanges
        NEIGHBOURS.filter_map do |pair|
          i, j = pair.map { |site| @sites.index(site) }
          next unless i && j

          step = @logs[j] - @logs[i]
          first, second = pair.map { |site| expected(site) }.sort_by { |one| -one.z.abs }
          Question[
            site: first.site,
            ref: @figures[first.site].last.ref,
            kind: :site,
            other: second.site,
            score: @part.gain(@pulls, i, step, j, -step) - COST[:site],
            expected: first
          ]
        end
      end
    end
  end
end
