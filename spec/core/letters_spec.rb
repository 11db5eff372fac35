# frozen_string_literal: true

require "spec_helper"

RSpec.describe Handrail::Followup::Letters do
  about = {
    clinic: "Heron Quay",
    phone: "0555 0100",
    name: "R. Quill",
    day: Date.new(2026, 12, 3),
    time: "09:40"
  }

  it "says a visit in the wearer's language, with the day as that language writes it" do
    expect(described_class.say("booked", "en", **about)).to include(
      "on Thursday 3 December 2026 at 09:40"
    ).and include("Tell us on 0555 0100.")
    expect(described_class.say("booked", "de", **about)).to include(
      "am Donnerstag, 3. Dezember 2026 um 09:40 Uhr"
    ).and include("unter 0555 0100.")
  end

  it "leaves no name unfilled, and says nothing of a telephone where there is none" do
    %w[booked moved cancelled no_show]
      .product(%w[en de es xx])
      .each do |occasion, language|
        said = described_class.say(occasion, language, **about, phone: nil)
        expect(said).not_to match(/%|\{|0555/)
      end
  end

  it "tells whoever missed a visit what not to wait with" do
    expect(described_class.say("no_show", "en", **about)).to include(
      "take it off and tell us at once"
    )
    expect(described_class.say("cancelled", "en", **about)).to include(
      "take it off and tell us at once"
    )
  end

  it "asks an owner for the lead, not for clothes" do
    of = ->(occasion, animal) do
      described_class.say(
        occasion,
        "en",
        clinic: "Heron Quay",
        phone: "",
        name: "Leo",
        day: Date.new(2026, 12, 3),
        time: "09:40",
        animal: animal
      )
    end
    expect(of["booked", true]).to include("your dog's visit", "a lead")
    expect(of["booked", true]).not_to include("clothes")
    expect(of["booked", false]).to include("clothes")
    # what has no words of its own is said as to anybody
    expect(of["moved", true]).to eq of["moved", false]
  end
end
