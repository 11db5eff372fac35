# frozen_string_literal: true

require "store_helper"

# Readings that check each other, as they are taken at a visit.
RSpec.describe Handrail::Store::Commands::TakeReading do
  store = Handrail::Store
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:visit) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }

  def answer(row, answer) = run(visit, fitter, :AnswerReading, row: row[:id], answer: answer)
  def rows = record(visit).rows(:readings)

  # the knee of the plan, in its own way of reading
  def knee(text) = take(visit, fitter, text, site: "knee_mid_patella")

  def swapped
    knee("36")
    take(visit, fitter, "63")
  end

  it "asks about a calf with its digits turned, and uses it not until that is answered" do
    row = swapped
    expect(row[:question].to_h).to include(
      "code" => "beside",
      "meant" => "36 cm",
      "beside" => [["knee_mid_patella", "36 cm"]]
    )
    expect(record(visit).doubts.map { |one| one[:id] }).to eq [row[:id]]
    expect(record(visit).gates.open?(:size)).to be false
    expect { take(visit, fitter, "63") }.to raise_error(
      store::Unacceptable,
      /Say first whether 63 cm is so/
    )
  end

  it "asks about the earlier reading where that one explains it" do
    take(visit, fitter, "63")
    second = knee("36")
    expect(second[:question]).to be_nil
    expect(rows.first[:question].to_h).to include("code" => "beside", "meant" => "36 cm")
  end

  it "keeps the reading as it was meant, strikes out what was typed, and adds no repeat" do
    answer(swapped, "other")
    expect(record(visit).live_readings.map { |row| row[:typed] }).to eq %w[36 36]
    expect(rows.find { |row| row[:typed] == "63" }[:strike_reason]).to eq "typed 63 cm, meant 36 cm"
    expect(record(visit).doubts).to be_empty
  end

  it "strikes it out where it is to be read again" do
    answer(swapped, "again")
    expect(record(visit).live_readings.map { |row| row[:typed] }).to eq %w[36]
  end

  it "is quiet about an unusual leg once somebody said that it is so, at this visit and at the next" do
    answer(swapped, "right")
    again = take(visit, fitter, "63.2")
    expect(again[:question]).to be_nil
    expect(record(visit).usable_readings.size).to eq 3
  end

  it "puts two sites right that were taken for each other" do
    knee("30")
    row = take(visit, fitter, "36")
    asked =
      Handrail::Store.json(
        "code" => "beside",
        "site" => row[:site],
        "other" => "knee_mid_patella",
        "high" => true
      )
    overwrite(visit.id, :readings, { id: row[:id] }, question: asked)
    answer(row, "other")
    expect(record(visit).live_readings.to_h { |one| [one[:site], one[:typed]] }).to eq(
      "knee_mid_patella" => "36",
      CoreHelpers::CALF => "30"
    )
    expect(rows.first(2).map { |one| one[:strike_reason] }).to all(start_with("was left"))
  end

  it "puts a reading of the other side on that side" do
    row = take(visit, fitter, "36")
    asked =
      Handrail::Store.json(
        "code" => "since",
        "site" => row[:site],
        "side" => "right",
        "high" => true
      )
    overwrite(visit.id, :readings, { id: row[:id] }, question: asked)
    answer(row, "other")
    expect(record(visit).live_readings.map { |one| one.values_at(:side, :typed) }).to eq [
         %w[right 36]
       ]
  end

  it "never enters a size's probability" do
    knee("36")
    take(visit, fitter, "36.6")
    plain = record(visit).sizing.match.probability
    unread =
      make_visit(
        clinic,
        fitter,
        product: store::Product[record(visit).fitting.product_id]
      ).tap { |made| ask(made, fitter) }
    take(unread, fitter, "36.6")
    expect(record(unread).sizing.match.probability).to be_within(0.05).of(plain)
  end

  it "keeps question and answer in the record" do
    answer(swapped, "right")
    row = record(visit).live_readings.find { |one| one[:typed] == "63" }
    expect(row.values_at(:question, :answered_at, :answered_by)).to match [
            hash_including("meant" => "36 cm"),
            be_a(Time),
            fitter.id
          ]
  end

  it "counts once what is sent twice at once, also where it asks about an earlier reading" do
    take(visit, fitter, "63")
    key = SecureRandom.uuid
    2.times do
      run(
        visit,
        fitter,
        :TakeReading,
        { entry_key: key },
        site: "knee_mid_patella",
        side: "left",
        value: "36",
        unit: "cm"
      )
    end
    expect(rows.size).to eq 2
  end
end
