# frozen_string_literal: true

RSpec.describe Handrail::Passwords do
  def fault(password, **whose) = described_class.fault(password, **whose)

  it "takes words of one's own, whatever signs they are made of" do
    [
      "three gulls on a wall",
      "lamp-on-the-quay",
      "zwölf kleine Boote",
      "ΑΒΓΔΕ ζηθικ 42",
      "a b c d e f g h i"
    ].each do |good|
      expect([good, fault(good, email: "ida@gullrow.example", name: "Ida Marsh")]).to eq [good, nil]
    end
  end

  it "asks for twelve characters and no more than two hundred" do
    expect(fault("eleven chars"[0, 11])).to include("at least 12")
    expect(fault("abc def ghi ")).to be_nil
    expect(fault("word and " * 30)).to include("at most 200")
    expect([fault(nil), fault("")]).to all include("at least 12")
  end

  it "refuses what is tried first, also with other figures behind it, and rows of keys" do
    %w[
      password1234
      Password123456
      iloveyouforever
      Administrator2026!
      qwertyuiopas
      123456789012
      abcdefghijkl
      correcthorsebatterystaple
    ].each { |common| expect([common, fault(common)]).to match [common, /tried first/] }
  end

  it "refuses one character again and again" do
    expect(fault("aaaaaaaaaaaa")).to include("one again and again")
    expect(fault("abababababab")).to include("one again and again")
  end

  it "refuses the e-mail and the name, as they are and with a figure behind them" do
    whose = { email: "tamsin.holloway@gullrow.example", name: "Tamsin Holloway" }
    %w[tamsin.holloway TamsinHolloway1 tamsin.holloway@gullrow.example].each do |own|
      expect([own, fault(own, **whose)]).to match [own, /your name or e-mail/]
    end
    expect(fault("tamsin.holloway likes ginger tea", **whose)).to be_nil
  end
end
