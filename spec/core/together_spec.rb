# frozen_string_literal: true

require "spec_helper"

RSpec.describe Handrail::Families::Together do
  def told(family, side, *worn) =
    described_class.against(family, side, worn).map { |one, _| one.first }

  it "names what pushes against it on the same limb, and not on the other" do
    expect(told("knee_frame", "left", %w[knee_unloader left], %w[knee_unloader right])).to eq %w[
         knee_unloader
       ]
    expect(told("knee_unloader", "left", %w[knee_unloader left])).to eq %w[knee_unloader]
    expect(told("graduated_stocking", "both", %w[compression_wrap right])).to eq %w[
         compression_wrap
       ]
    expect(told("foot_insole", "both", %w[knee_unloader left])).to eq []
  end

  it "names trunk devices whatever their side" do
    expect(told("lumbosacral_support", nil, %w[scoliosis_unloader left])).to eq %w[
         scoliosis_unloader
       ]
  end

  it "knows every family that it names" do
    rules = YAML.safe_load_file(described_class::FILE).fetch("together")
    expect(
      rules.flat_map { |rule| rule["families"] } - Handrail::Families::Registry.all.keys
    ).to eq []
  end
end
