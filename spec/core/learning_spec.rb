# frozen_string_literal: true

require "distribution"

# What outcomes say of charts, and of what was said.
RSpec.describe Handrail::Learning do
  describe ".wilson" do
    it "is the interval of the published examples" do
      # R. G. Newcombe, Statistics in Medicine 17, 1998, table I, method 3 (from memory): 81 of 263, 15 of 148, 0 of 20
      {
        [81, 263] => [0.2553, 0.3662],
        [15, 148] => [0.0624, 0.1605],
        [0, 20] => [0.0, 0.1611],
        [1, 29] => [0.0061, 0.1718]
      }.each do |(seen, count), expected|
        expect(described_class.wilson(seen, count).map { |n| n.round(4) }).to eq expected
      end
    end

    it "holds the share, widens as less was seen, and says nothing of nothing" do
      expect(described_class.wilson(0, 0)).to eq [0.0, 1.0]
      low, high = described_class.wilson(7, 10)
      wide, far = described_class.wilson(70, 100)
      expect([low, wide, 0.7, far, high]).to eq [low, wide, 0.7, far, high].sort
    end

    it "takes the normal's own point" do
      expect(described_class::Z).to be_within(1e-7).of(Distribution::Normal.p_value(0.975))
    end
  end

  describe Handrail::Learning::Reliability do
    it "gives the Brier score of certain, of guessed and of wrong words" do
      score = ->(points) { described_class.of(points).brier }
      expect(score[[[1.0, true], [0.0, false]]]).to eq 0
      expect(score[[[0.5, true], [0.5, false]]]).to eq 0.25
      expect(score[[[1.0, false]]]).to eq 1
      expect(score[[[0.7, true], [0.7, true], [0.7, false]]]).to be_within(1e-9).of(
        (0.09 + 0.09 + 0.49) / 3
      )
      expect(score[[]]).to be_nil
    end

    it "gathers by tenths, each with how often it was so" do
      steps = described_class.of([[0.71, true], [0.79, false], [0.95, true], [1.0, true]]).steps
      expect(steps.map { |step| [step.said.round(3), step.right, step.count] }).to eq [
           [0.75, 1, 2],
           [0.975, 2, 2]
         ]
      expect(steps.last.high).to eq 1.0
    end

    it "finds words that are as good as they say, drawn so, on their line" do
      generator = Random.new(12)
      points = Array.new(20_000) { (said = generator.rand) && [said, generator.rand < said] }
      described_class
        .of(points)
        .steps
        .each { |step| expect(step.said).to be_between(step.low - 0.03, step.high + 0.03) }
    end
  end

  describe Handrail::Learning::ChartTruth do
    names = %w[S M L]

    define_method(:truth) { |outcomes| described_class.new(names, outcomes.tally) }

    it "counts what was kept, and where the others went" do
      size =
        truth([%w[M M], %w[M L], %w[M L], %w[M S], %w[S S]]).sizes.find { |one| one.name == "M" }
      expect([size.count, size.kept, size.smaller, size.larger, size.to]).to eq [
           4,
           1,
           1,
           2,
           { "L" => 2, "S" => 1 }
         ]
    end

    it "speaks only when more than half is clear: 11 of 14, not 2 of 3" do
      clear = truth(([%w[M L]] * 11) + ([%w[M M]] * 3)).sizes.first
      expect(clear.clearly).to eq ["L", 11]
      expect(truth([%w[M L], %w[M L], %w[M M]]).sizes.first.clearly).to be_nil
    end

    it "says that a chart runs small or large once those who changed agree" do
      expect(truth([%w[M L]] * 6).runs).to eq :small
      expect(truth([%w[M S]] * 6).runs).to eq :large
      expect(truth([%w[M L], %w[M S]] * 3).runs).to be_nil
      expect(truth([%w[M M]] * 9).runs).to be_nil
    end

    it "passes over sizes that the chart does not have any more" do
      expect(
        truth([%w[XL XL], %w[M gone]]).sizes.map { |size| [size.name, size.larger, size.smaller] }
      ).to eq [["M", 0, 0]]
    end
  end
end
