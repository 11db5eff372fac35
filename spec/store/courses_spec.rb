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
    record(visit).asks_open.each do |ask|
      run(
        visit,
        fitter,
        :AnswerRecheck,
        field: ask.key,
        answer: ask.choices&.first&.key || "4 hours"
      )
    end
  end

  def said(visit)
    course = visit.courses("left").first
    Handrail::Web::Wording.course(
      course,
      "Calf",
      last: course.trend.last,
      following: visit.next_recheck&.to
    ).join(" ")
  end

  it "says nothing before a site was read on three days" do
    expect(followed("36.3").courses("left")).to be_empty
  end

  it "foretells the day on which a shrinking limb leaves the size that is worn" do
    visit = followed("36.3", "36.1", "35.9")
    course = visit.courses("left").first
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
    course = visit.courses("left").first
    expect(course.before?(course.crossing.on + 1)).to be true
    expect(course.before?(course.crossing.on)).to be false
    expect(course.before?(nil)).to be false
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
