# frozen_string_literal: true

require "pdf-reader"
require "stringio"

# Papers as PDF, read back.
RSpec.describe Handrail::Exchange::Paper do
  def make(**how)
    described_class.make(
      title: "Fitting record",
      head: ["Heron Quay", "1 Quay"],
      foot: "Foot",
      at: Time.at(0),
      **how
    ) { |paper| yield paper if block_given? }
  end

  def read(made) = PDF::Reader.new(StringIO.new(made.bytes))

  it "is the same to the byte for the same text, and another one for another" do
    one = make { |paper| paper.text("Calf 37.3 cm") }
    expect(make { |paper| paper.text("Calf 37.3 cm") }.sha256).to eq one.sha256
    expect(make { |paper| paper.text("Calf 37.4 cm") }.sha256).not_to eq one.sha256
  end

  it "writes names of any European language, and drops no letter" do
    text =
      read(make { |paper| paper.text("Łukasz Žižka, Ångström, Ødegård, Ἀθηνᾶ, Ћирилица") })
        .pages
        .first
        .text
    expect(text).to include("Łukasz", "Žižka", "Ångström", "Ødegård", "Ћирилица")
  end

  it "counts its pages, and says the foot on each" do
    made = make { |paper| paper.table(Array.new(120) { |i| ["row #{i}", "x"] }) }
    expect(made.pages).to be > 1
    pages = read(made).pages
    expect(pages.size).to eq made.pages
    expect(pages.count { |page| page.text.match?(%r{Foot\s+\d+ / \d+}) }).to eq made.pages
  end

  it "draws our figures, and fetches nothing from anywhere" do
    figure =
      Handrail::Drawings::Figure.new(Handrail::Anatomy::Figure.fetch("leg"), side: "left").to_s
    plain = make.bytes.bytesize
    expect(make { |paper| paper.drawing(figure) }.bytes.bytesize).to be > plain + 500
    outside =
      figure.sub("</svg>", '<image href="http://127.0.0.1:1/x.png" width="9" height="9"/></svg>')
    expect { make { |paper| paper.drawing(outside) } }.not_to raise_error
  end

  it "leaves out of a drawing's styles only what it can not need" do
    marks = '<path class="skin" d="M0 0 L9 9"/><text class="said is-on" x="5" y="9">calf</text>'
    drawing = %(<svg viewBox="0 0 20 20" xmlns="http://www.w3.org/2000/svg">#{marks}</svg>)
    made = -> { make { |paper| paper.drawing(drawing) }.sha256 }
    few = made.call
    stub_const("#{described_class}::RULES", [[[], described_class::STYLE]])
    whole = made.call
    stub_const("#{described_class}::RULES", [])
    expect([few == whole, few == made.call]).to eq [true, false]
  end

  it "draws a signature, and nothing for one that is none" do
    expect(
      make { |paper| paper.signature("M 20 70 L 34 42 M 1 1 L 2 2") }.bytes
    ).not_to eq make.bytes
    ["", "M", "M 3", nil].each do |path|
      expect { make { |paper| paper.signature(path) } }.not_to raise_error
    end
  end

  it "is set on A4 or Letter" do
    boxes =
      %w[A4 LETTER].map { |size| read(make(size: size)).pages.first.attributes[:MediaBox].last(2) }
    expect(boxes).to match [[be_within(0.1).of(595.28), be_within(0.1).of(841.89)], [612, 792]]
  end

  it "sets a wearer's paper in 14 point or more" do
    sizes = []
    receiver = Class.new { define_method(:set_text_font_and_size) { |_, size| sizes << size } }
    read(make(large: true) { |paper| paper.text("Wear it") && paper.list([%w[One two]]) })
      .pages
      .first
      .walk(receiver.new)
    # letterhead and foot are smaller: they are not what is read at home
    expect(sizes - [8, 11, 13]).to all(be >= 14)
    expect(sizes).to include 14
  end

  it "breaks no list after its first line or before its last, and leaves no heading alone" do
    (20..48).each do |lines|
      made =
        make(large: true) do |paper|
          lines.times { |i| paper.text("line #{i}") }
          paper.heading("A heading")
          paper.list(%w[one two three four].map { |word| "item #{word}" })
        end
      pages = read(made).pages.map(&:text)
      expect(pages.map { |text| text.scan("item").size }).not_to include(1), "after #{lines} lines"
      with = pages.find { |text| text.include?("A heading") }
      expect(with).to include("item one", "item two")
    end
  end

  it "keeps out what would not print" do
    expect(read(make { |paper| paper.text("a\u0000b\u0007c") }).pages.first.text).to include "abc"
  end
end
