# frozen_string_literal: true

require "store_helper"
require "support/whole_jobs"

# A device that is opened by stages, each when somebody has cleared it.
RSpec.describe "Stages of a device", :rolled_back do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:product) { product_like("hock") }
  let(:fitting) { sized_job("canine_hock_brace", product, also: { "range" => "0" }) }
  let(:later) { recheck_of("canine_hock_brace", fitting) }

  def clear(visit, stage, by: "Dr Lowe, vet", **more)
    run(visit, fitter, :ClearStage, stage: stage, cleared_by: by, **more)
  end

  def refused(field, message)
    raise_error(Handrail::Store::Unacceptable) do |e|
      expect([e.field, e.message]).to match [field, message]
    end
  end

  it "begins at the first, and goes on one step at a time with a name" do
    expect(record(later).wear.stage.key).to eq "range_0"
    expect { clear(later, "range_20") }.to refused(
      "stage",
      /One step at a time: 10 degrees comes next/
    )
    expect { clear(later, "range_10", by: "") }.to refused("cleared_by", /who cleared it/)
    expect { clear(later, "range_0") }.to refused("stage", /stands at 0 degrees already/)
    expect { clear(later, "range_99") }.to refused("stage", /no such stage/)
    clear(later, "range_10", agreed: "two weeks, then a look")
    now = record(later)
    expect([now.wear.stage.key, now.wear.next_stage.key]).to eq %w[range_10 range_20]
    expect(
      now.events.last[:said]
    ).to eq "10 degrees, cleared by Dr Lowe, vet: two weeks, then a look"
  end

  it "goes back as far as the vet says, and says nothing of it at the visit before" do
    clear(later, "range_10")
    clear(later, "range_20")
    clear(later, "range_0", by: "Dr Lowe, by telephone")
    expect(record(later).wear.stage.key).to eq "range_0"
    expect(record(fitting).rows_so_far(:stage_clearances)).to be_empty
  end

  describe "and what is set" do
    def set(visit, text) =
      run(visit, fitter, :WriteSettings, side: "right", settings: { "range" => text })
    def too_far = raise_error(Handrail::Store::Faults, /passes Range allowed now/)
    def held(visit, before = :close_recheck) =
      record(visit)
        .gates
        .before(before)
        .select { |block| block.code == :set_too_far }
        .map { |block| Handrail::Wording.block(block, record(visit)) }

    def tried(visit)
      list = record(visit).fit.checklist("right")
      item = list.items.find { |one| one.check.key == "range_held" }
      [item.state, item.result&.gone]
    end

    it "goes no further than the stage that was cleared, and is tried again by it" do
      set(fitting, "0")
      expect { set(later, "10") }.to too_far
      look(later, fitter, "range_held", side: "right")
      expect(tried(later)).to eq [:good, nil]
      clear(later, "range_10", side: "right")
      expect(tried(later).first).to eq :look_again
      expect { set(later, "20") }.to too_far
      set(later, "10")
      look(later, fitter, "range_held", side: "right")
      expect([tried(later).first, held(later)]).to eq [:good, []]
      clear(later, "range_0", side: "right", by: "Dr Lowe, by telephone")
      said = /Range let free, degrees: 10 passes Range allowed now \(0\)\. Set it/
      expect([tried(later).first, held(later)]).to match [:look_again, [said]]
      expect(record(later).gates.firm.map(&:code)).to include :set_too_far
      set(later, "0")
      expect(held(later)).to eq []
    end

    it "is held back where the order was put right under it, with all that was tried by it" do
      made = sized_job("canine_hock_brace", product, also: { "range" => "20" })
      set(made, "20")
      finish_steps(made, fitter)
      look_at_all(made, fitter)
      right = ->(visit, range) do
        now = record(visit)
        run(
          visit,
          fitter,
          :CorrectOrder,
          side: "right",
          prescriber: "Dr Spec",
          prescribed_on: clinic.today.iso8601,
          fields: now.prescription.fields.to_h.merge("range" => range),
          why: "the letter says so"
        )
      end
      right.call(made, "20.0")
      expect([tried(made).first, held(made, :hand_over_device)]).to eq [:good, []]
      right.call(made, "10")
      expect(tried(made).first).to eq :look_again
      expect(held(made, :record_teach_back)).to match [/20 passes Range allowed now \(10\)/]
      expect(held(made, :hand_over_device).size).to eq 1
      expect(record(made).gates.before(:finish_step).map(&:code)).to eq [:cautions_open]
    end

    it "is not made right on paper once it was handed over" do
      now = record(later)
      expect {
        run(
          later,
          fitter,
          :CorrectOrder,
          side: "right",
          prescriber: "Dr Spec",
          prescribed_on: clinic.today.iso8601,
          fields: now.prescription.fields.to_h.merge("range" => "30"),
          why: "the letter says so"
        )
      }.to refused("why", /changes more than the paper/)
    end
  end

  describe "by the range that was ordered" do
    def ordered(range) = record(order(product, also: { "range" => range }))

    it "begins with the last stage that it reaches" do
      found = %w[0 9.5 10 25 60].map { |range| ordered(range).wear.stage.key }
      expect(found).to eq %w[range_0 range_0 range_10 range_20 range_30]
    end

    it "is none where none was ordered, so that nobody reads that the joint is held; any may be cleared first" do
      fitting = sized_job("canine_hock_brace", product)
      later = recheck_of("canine_hock_brace", fitting)
      expect([record(later).wear.stage, record(later).wear.next_stage]).to eq [nil, nil]
      sheet = Handrail::Web::Visits::SheetPage.new(record(later))
      expect(sheet.stages).to eq []
      page = Handrail::Web::Visits::RecheckStage::Page.new(record(later), fitter)
      expect([page.stages.map(&:last).uniq, page.coming_stage]).to eq [[:open], nil]
      clear(later, "range_20")
      expect(record(later).wear.stage.key).to eq "range_20"
      expect { clear(later, "range_20") }.to refused("stage", /stands at 20 degrees already/)
    end

    it "is not cleared before the hand-over either" do
      fitting = sized_job("canine_hock_brace", product)
      expect { clear(fitting, "range_20") }.to refused("stage", /Not before it was handed over/)
    end
  end

  it "does not go on before the device was handed over, nor under a stop sign" do
    expect { clear(fitting, "range_10") }.to refused(
      "stage",
      /Not before it was handed over at 0 degrees/
    )
    key = record(later).family.stop_signs.first.key
    ask(later, fitter, stops: [key])
    expect { clear(later, "range_10") }.to raise_error(Handrail::Store::Refused)
    expect(record(later).wear.stage.key).to eq "range_0"
  end

  it "is nothing for a device that is not opened by stages" do
    frame = sized_job("knee_sleeve", product_like("sleeve"))
    now = record(frame)
    expect([now.wear.stages, now.wear.stage, now.wear.next_stage]).to eq [[], nil, nil]
    expect { clear(frame, "range_10") }.to refused("stage", /no such stage/)
  end

  it "is also getting used to it, wearing it as ordered and weaning off it, with the hours that were agreed" do
    worn = sized_job("lumbosacral_support")
    again = recheck_of("lumbosacral_support", worn)
    expect(record(again).wear.stages.map(&:key)).to eq %w[break_in full_wear weaning]
    clear(again, "full_wear", by: "Maren, within the order", hours: "8")
    expect { clear(again, "weaning", hours: "many") }.to refused("hours", /Write it like 4 or 1.5/)
    expect { clear(again, "weaning", hours: "25") }.to refused("hours", /no number of hours a day/)
    clear(again, "weaning", by: "Dr Tamsin", hours: "2,5", agreed: "for lifting")
    now = record(again)
    expect(
      now.events.last[:said]
    ).to eq "Fewer hours, cleared by Dr Tamsin, 2.5 hours a day: for lifting"
    expect([now.wear.stage.key, now.wear.stage_hours]).to eq ["weaning", 2.5]
    expect(record(worn).wear.stage_hours).to be_nil
    page = Handrail::Web::Visits::RecheckStage::Page.new(now, fitter)
    expect(page.steps_cleared.map { |_, _, who, agreed| [who, agreed] }).to eq [
         ["Maren, within the order", "8 hours a day"],
         ["Dr Tamsin", "2.5 hours a day; for lifting"]
       ]
    sheet = Handrail::Web::Visits::SheetPage.new(now)
    expect(sheet.stages.first).to match ["Fewer hours", /Never on your own; .* 2.5 hours a day.\z/]
  end

  it "goes no further while a place on the skin that was there before waits to be looked at" do
    worn = sized_job("lumbosacral_support")
    run(worn, fitter, :RecordSkin, x: "190", y: "333", kind: "mark_fades")
    again = recheck_of("lumbosacral_support", worn)
    expect { clear(again, "full_wear") }.to refused("stage", /Look first at the skin/)
    place = record(again).body.skin.first
    run(again, fitter, :RecordSkin, follows: place.id.to_s, course: "gone")
    clear(again, "full_wear")
    expect(record(again).wear.stage.key).to eq "full_wear"
  end

  it "has nothing past the last" do
    %w[range_10 range_20 range_30].each { |stage| clear(later, stage) }
    expect(record(later).wear.next_stage).to be_nil
  end

  it "is mild at first where it pushes, more at a later visit, and of a wrap what the prescriber says" do
    worn = handed_over_visit(clinic, fitter)
    again = record(worn).visits.last
    ask(again, fitter)
    expect(record(again).wear.stage.key).to eq "push_mild"
    clear(again, "push_more", by: "Maren, within the order")
    expect(record(again).wear.stage.label).to eq "More push"
    expect(record(worn).wear.stage.key).to eq "push_mild"
    wrap = Handrail::Families::Registry.fetch("compression_wrap")
    expect(wrap.stages.map { |stage| [stage.key, stage.cleared_by] }).to eq [
         ["emptying", nil],
         ["keeping", "the prescriber"]
       ]
  end

  it "is not taken further while somebody's skin is open under it" do
    worn = handed_over_visit(clinic, fitter)
    again = record(worn).visits.last
    ask(again, fitter)
    run(again, fitter, :RecordSkin, x: "190", y: "333", kind: "open", side: "left")
    expect { clear(again, "push_more") }.to raise_error(Handrail::Store::Refused)
    expect(record(again).wear.stage.key).to eq "push_mild"
  end
end
