# frozen_string_literal: true

require "tmpdir"
require_relative "../support/broken_families"

# The laws over families: what ships keeps them all, and what is broken on purpose is found. Each way of breaking
# is made by a script from the shipped files; a law that does not notice one can not be trusted with the next.
RSpec.describe Handrail::Families::Laws do
  def review(path) = Handrail::Families::Review.of(path).breaches

  Dir[File.join(Handrail::Families::Registry::FOLDER, "*.yml")].each do |path|
    it "finds nothing in #{File.basename(path)}" do
      expect(review(path).map(&:to_a)).to eq []
    end
  end

  BrokenFamilies::WAYS.each do |law, ways|
    ways.each do |name, way|
      it "#{law}: finds #{name} in every family that has it" do
        made = BrokenFamilies.made(way)
        expect(made).not_to be_empty
        missed =
          made.reject { |_, family, raw| described_class.review(family, raw, only: law).any? }
        expect(missed.map(&:first)).to eq []
      end
    end
  end

  def reviewed(way, law)
    BrokenFamilies
      .made(way)
      .flat_map { |_, family, raw| described_class.review(family, raw, only: law) }
  end

  it "asks nobody to hold what is counted" do
    counted =
      BrokenFamilies.on_family do |raw|
        raw["order"]["fields"] << {
          "key" => "pieces",
          "label" => "Pieces",
          "type" => "number",
          "least" => 1,
          "most" => 9
        }
      end
    expect(BrokenFamilies.made(counted)).not_to be_empty
    expect(reviewed(counted, "ordered_is_held")).to eq []
  end

  it "names the remedy that stands under both ways of one check, and under no others" do
    found = reviewed(BrokenFamilies::TWO_WAYS.fetch("one remedy under both"), "two_ways")
    expect(found.map(&:finding)).to include(%r{ stands under both ways\z})
  end

  it "says the line of what it finds" do
    Dir.mktmpdir do |folder|
      path = File.join(folder, "ankle_sleeve.yml")
      text = File.read(File.join(Handrail::Families::Registry::FOLDER, "ankle_sleeve.yml"))
      File.write(path, text.sub("    force: more\n", "    force: same\n"))
      found = Handrail::Families::Review.of(path)
      breach = found.breaches.first
      expect([breach.law, breach.path]).to eq %w[tightening problems.wrinkles.remedies.size]
      expect(text.lines[found.line(breach.path) - 1]).to eq "  - key: size\n"
    end
  end
end
