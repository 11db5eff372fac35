# frozen_string_literal: true

require "spec_helper"

# "Right" and "left" are sides, and nothing else: beside a left device no text may say "right" for what is
# correct, or "left" for what was forgotten. (Pages are held to it by web/mirror_spec.)
RSpec.describe "Words for sides" do
  other =
    /
      \b(?:is|it|be|are|sits?|put|all|not)\sright\b(?!\s(?:leg|foot|side|arm|knee|ankle|hip|hind|front)) |
      \bright\s(?:way|device|back|down|in|height|angle|side\sup|under|forward|round|size|one\s\w+)\b |
      \b(?:first,?|and)\sright[,.]?\s*(?:then|$) | \bleft\s(?:loose|under|out|behind|open|over\sfrom)\b
    /xi
  paths = Dir[File.join(Handrail::Knowledge::FOLDER, "{,families/}*.yml")]
  # left, right of a pair that are looked at both
  both = /left and right|Left, then right|left first, then right/

  paths.each do |path|
    it "mean a side wherever they stand in #{File.basename(path)}" do
      lines = File.readlines(path).map(&:strip).grep_v(/\A#/).map { |line| line.gsub(both, "both") }
      expect(lines.grep(other)).to eq []
    end
  end

  it "are told from other meanings" do
    wrong = [
      "Right way up",
      "Heel right back",
      "It is right",
      "Shoe left loose",
      "Sleeve first, and right"
    ]
    sound = [
      "on the right leg",
      "Right frame, marked",
      "wearer's right over left",
      "push with the left hand"
    ]
    expect([wrong.grep_v(other), sound.grep(other)]).to eq [[], []]
  end
end
