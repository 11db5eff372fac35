# frozen_string_literal: true

# What a wearer reads in another language: all of it, with the same figures and names in it.
RSpec.describe Handrail::Language do
  families = Handrail::Families::Registry.all.values
  others = described_class::ALL.keys - ["en"]

  others.each do |key|
    families.each do |family|
      it "has words in #{key} for all that a sheet of a #{family.name.downcase} can show" do
        texts = Handrail::Families::SheetTexts.of(family)
        expect(texts.size).to be > 10
        expect(texts.reject { |text| described_class.of(key).knows?(text) }).to eq []
      end
    end

    it "keeps the names in braces and the figures of every text in #{key}" do
      named = /\{[\w.]+\}/
      figures = /\d+/
      texts = families.flat_map { |family| Handrail::Families::SheetTexts.of(family) }.uniq
      wrong =
        texts.reject do |text|
          said = described_class.of(key).say(text)
          text.scan(named).sort == said.scan(named).sort &&
            (said.scan(figures) - text.scan(figures)).empty? &&
            (text.scan(figures) - said.scan(figures)).empty?
        end
      expect(wrong).to eq []
    end

    it "holds nothing in #{key} that no sheet shows any more" do
      raw =
        Handrail::Knowledge.read(
          File.join(described_class::FOLDER, key, "texts.yml"),
          schema: "language"
        )
      texts = families.flat_map { |family| Handrail::Families::SheetTexts.of(family) }
      expect(raw["texts"].map { |one| one["en"] } - texts).to eq []
    end
  end

  it "says in English what it has no words for, and what is in English already" do
    expect(described_class.of("de").say("A text of tomorrow.")).to eq "A text of tomorrow."
    expect(described_class.of("en").say("Stand")).to eq "Stand"
    expect(described_class.of("xx").key).to eq "en"
    expect(described_class.of("de").say(nil)).to be_nil
  end

  it "fills the names in a text with words of the same language" do
    family = Handrail::Families::Registry.fetch("knee_unloader")
    config = family.config({ "side" => "left", "compartment" => "medial" }, {})
    text = "Hinge level with {height_landmark}. {height_landmark.says}"
    expect(described_class.of("de").fill(family, text, config)).to eq(
      "Das Gelenk in Höhe: der Gelenkspalt. Durch Beugen und Strecken des Knies gefunden."
    )
    start = described_class.of("de").fill(family, family.wear["start"], config)
    expect(start).to eq "Beginnen Sie mit 2 bis 3 Stunden am Tag, beim Stehen und Gehen."
  end
end
