# frozen_string_literal: true

require "spec_helper"

# How other people's figures and days are written, by what the whole column says; nothing is guessed.
RSpec.describe Handrail::Quantity::Marks do
  def printed(text) = described_class.readings(text).map { |one| described_class.print(one) }.sort

  it "says every reading that a figure may have" do
    {
      "1.250" => %w[1.25 1250],
      "1,250" => %w[1.25 1250],
      "0.125" => %w[0.125],
      "36,5" => %w[36.5],
      "1.250,5" => %w[1250.5],
      "1,250,000" => %w[1250000],
      "1250.000" => %w[1250],
      "1\u202F250,5 mm" => %w[1250.5],
      "14 3/8" => [],
      "14½" => [],
      "5' 3,250\"" => [],
      "365" => [],
      "about" => []
    }.each { |text, found| expect([text, printed(text)]).to eq [text, found] }
  end

  it "reads a column by what any of its figures shows" do
    found = ->(*texts, **how) { described_class.of(texts, **how) }
    expect(found["1.250", "36,5"].marks.plain("1.250")).to eq "1250"
    expect(found["1.250", "36.5"].marks.plain("1.250")).to eq "1.25"
    expect(found["1,250", "1,250.5"].marks.plain("1,250 mm")).to eq "1250 mm"
    # both are told by themselves, and nothing else is to be told
    expect(found["36.5", "36,5"]).to have_attributes(marks: nil, clear?: true)
    # no length of ours is 365 m long
    expect(found["36.500", most: [300]]).to have_attributes(marks: nil, clear?: true)
  end

  it "asks where nothing tells, and where the figures contradict one another" do
    [%w[1.250 1.300], %w[36.5 36,5 1.250]].each do |texts|
      found = described_class.of(texts)
      expect([found.clear?, found.choices.map(&:last).sort]).to eq [false, %w[1.25 1250]]
    end
    expect(described_class.of(%w[36.5 36,5 1.250]).at).to eq 2
  end

  it "puts no figure plainly that is not written so, and knows no writing with one sign for both" do
    marks = described_class.named(",", ".")
    expect([marks.plain("36.5"), marks.plain("1.25,5"), marks.plain("14 3/8")]).to eq [
         nil,
         nil,
         "14 3/8"
       ]
    expect(described_class.named(nil, ".")).to eq marks
    expect(marks.plain("1,011 mm")).to eq "1.0110 mm"
    expect(described_class.named(",", "'").plain("1'005")).to eq "1005"
    expect { described_class.named(".", ".") }.to raise_error(ArgumentError)
  end

  it "tells the order of days by the whole column" do
    orders = ->(*texts) { Handrail::Quantity::Day.orders(texts) }
    expect(orders["4/3/1961", "25/3/1961"]).to eq [:day]
    expect(orders["4/3/1961", "3/25/1961"]).to eq [:month]
    expect(orders["4/3/1961"]).to eq %i[day month]
    expect(orders["4/3/1961", "25/3/1961", "3/25/1961"]).to eq %i[day month]
    expect(orders["14 Mar 1961", "5/5/1961", "25/3/1961"]).to eq []
    day = Handrail::Quantity::Day
    expect([day.read("4/3/1961", first: :day), day.read("4/3/1961", first: :month)]).to eq [
         Date.new(1961, 3, 4),
         Date.new(1961, 4, 3)
       ]
  end
end
