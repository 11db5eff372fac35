# frozen_string_literal: true

require "yaml"
require_relative "../support/shown"

# What is shown of each device for one order, from measuring to recheck, written down beside the
# protocol, as a fitter would read it: a step, a check, a remedy or a warning that goes missing,
# changes its criterion or its place in the order shows here, and is changed in both places on
# purpose. Common practice, no source, as the families themselves.
RSpec.describe Handrail::Families do
  files = Dir[File.join(__dir__, "..", "fixtures", "protocols", "*.yml")]

  it "has an order of every family to show" do
    expect(
      files.map { |path| File.basename(path, ".yml") }
    ).to match_array described_class::Registry.all.keys
  end

  files.each do |path|
    YAML
      .safe_load_file(path)
      .each do |expected|
        it "shows for a #{expected["product"]}, #{expected["named"]}, what a fitter expects" do
          family = described_class::Registry.fetch(File.basename(path, ".yml"))
          shown =
            Shown.of(family, family.config(expected.fetch("order"), expected.fetch("options", {})))
          lists = expected.except("product", "order", "options")
          expect(shown.keys).to eq lists.keys
          lists.each { |name, lines| expect([name, shown[name]]).to eq [name, lines] }
        end
      end
  end
end
