# frozen_string_literal: true

require "spec_helper"

RSpec.describe Handrail::Measuring::Witnesses do
  def figure(text, unit = "cm", ref: nil)
    mm = Handrail::Quantity::Length.parse(text, unit: unit).mm
    Handrail::Measuring::Consistency::Figure[mm: mm, text: text, unit: unit, ref: ref]
  end

  def witnesses(site, read, **how)
    figures = read.to_h { |key, text| [key.to_s, [figure(text, ref: key.to_s == site ? nil : 1)]] }
    described_class.new(figures, site: site, **how)
  end

  def heard(...) = witnesses(...).strongest&.finding

  it "hears the last visit: a limb that changed more than it can, with what it was" do
    past = { "calf_widest" => [365, 30] }
    expect(heard("calf_widest", { calf_widest: "63" }, past: past)).to include(
      "code" => "since",
      "expected" => "36.5",
      "days" => 30,
      "meant" => "36 cm",
      "high" => true
    )
    expect(heard("calf_widest", { calf_widest: "37.5" }, past: past)).to be_nil
  end

  it "names the other side, where that is what it read like there" do
    past = { "calf_widest" => [365, 30] }
    asked = ->(mm) do
      heard("calf_widest", { calf_widest: "43.1" }, past: past, twin: ["right", mm])
    end
    expect(asked[430]).to include("side" => "right", "meant" => nil)
    expect(asked[500]["side"]).to be_nil
    expect(Handrail::Wording.question(asked[430])).to end_with("Was it the right one?")
  end

  it "lets a limb empty that its device empties, and asks of the same where none does" do
    past = { "calf_widest" => [450, 14] }
    emptied = { "falling_per_day" => 0.012, "most" => 0.35 }
    expect(heard("calf_widest", { calf_widest: "38.5" }, past: past)).to include(
      "code" => "since",
      "high" => false
    )
    expect(heard("calf_widest", { calf_widest: "38.5" }, past: past, change: emptied)).to be_nil
  end

  it "hears the other limb only where a slip explains it, since one may be swollen" do
    other = { "calf_widest" => 365 }
    expect(heard("calf_widest", { calf_widest: "63" }, other: other)).to include(
      "code" => "other_side",
      "meant" => "36 cm"
    )
    expect(heard("calf_widest", { calf_widest: "44" }, other: other)).to be_nil
  end

  it "hears the order along the limb, for a person and for a dog" do
    found =
      heard("calf_15_below_mid_patella", { calf_widest: "36", calf_15_below_mid_patella: "39.5" })
    expect(found).to include(
      "code" => "along",
      "high" => true,
      "beside" => [["calf_widest", "36 cm"]]
    )
    expect(heard("hock_below", { hock_above: "11", hock_below: "21" }, human: false)).to include(
      "code" => "along",
      "meant" => nil
    )
    expect(heard("hock_below", { hock_above: "11", hock_below: "10" }, human: false)).to be_nil
  end

  it "hears the person's other girths, and blames the reading that explains it, be it an earlier one" do
    read = { knee_mid_patella: "36", calf_widest: "63", ankle_narrowest: "22" }
    said = witnesses("ankle_narrowest", read).strongest
    expect([said.site, said.ref, said.finding["code"], said.finding["meant"]]).to eq [
         "calf_widest",
         1,
         "beside",
         "36 cm"
       ]
    expect(witnesses("ankle_narrowest", read, human: false).strongest).to be_nil
  end

  it "names the strongest of several" do
    read = { knee_mid_patella: "36", ankle_narrowest: "22", calf_widest: "63" }
    one =
      witnesses(
        "calf_widest",
        read,
        past: {
          "calf_widest" => [365, 7]
        },
        other: {
          "calf_widest" => 362
        }
      )
    expect(one.strongest.finding["code"]).to eq "since"
  end

  it "says nothing of what was answered “it is so”" do
    past = { "calf_widest" => [365, 30] }
    expect(
      heard("calf_widest", { calf_widest: "63" }, past: past, quiet: [["calf_widest", :high]])
    ).to be_nil
  end

  it "puts every code into words, with every figure" do
    found = [
      heard("calf_widest", { calf_widest: "63" }, past: { "calf_widest" => [365, 30] }),
      heard("calf_widest", { calf_widest: "63" }, other: { "calf_widest" => 365 }),
      heard("calf_15_below_mid_patella", { calf_widest: "36", calf_15_below_mid_patella: "39.5" }),
      heard("calf_widest", { knee_mid_patella: "36", ankle_narrowest: "22", calf_widest: "63" })
    ]
    words = found.map { |finding| Handrail::Wording.question(finding) }
    expect(words).to match [
            /63 cm now, 36.5 cm 30 days ago/,
            /63 cm here, 36.5 cm on the other side/,
            /39.5 cm beside calf, widest.* 36 cm/,
            /63 cm beside .*36 cm and .*22 cm: not one adult in \d/
          ]
    expect(words).to all(satisfy { |text| !text.include?("%{") })
  end
end
