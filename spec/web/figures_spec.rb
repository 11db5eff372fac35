# frozen_string_literal: true

require "web_helper"
require "support/whole_jobs"

RSpec.describe "The device on the wearer's figure", :rolled_back do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  def drawn(visit, side = record(visit).sides.first)
    now = record(visit)
    straps = now.sizing.straps(side).map { |strap| [strap, :done] }
    Handrail::Web::Figures.new(now, side: side).with_device(straps)
  end

  def shells(svg) = svg.scan('class="shell"').size

  # cut for a stoma on the left
  def belt
    stoma = { "pouch" => "one_piece", "stoma_side" => "left" }
    product = demo_product("abdominal_support_belt")
    required = product.device_family.fields.select(&:required)
    fields = required.to_h { |field| [field.key, field.choices.to_a.first&.key || "60"] }
    patient = make_patient(clinic, fitter)
    how = { patient: patient, product: product, side: nil, fields: fields.merge(stoma) }
    make_visit(clinic, fitter, **how).tap do |made|
      cautions(made)
      measure(made)
      size(made)
    end
  end

  it "is there for every family that lies on a limb or a trunk which we draw from the front" do
    drawn = Handrail::Families::Registry.all.values.select(&:drawing).map(&:key)
    without = Handrail::Families::Registry.all.keys - drawn
    # an insole is drawn as its plate, a lace-up from the side
    expect(without.sort).to eq %w[ankle_lace_up foot_insole]
  end

  it "shows a long leg orthosis with cuffs, joint and straps" do
    svg = drawn(sized_job("kafo", side: "left"))
    expect([shells(svg), svg.scan('class="hinge"').size, svg.scan("strap is-done").size]).to eq [
         2,
         1,
         2
       ]
  end

  it "shows a stocking as long as it was ordered" do
    heights =
      %w[embolism_knee embolism_thigh].map do |key|
        made = sized_job("anti_embolism_stocking", product_like(key), side: "left")
        svg = drawn(made)
        expect(shells(svg)).to eq 1
        points =
          svg[/<path d="([^"]+)" class="shell"/, 1].scan(/[ML]?[\d.]+ ([\d.]+)/).flatten.map(&:to_f)
        points.max - points.min
      end
    expect(heights[1]).to be > 2 * heights[0]
  end

  it "shows a belt's opening at a recheck too, before anything was read there" do
    made = belt
    opening = /<circle[^>]*class="opening"/
    first = drawn(made)[opening]
    # girths of a trunk have their levels on a trunk
    expect(record(made).sizing.body_figure.body).to eq "trunk"
    finish_steps(made, fitter)
    look_at_all(made, fitter)
    teach(made, fitter)
    hand_over(made, fitter)
    later = Handrail::Store::Visit.where(fitting_id: made.fitting_id, purpose: "recheck").first
    expect([first.nil?, drawn(later)[opening]]).to eq [false, first]
  end

  it "expects the other girths of a limb from the one that was read, on the side that is measured" do
    visit = make_visit(clinic, fitter).tap { |made| ask(made, fitter) }
    now = -> { record(visit) }
    leg = now.call.sizing.figure
    expect(now.call.sizing.expected_profile(leg, "left").last).to eq []
    # a calf well above the middle of people
    2.times { take(visit, fitter, "46") }
    expected, read = now.call.sizing.expected_profile(leg, "left")
    level = Handrail::Anatomy::Vocabulary.default[CoreHelpers::CALF].level.mm
    expect(read).to eq [level]
    expect(expected.girth(level)).to be_within(1).of(460)
    # what is read of other people with such a calf: a thigh that the reading alone does not tell
    alone = now.call.sizing.profile(leg, "left")
    thigh = Handrail::Anatomy::Vocabulary.default["thigh_15_above_mid_patella"].level.mm
    expect(expected.girth(thigh)).not_to be_within(1).of(alone.girth(thigh))
  end

  it "is drawn smaller where the other limb stands beside it" do
    foot = Handrail::Anatomy::Figure.fetch("foot")
    grown =
      [%w[left], %w[left right]].map do |sides|
        visit = instance_double(Handrail::Visit, sides: sides, repeats: nil)
        Handrail::Web::Figures.new(visit, tape: nil).send(:grown, foot, "left")
      end
    expect(grown).to eq [[1.0, 1.0], [0.84, 0.84]]
  end

  it "is named within a sentence as a sentence wants it, and one hour is one" do
    made = sized_job("canine_hock_brace", side: "left")
    sheet = ->(language) { Handrail::Web::Visits::SheetPage.new(record(made), language: language) }
    expect(sheet["en"].title).to include("’s hock brace, left")
    expect(sheet["de"].title).to match(/\p{Lu}/)
    expect([sheet["en"].out_of_hours, sheet["de"].foot]).to match [/call your vet/, /Tierarzt/]
    expect(sheet["en"].plans.first.break_in_said.map(&:last).first(2)).to eq ["one hour", "2 hours"]
    expect(sheet["de"].plans.first.break_in_said.first.last).to eq "eine Stunde"
  end
end
