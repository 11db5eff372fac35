# frozen_string_literal: true

RSpec.describe Handrail::Handbook do
  subject(:handbook) { described_class.default }

  let(:sites) { Handrail::Anatomy::Vocabulary.default }

  def titles(text) = handbook.search(text).map(&:title)

  it "finds a site, a device, a check and a problem by any of their words" do
    expect(titles("calf").first).to start_with "Calf"
    expect(handbook.search("knee unloader").first).to have_attributes(
      kind: :family,
      key: "knee_unloader"
    )
    kinds = handbook.search("numb", limit: 200).map(&:kind).uniq
    expect(kinds).to include(:check, :problem)
    expect(handbook.search("iliac crest").map(&:key)).to include("hip_mid_crest_trochanter")
  end

  it "wants all the words, and finds nothing for none" do
    expect(titles("calf harness giraffe")).to be_empty
    expect([titles(""), titles("  ,;"), titles(nil)]).to all be_empty
    expect(titles("%_\\ ' \" <b>")).to be_a(Array)
  end

  it "puts titles before texts, and ends" do
    found = handbook.search("strap", limit: 5)
    expect(found.size).to eq 5
    expect(found.first.title.downcase).to include("strap")
  end

  it "holds every site and every family" do
    expect(handbook.sites.values.flatten.map(&:key)).to match_array sites.map(&:key)
    expect(handbook.families.map(&:key)).to match_array Handrail::Families::Registry.all.keys
  end

  it "says what a girth is easily taken for: the same kind, on the same part of the body, the nearest first" do
    beside = handbook.beside(sites.fetch("calf_widest"))
    expect(beside.size).to eq 3
    expect(beside).to all have_attributes(kind: "girth")
    distances = beside.map { |site| (site.level.mm - sites.fetch("calf_widest").level.mm).abs }
    expect(distances).to eq distances.sort
    expect(handbook.beside(sites.fetch("foot_length"))).to be_empty
  end

  it "names who asks for a site" do
    expect(handbook.asking(sites.fetch("calf_15_below_mid_patella")).map(&:key)).to include(
      "knee_unloader",
      "knee_frame"
    )
  end

  it "lists published sources with what rests on them, and leaves common practice out" do
    sources = handbook.sources
    expect(sources.map(&:text)).to include(/ISO 8559-1/)
    expect(sources.map(&:text)).not_to include(described_class::COMMON)
    expect(sources.flat_map(&:sites)).to all(
      satisfy { |site| site.source != described_class::COMMON }
    )
  end

  it "says of each school what is followed here, and why" do
    expect(handbook.schools.size).to be >= 6
    expect(handbook.schools).to all(
      satisfy do |school|
        school.ways.size >= 2 &&
          [school.topic, school.followed, school.why].none? { |text| text.to_s.empty? }
      end
    )
  end

  it "leaves no name in braces in a title" do
    all = handbook.send(:entries)
    expect(all.map(&:title).grep(/[{}]/)).to be_empty
    expect(all.map(&:title).grep(/\A\s*\z/)).to be_empty
  end
end
