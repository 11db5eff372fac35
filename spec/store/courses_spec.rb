# frozen_string_literal: true

require "store_helper"

# How girths change over the visits of a fitting, against the edges of the size that is worn.
RSpec.describe Handrail::Visit::TrendWork do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  # a device handed over with 36.5 cm in M (35.5 to 37.5), then a recheck for each girth, so many
  # days apart
  def followed(*girths, every: 20)
    visit = store_at(every * girths.size) { handed_over_visit(clinic, fitter) }
    girths.each_with_index do |girth, i|
      store_at(every * (girths.size - 1 - i)) do
        visit = record(visit).visits.find { |row| row.opened_at.nil? } || record(visit).visits.last
        ask(visit, fitter)
        take(visit, fitter, girth)
        confirm(visit, fitter)
        close(visit) if i < girths.size - 1
      end
    end
    record(visit)
  end

  def store_at(days, &block) = Handrail::Store.at(Time.now - (days * 86_400), &block)

  def close(visit)
    answer_all(visit)
    look_at_all(visit, fitter)
    run(visit, fitter, :CloseRecheck)
  end

  def answer_all(visit)
    record(visit).asks_open.each do |ask, side|
      run(
        visit,
        fitter,
        :AnswerRecheck,
        field: ask.key,
        answer: ask.choices&.first&.key || "4 hours",
        side: side
      )
    end
  end

  def said(visit)
    course = visit.trend.courses("left").first
    Handrail::Wording.course(
      course,
      "Calf",
      last: course.trend.last,
      following: visit.wear.next_recheck&.to
    ).join(" ")
  end

  it "says nothing before a site was read on three days" do
    expect(followed("36.3").trend.courses("left")).to be_empty
  end

  it "foretells the day on which a shrinking limb leaves the size that is worn" do
    visit = followed("36.3", "36.1", "35.9")
    course = visit.trend.courses("left").first
    expect([course.trend.verdict, course.size, course.low.to_f, course.high.to_f]).to eq [
         :falling,
         "M",
         355.0,
         375.0
       ]
    expect(course.crossing.on).to be_between(clinic.today + 20, clinic.today + 60)
    expect(said(visit)).to match(
      /Calf: 0.7 mm less a week .* At this rate M is too large from about \d+ \w+ \d{4}/
    )
  end

  it "asks to bring the next visit forward where the size is left before it" do
    visit = followed("36.3", "36.1", "35.9")
    course = visit.trend.courses("left").first
    expect(course.before?(course.crossing.on + 1)).to be true
    expect(course.before?(course.crossing.on)).to be false
    expect(course.before?(nil)).to be false
  end

  describe "by readings that were put right" do
    let(:visit) { followed("36.3", "36.1", "35.9").row }

    def put_right(number, value)
      held = record(visit).visits.find { |row| row.number == number }
      old = record(held).live_readings.first
      run(held, fitter, :CorrectReading, corrects: old[:id].to_s, value: value, why: "wrong line")
    end

    def turned = Handrail::Store::Day.new(clinic).dues.fetch("turned")
    def again = record(visit).concerns.put_right.map { |one| [one.kind, one.figures[:course]] }

    it "is said where it goes another way, until the site was read again" do
      expect(turned).to eq []
      put_right(2, "35.7")
      expect(again).to eq [[:turned, "steady"]]
      expect(Handrail::Wording.concern(turned.first)).to match(
        /\ACalf.*: by the readings put right on .* it stays as it is\. Read it again/
      )
      take(visit, fitter, "35.9")
      expect([turned, again]).to eq [[], []]
    end

    it "is said once of a site that has no side" do
      put_right(2, "35.7")
      both = record(visit)
      allow(both).to receive(:sides).and_return(%w[left right])
      of_left =
        [false, true].to_h { |written| [written, both.trend.courses("left", as_written: written)] }
      allow(both.trend).to receive(:courses) { |_, as_written: false| of_left.fetch(as_written) }
      expect(both.concerns.put_right.map(&:kind)).to eq [:turned]
    end

    it "is not said where it goes the same way, or is put right once more" do
      put_right(2, "36.2")
      expect(turned).to eq []
      put_right(3, "37.4")
      expect(turned.size).to eq 1
      put_right(3, "36.1")
      expect(turned).to eq []
    end
  end

  it "says that it is past the edge already, and that a limb is steady" do
    expect(said(followed("36", "35.5", "35.0"))).to include("past the edge of M already")
    expect(said(followed("36.5", "36.4", "36.5"))).to match(
      /no clear change over 4 visits.*Steady for three visits/
    )
    expect(said(followed("36.5", "35.9", "36.6"))).not_to include("Steady for three visits")
  end

  it "is drawn with every reading, the line and the edge that is near" do
    visit = followed("36.3", "36.1", "35.9")
    picture, sentences, state =
      Handrail::Web::Visits::RecheckStage::Page.new(visit, fitter).courses.first
    expect(picture.scan('class="read"').size).to eq 4
    expect(picture).to include('class="edge"').and include("Calf, 15 cm below: ")
    expect([sentences.last, state]).to eq [
         "That is before the next visit: bring it forward.",
         :look_again
       ]
  end
