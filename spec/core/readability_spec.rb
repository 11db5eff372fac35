# frozen_string_literal: true

# Reading grades against values worked out by hand from the published formulas.
RSpec.describe Handrail::Families::Readability do
  def grade(...) = described_class.grade(...)

  # Kincaid and others, 1975: 0.39 x 6 words + 11.8 x 6/6 syllables - 15.59
  it "grades English by words and syllables" do
    expect(grade(["The cat sat on the mat."])).to be_within(1e-9).of((0.39 * 6) + 11.8 - 15.59)
    # 5 words, 11 syllables by groups of vowels: Unfortunate 4 (its e is silent), the, information 4, is, lost
    long = grade(["Unfortunate, the information is lost."])
    expect(long).to be_within(1e-9).of((0.39 * 5) + (11.8 * 11 / 5.0) - 15.59)
    expect(long).to be > grade(["Sit down. Take it off."])
  end

  # Bamberger and Vanecek, 1984: MS 0, SL 4, IW 0, ES 50 (Die, Gurt; of-fen is two, sind is one: 75)
  it "grades German by long words and long sentences" do
    expect(grade(["Die Gurte sind zu."], "de")).to be_within(1e-9).of(
      (0.1672 * 4) - (0.0327 * 75) - 0.875
    )
    hard = "Die Orthesenversorgung erfordert fortlaufende Verlaufskontrollen."
    expect(grade([hard], "de")).to be > 6
  end

  # Crawford, 1984: one sentence of four words, eight syllables by groups of vowels
  it "grades Spanish by sentences and syllables in a hundred words" do
    expect(grade(["La cinta queda floja."], "es")).to be_within(1e-9).of(
      (-0.205 * 25) + (0.049 * 7 * 25) - 3.407
    )
  end

  it "splits at every mark, passes over names in braces, and says nothing of what it has no formula for" do
    expect(grade(["Sit: then stand.", "{height}"])).to eq grade(["Sit. Then stand. It."])
    expect([grade([], "en"), grade(["Bonjour."], "fr")]).to eq [0.0, nil]
  end
end
