# frozen_string_literal: true

require "matrix"

module Handrail
  module Measuring
    # What the girths of one person say about one another: the logarithms of some girths as one
    # normal distribution, with numbers made from real adults (knowledge/girths.yml says whose, and
    # how they were made).
    #
    # Sites that those adults were not read at stand near one at which they were (a calf 15 cm below
    # the knee near the widest calf): the logarithm of their ratio with a doubt of its own,
    # estimated and without a source.
    class GirthModel
      PATH = File.join(ROOT, "knowledge", "girths.yml")

      # joint distributions of some sites, which come again and again
      PARTS = Memory.new(400)
      private_constant :PARTS

      class << self
        # The model of the edition that is read by.
        def default = Edition.here.girths
      end

      # sites - keys of the joint distribution, in order; mean - of the logarithms of girths in mm;
      # covariance - rows; people - how many; thresholds - how many sites are known => the score
      # from which one honest person in a hundred is asked.
      attr_reader :sites, :mean, :covariance, :people, :thresholds, :near

      # raw - "sites", "mean", "covariance", "people", "thresholds", and "near": site => { "of",
      # "log_ratio", "sd" }
      # key - tells it from other models, where its parts are to be kept
      def initialize(raw, key: nil)
        @key = key || self
        @sites = raw["sites"]
        @mean = raw["mean"]
        @covariance = raw["covariance"]
        @people = raw["people"]
        @thresholds = raw["thresholds"].transform_keys(&:to_i)
        @near = raw.fetch("near", {})
      end

      def knows?(site, near: true) = sites.include?(site) || (near && @near.key?(site))

      # The score from which it is asked, where so many sites are known.
      def threshold(count) = thresholds.fetch(count.clamp(*thresholds.keys.minmax))

      # The joint distribution of some of the sites.
      def part(keys)
        PARTS.remember([@key, keys]) do
          Part.new(keys.map { |key| mean_of(key) }, covariance_of(keys))
        end
      end

      private

      def mean_of(key) = mean[index(key)] + (near.dig(key, "log_ratio") || 0)

      def index(key) = sites.index(near.dig(key, "of") || key)

      def covariance_of(keys)
        Matrix.build(keys.size) do |i, j|
          own = i == j ? (near.dig(keys[i], "sd") || 0)**2 : 0
          covariance[index(keys[i])][index(keys[j])] + own
        end
      end

      # The joint distribution of some girths, ready to be asked for each of them given the others.
      class Part
        attr_reader :mean

        # mean - of the logarithms; covariance - a Matrix
        def initialize(mean, covariance)
          @mean = mean
          @precision = covariance.inverse.to_a
        end

        # The precision of one given the others, and between two.
        def precision(i, j = i) = @precision[i][j]

        # Standard deviation of the logarithm of one given the others.
        def sd(i) = 1 / Math.sqrt(precision(i))

        # precision times (logs - mean): how hard each is pulled by the others. From it follow all
        # conditional means.
        def pulls(logs)
          rest = logs.zip(mean).map { |log, expected| log - expected }
          @precision.map { |row| row.zip(rest).sum { |weight, by| weight * by } }
        end

        # The logarithm that the others let expect for one, given the pulls.
        def expected(i, logs, pulls) = logs[i] - (pulls[i] / precision(i))

        # How much likelier the whole gets (as a difference of log densities) when one logarithm
        # moves by `step`, or one by `step` and another by `other`.
        def gain(pulls, i, step, j = nil, other = 0.0)
          change = (2 * pulls[i] * step) + (precision(i) * step * step)
          change +=
            (2 * pulls[j] * other) + (precision(j) * other * other) +
              (2 * precision(i, j) * step * other) if j
          -change / 2
        end
      end
    end
  end
end