end

# What the wearer says, the hours and the pressures over the visits.
RSpec.describe "What else is followed over the visits", :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:worn) { at_day(-60) { handed_over_visit(clinic, fitter) } }

  # at noon, whatever the clocks do between
  def at_day(days, &block) = Handrail::Store.at(clinic.moment(clinic.today + days, 12, 0), &block)

  # rechecks twenty days apart, each closed, with the pain and the hours that were said
  def followed(*said)
    visit = worn
    said.each_with_index do |(pain, hours), i|
      at_day(-40 + (20 * i)) do
        visit = record(visit).visits.last
        ask(visit, fitter)
        take(visit, fitter, "36.5")
        run(visit, fitter, :WriteWord, pain_with: pain)
        answer(visit, hours)
        look_at_all(visit, fitter)
        run(visit, fitter, :CloseRecheck) unless i == said.size - 1
      end
    end
    record(visit)
  end

  def answer(visit, hours)
    record(visit).asks_open.each do |one, side|
      run(visit, fitter, :AnswerRecheck, field: one.key, answer: one.choices.first.key, side: side)
    end
    run(visit, fitter, :AnswerRecheck, field: "hours_worn", answer: hours)
  end

  def said(visit) =
    visit.trend.series("left").map { |one| [one.key, one.worse?, Handrail::Wording.series(one)] }

  it "says that pain goes down and that the hours do, and which of the two is to be looked at" do
    visit = followed(%w[7 8], %w[5 6], %w[3 4])
    pain, hours = said(visit)
    expect(pain).to eq [:pain_with, false, "Pain with it: 0.7 points less a week (0.7 to 0.7)."]
    expect(hours).to eq [:hours, true, "Hours worn a day: 0.7 hours less a week (0.7 to 0.7)."]
  end

  it "says nothing before three days" do
    expect(followed(%w[7 8], %w[5 6]).trend.series("left")).to be_empty
  end

  it "calls steady what is not clear" do
    pain, = said(followed(%w[5 6], %w[7 6], %w[5 6]))
    expect(pain).to match [:pain_with, false, /no clear change over 3 visits/]
  end
end

RSpec.describe "What became of a size here", :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:product) { make_product(clinic) }

  def serial = "S-#{SecureRandom.hex(4)}"

  # handed over in M; ended - in which size, chosen anew at the recheck
  def fitted_in_m(ended = nil)
    visit = handed_over_visit(clinic, fitter, product: product, serial: serial)
    return unless ended

    recheck = record(visit).visits.last
    ask(recheck, fitter)
    take(recheck, fitter, "36.5")
    run(recheck, fitter, :ChooseSize, size: ended, why: "wears it tight")
  end

  def verdict
    visit = make_visit(clinic, fitter, product: product)
    ask(visit, fitter)
    2.times { take(visit, fitter, "36.5") }
    record(visit)
  end

  it "is said once it is clear, with the numbers, and not before" do
    2.times { fitted_in_m("L") }
    expect(verdict.sizing.ended_elsewhere("left")).to be_nil
    5.times { fitted_in_m("L") }
    fitted_in_m
    size, other, many = verdict.sizing.ended_elsewhere("left")
    expect([size.name, size.count, other, many]).to eq ["M", 8, "L", 7]
  end

  it "counts neither another product nor what was never handed over" do
    6.times { fitted_in_m("L") }
    mine = product
    other = make_visit(clinic, fitter, product: make_product(clinic))
    ask(other, fitter)
    2.times { take(other, fitter, "36.5") }
    expect(record(other).sizing.ended_elsewhere("left")).to be_nil
    3.times { sized_visit(clinic, fitter, product: mine, serial: serial) }
    expect(verdict.sizing.ended_elsewhere("left").first.count).to eq 6
  end
end
