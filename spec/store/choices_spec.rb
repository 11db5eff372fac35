# frozen_string_literal: true

require "store_helper"

# What a clinic settles for itself, and that it reaches no fitting that runs.
RSpec.describe Handrail::Store::Choices do
  store = Handrail::Store
  let(:clinic) { make_clinic }
  let(:senior) { make_account(clinic, "senior") }

  def settle(**choices)
    clinic.refresh
    form = {
      "seen" => Handrail::Store::ClinicValues.digest(clinic),
      "name" => "Spec clinic",
      "place" => "Elsewhere",
      "time_zone" => "Europe/London",
      "tape" => "cm 1 mm",
      "bedside_routine" => "yes"
    }
    desk(clinic, senior).run(
      Fixtures::Commands::ChangeSettings.new(
        form.merge("choices" => choices.transform_keys(&:to_s))
      )
    )
    clinic.refresh
  end

  def fault(field, text) = described_class.faults(described_class.read(field => text))[field]

  it "says what is wrong with a field, and takes what is right" do
    {
      "repeats" => %w[0 4 two],
      "like_years" => %w[11 -1],
      "closed_days" => ["32 Dec 2026", "Monday"],
      "hours_mon" => %w[nine 17:00-09:00 9],
      "window.knee_unloader.first" => []
    }.each do |field, wrong|
      wrong.each { |text| expect(fault(field, text)).to be_a(String), "#{field}: #{text}" }
    end
    {
      "repeats" => "3",
      "like_years" => "5",
      "hours_mon" => "8:30 to 12:00",
      "closed_days" => "25 Dec 2026\n31 Dec 2026 to 2 Jan 2027"
    }.each { |field, right| expect(fault(field, right)).to be_nil, field }
    expect(described_class.days("31 Dec 2026 to 2 Jan 2027").size).to eq 3
  end

  it "cuts nothing off: what is too long is refused with its limit" do
    described_class::TEXTS.each do |name, most|
      next if name == "closed_days"

      expect(fault(name, "x" * most)).to be_nil, name
      expect(fault(name, "x" * (most + 1))).to eq "Shorten it to at most #{most} characters."
    end
  end

  it "lets a recheck come earlier than the trade plans it, and never later" do
    described_class.windows.each do |name, planned|
      expect(fault(name, "#{planned.from_days}-#{planned.to_days}")).to be_nil
      expect(fault(name, "#{planned.from_days}-#{planned.to_days + 1}")).to include(
        "Not later than"
      )
      if planned.to_days > planned.from_days
        expect(fault(name, "#{planned.to_days}-#{planned.from_days}")).to be_a(String)
      end
    end
  end

  it "reaches the fittings that are ordered after it, and none that runs" do
    before = make_visit(clinic, senior)
    settle("repeats" => "2", "firm" => ["teach"])
    after = make_visit(clinic, senior)
    expect([record(before).least_repeats, record(after).least_repeats]).to eq [1, 2]
    expect([record(before).held_firm, record(after).held_firm]).to eq [[], [:teach]]
  end

  it "asks for as many readings as were settled before a site counts as read" do
    settle("repeats" => "2")
    visit = make_visit(clinic, senior)
    ask(visit, senior)
    take(visit, senior, "36.5")
    expect(record(visit).unread.map { |item| item.site.key }).to eq [CoreHelpers::CALF]
    take(visit, senior, "36.4")
    expect(record(visit).unread).to be_empty
  end

  it "counts the word of seniors whom the clinic named, of every one where it named nobody" do
    fitter = make_account(clinic)
    other = make_account(clinic, "senior")
    word = ->(whom) do
      fitted = fitted_visit(clinic, fitter)
      run(fitted, whom, :LetPass, reason: "carer comes Friday")
      record(fitted).gates.blocks(:hand_over)
    end
    settle("word_teach" => other.email.upcase, "word_fit" => senior.email)
    expect { word.call(senior) }.to raise_error(
      Handrail::Store::NotAllowed,
      /named the seniors whose word counts for the teach stage/
    )
    expect(word.call(other)).to eq []
    expect { settle("word_teach" => "#{other.email}\n#{fitter.email}") }.to raise_error(
      Handrail::Store::Faults
    ) { |e| expect(e.fields).to eq("word_teach" => "No senior here signs in as #{fitter.email}.") }
    settle("word_teach" => "")
    senior.refresh
    expect(word.call(senior)).to eq []
  end

  it "holds against a senior's word what was settled to be firm" do
    [[], ["teach"]].each do |firm|
      settle("firm" => firm)
      visit = fitted_visit(clinic, senior)
      let_pass = -> { run(visit, senior, :LetPass, reason: "carer comes on Friday") }
      if firm.empty?
        expect(let_pass.call).to(be_truthy)
      else
        expect(&let_pass).to(raise_error(store::Refused))
      end
    end
  end

  it "plans a recheck in the clinic's own window" do
    name, planned =
      described_class.windows.find { |key, _| key.start_with?("window.knee_unloader.") }
    settle(name => "#{[planned.from_days - 1, 0].max}-#{planned.from_days}")
    visit = record(make_visit(clinic, senior))
    own = visit.recheck_plan.find { |one| one.key == planned.key }
    expect([own.from_days, own.to_days]).to eq [[planned.from_days - 1, 0].max, planned.from_days]
    expect(visit.family.recheck_plan.find { |one| one.key == planned.key }).to eq planned
  end

  it "says when the clinic is shut, and books it all the same where that is said" do
    expect(clinic.choices_made.shut(Date.new(2026, 12, 25), 3, 0)).to be_nil
    settle("hours_fri" => "09:00-17:00", "closed_days" => "25 Dec 2026")
    visit = make_visit(clinic, senior)
    book = ->(day, time, **more) { run(visit, senior, :BookVisit, day: day, time: time, **more) }
    expect { book["25 Dec 2026", "10:00"] }.to raise_error(
      store::Unacceptable,
      /closed on that day\. Tick/
    )
    expect { book["4 Dec 2026", "17:00"] }.to raise_error(
      store::Unacceptable,
      /open from 09:00 to 17:00/
    )
    expect { book["5 Dec 2026", "10:00"] }.to raise_error(store::Unacceptable, /day of the week/)
    # a first fitting takes an hour, and the clinic is open until it is over
    expect { book["4 Dec 2026", "16:01"] }.to raise_error(store::Unacceptable, /open from/)
    expect(book["4 Dec 2026", "16:00"]).to be_truthy
    expect(book["25 Dec 2026", "10:00", anyway: "yes"]).to be_truthy
  end
end
