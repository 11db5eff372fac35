# frozen_string_literal: true

require_relative "../../bin/support/capacity"

# The model of a group's size, against what was measured and against the formula's own table.
RSpec.describe Handrail::Capacity do
  it "meets the two points that were measured, within a fifth" do
    described_class::FIGURES
      .fetch("points")
      .each do |point|
        found = described_class.answers(*point.values_at("people", "think", "cores"))
        expect(found).to be_within(point["answers"] * 0.2).of(point["answers"])
      end
  end

  # Erlang's C for two servers is 2r^2 / (1 + r) where each is busy a share r of its time (closed form)
  it "has Erlang's share of those who wait" do
    [0.1, 0.5, 0.9].each do |busy|
      expect(described_class.erlang_c(busy * 2, 2)).to be_within(1e-12).of(
        2 * busy * busy / (1 + busy)
      )
    end
    # with one server it is how busy that is
    expect(described_class.erlang_c(0.7, 1)).to be_within(1e-12).of(0.7)
  end

  it "needs more of everything for more clinics, and a cluster more where one is full" do
    one, twenty, many = [1, 20, 2000].map { |n| described_class.new(n) }
    expect(one.machines.first).to be < many.machines.first
    expect(twenty.app_cores).to be <= many.app_cores
    expect(many.clusters).to eq((2000.0 / many.most_clinics).ceil)
    expect(described_class.new(many.most_clinics).clusters).to eq 1
    expect(described_class.new(many.most_clinics + 1).clusters).to eq 2
    expect(many.limits.fetch(many.first_to_fail)).to eq many.most_clinics
  end

  it "never answers where more comes than the cores can do" do
    expect(described_class.answer_ms(1000, 2)).to eq Float::INFINITY
    expect(described_class.answer_ms(1, 2)).to be_within(1).of(44)
  end

  it "is printed for a number of clinics, and takes nothing else" do
    expect { described_class.run(%w[--clinics 20]) }.to output(
      /\A20 clinics: .* machines: /m
    ).to_stdout
    expect { described_class.run(%w[--clinics none]) }.to output(
      /invalid argument/
    ).to_stderr.and raise_error(SystemExit)
    expect { described_class.run(%w[--clinics 0]) }.to output(
      /1 or more/
    ).to_stderr.and raise_error(SystemExit)
  end
end
