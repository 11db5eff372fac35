# frozen_string_literal: true

require "spec_helper"

# A clinic's own family may compute what a built-in one does, under its own name and from its own sites.
RSpec.describe Handrail::Families::Computing do
  let(:built_in) { Handrail::Families::Registry.fetch("scoliosis_unloader") }
  let(:own) do
    raw = Marshal.load(Marshal.dump(built_in.to_h))
    raw["derive"].first.merge!(
      "title" => "Our bar",
      "inputs" => {
        "height" => {
          "reading" => "clavicle_to_crest"
        }
      }
    )
    Handrail::Families::Family.new(raw)
  end

  def sheet(family, height)
    pin =
      Struct.new(:family) { def method_of(name) = Handrail::Methods.made_by(name, 1) }.new(family)
    described_class.sheets(pin, { "side" => "left" }) { height }.fetch("strut")
  end

  it "says each family's own title, and its own site where that was not read, of the same inputs" do
    long = Handrail::Quantity::Length.parse("31 cm")
    expect([sheet(built_in, long), sheet(own, long)].map(&:title)).to eq ["The strut", "Our bar"]
    missing =
      [built_in, own].map { |family| sheet(family, nil).missing.map { |one| one.figures[:what] } }
    expect(missing.flatten.uniq.size).to eq 2
  end
end
