# frozen_string_literal: true

module Handrail
  module Measuring
    # Makes a GirthModel from people's girths, sets its thresholds, and counts on people it has not
    # seen how often it asks: cross-validation, with a fixed seed so that anyone gets the same
    # numbers.
    class GirthFit
      FOLDS = 10
      ROUNDS = 10
      HONEST = 0.99
      # the six that a lower limb and trunk are usually read at
      SIX = %w[
        waist_natural
        hip_fullest
        thigh_gluteal_fold
        knee_mid_patella
        calf_widest
        ankle_narrowest
      ].freeze
      # z of a 95 % interval
      Z = 1.959963984540054

      # A rate. asked of count were asked; named - of those, how often what was meant was offered;
      # low, high - 95 % interval of the share asked (Wilson's).
      Rate = Value.new(:what, :count, :asked, :named, :low, :high)

      # people - Arrays of girths in cm in the order of `sites`
      def initialize(people, sites:, near: {}, seed: 20_261_125)
        @people = people
        @sites = sites
        @near = near
        @seed = seed
      end

      # The numbers of knowledge/girths.yml.
      def numbers
        mean, covariance = moments(@people)
        {
          "people" => @people.size,
          "sites" => @sites,
          "mean" => mean.map { |x| x.round(6) },
          "covariance" => covariance.map { |row| row.map { |x| x.round(8) } },
          "thresholds" => thresholds,
          "near" => @near
        }
      end

      # Rates on people that were left out: honest ones, and each kind of slip at each of the six
      # sites.
      def rates(thresholds)
        found = Hash.new { |all, what| all[what] = [] }
        each_left_out(Random.new(@seed), rounds: 1) do |model, person|
          cases(person).each do |what, figures, meant|
            asked = Consistency.new(figures, model: model.with_thresholds(thresholds)).question
            found[what] << [!asked.nil?, asked && right?(asked, meant)]
          end
        end
        found.map { |what, answers| rate(what, answers) }
      end

      private

      # count of sites => the score that one honest person in a hundred passes, over chance choices
      # of that many sites; never less for more sites
      def thresholds
        random = Random.new(@seed)
        scores = Hash.new { |all, count| all[count] = [] }
        each_left_out(random, rounds: ROUNDS) do |model, person|
          (2..@sites.size).each do |count|
            chosen = person.slice(*@sites.sample(count, random: random))
            scores[count] << Consistency.new(figures(chosen), model: model).score
          end
        end
        highest = 0
        scores.sort.to_h do |count, all|
          highest = [highest, all.sort[(all.size * HONEST).ceil - 1].round(3)].max
          [count, highest]
        end
      end

      def each_left_out(random, rounds:)
        rounds.times do
          order = @people.shuffle(random: random)
          FOLDS.times do |fold|
            left_out, rest =
              order
                .each_with_index
                .partition { |_, i| i % FOLDS == fold }
                .map { |part| part.map(&:first) }
            mean, covariance = moments(rest)
            model =
              Trial.new(
                {
                  "sites" => @sites,
                  "mean" => mean,
                  "covariance" => covariance,
                  "people" => rest.size,
                  "thresholds" => {
                    2 => 0.0
                  },
                  "near" => @near
                }
              )
            left_out.each { |girths| yield model, @sites.zip(girths).to_h }
          end
        end
      end

      # a model whose thresholds are set afterwards
      class Trial < GirthModel
        def with_thresholds(thresholds)
          @thresholds = thresholds
          self
        end
      end
      private_constant :Trial

      def moments(people)
        logs = people.map { |girths| girths.map { |cm| Math.log(cm * 10) } }
        mean = logs.transpose.map { |column| column.sum / column.size }
        rest = logs.map { |row| row.zip(mean).map { |log, middle| log - middle } }
        covariance =
          mean.each_index.map do |i|
            mean.each_index.map { |j| rest.sum { |row| row[i] * row[j] } / (people.size - 1) }
          end
        [mean, covariance]
      end

      def figures(person) = person.to_h { |site, cm| [site, [figure(format("%g", cm), "cm")]] }

      def figure(text, unit)
        Consistency::Figure[mm: Quantity::Length.parse(text, unit: unit).mm, text: text, unit: unit]
      end

      # [what, figures, what was meant]
      def cases(person)
        six = person.slice(*SIX)
        honest = figures(six)
        [
          ["honest", honest, nil],
          *SIX.filter_map { |site| turned(six, honest, site) },
          *SIX.map do |site|
            typed = text(six[site])
            [
              "#{site}: cm typed as inches",
              honest.merge(site => [figure(typed, "in")]),
              ["#{typed} cm"]
            ]
          end,
          *[%w[calf_widest ankle_narrowest], %w[thigh_gluteal_fold knee_mid_patella]].map do |pair|
            [
              "#{pair.join(" and ")} exchanged",
              honest.merge(pair.zip(pair.reverse.map { |site| honest[site] }).to_h),
              pair
            ]
          end
        ]
      end

      def text(centimetres) = format("%g", centimetres)

      # the last two digits of the whole centimetres the other way round, where that is another
      # figure
      def turned(six, honest, site)
        whole, rest = text(six[site]).split(".")
        other = whole.dup
        other[-2] = whole[-1]
        other[-1] = whole[-2]
        return if other == whole || other.start_with?("0")

        typed = [other, rest].compact.join(".")
        [
          "#{site}: digits turned",
          honest.merge(site => [figure(typed, "cm")]),
          ["#{text(six[site])} cm"]
        ]
      end

      def right?(asked, meant)
        return false unless meant

        if asked.kind == :site
          meant.sort == [asked.site, asked.other].sort
        else
          meant.first == asked.meant&.said
        end
      end

      def rate(what, answers)
        count = answers.size
        asked = answers.count(&:first)
        share = asked.fdiv(count)
        middle = (share + ((Z**2) / (2 * count))) / (1 + ((Z**2) / count))
        half =
          Z / (1 + ((Z**2) / count)) *
            Math.sqrt((share * (1 - share) / count) + ((Z**2) / (4 * count * count)))
        Rate[
          what: what,
          count: count,
          asked: asked,
          named: answers.count(&:last),
          low: middle - half,
          high: middle + half
        ]
      end
    end
  end
end
