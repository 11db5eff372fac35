# frozen_string_literal: true

require "store_helper"
require_relative "../support/whole_jobs"

# Volumes of a limb, parts that wear out, sizes that end.
RSpec.describe "Follow-up that notices", :rolled_back do
  include WholeJobs

  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) { sized_visit(clinic, fitter) }

  def girths(to = visit, unit: "cm", **sides)
    map =
      sides.flat_map { |side, levels| levels.map { |level, text| ["#{side}:#{level}", text] } }.to_h
    run(to, fitter, :TakeLimbGirths, girths: map, unit: unit)
  end

  it "knows the visit before as the last closed one at which something was read, whatever came later" do
    one = recheck_to_close(clinic, fitter)
    first = record(one).visits.first
    expect(record(one).before.id).to eq first.id
    run(one, fitter, :CloseRecheck)
    two = record(one).visits.last
    ask(two, fitter)
    take(two, fitter, "36.7")
    expect([record(two).before.id, record(one).before.id]).to eq [one.id, first.id]
    expect(record(first).before).to be_nil
  end

  describe "the volume of a limb" do
    it "is that of truncated cones, beside the other side, with its step" do
      girths(
        left: {
          0 => "30",
          40 => "30",
          80 => "30"
        },
        right: {
          0 => "27",
          40 => "27",
          80 => "27"
        }
      )
      left, right = record(visit).volumes.states
      # a cylinder: C^2 h / 4 pi
      expect(left.volume.ml).to be_within(1e-6).of((30.0**2) * 8 / (4 * Math::PI))
      expect([left.excess_percent.to_f.round(3), left.severity]).to eq [23.457, "moderate"]
      expect([right.excess_ml.round(1), right.severity]).to eq [-left.excess_ml.round(1), nil]
    end

    it "is held against the first visit of its side, and the other side only at the same levels" do
      first = handed_over_visit(clinic, fitter)
      later = record(first).visits.last
      expect { girths(first, left: { 0 => "30", 40 => "30" }) }.to raise_error(store::Closed)
      ask(later, fitter)
      girths(later, left: { 0 => "30", 40 => "30" }, right: { 0 => "28", 80 => "28" })
      states = record(later).volumes.states
      expect(states.map { |state| [state.side, state.excess_ml, state.change_ml] }).to eq [
           ["left", nil, 0.0],
           ["right", nil, 0.0]
         ]
    end

    it "takes what was read again, and keeps what was before" do
      girths(left: { 0 => "30", 40 => "32" })
      girths(left: { 0 => "30", 40 => "31" })
      expect(record(visit).volumes.girths).to eq("left" => { 0r => 300r, 40r => 310r })
      expect(record(visit).rows(:limb_girths).size).to eq 3
      girths(left: { 0 => "30" })
      expect(record(visit).rows(:limb_girths).size).to eq 3
    end

    it "names every field that can not be read, and keeps nothing of them" do
      bad = { left: { 0 => "wide", 40 => "3", 80 => "30" } }
      expect { girths(**bad) }.to raise_error(store::Faults) { |e|
        expect(e.fields.keys).to contain_exactly("left:0", "left:40")
      }
      expect { girths(middle: { 0 => "30" }) }.to raise_error(store::Faults)
      expect(record(visit).rows(:limb_girths)).to eq []
    end

    it "reads inches as inches" do
      girths(left: { 0 => "12", 40 => "12 1/2" }, unit: "in")
      expect(record(visit).volumes.girths["left"]).to eq(0r => 304.8r, 40r => 317.5r)
    end
  end

  it "judges X Large by X Large, not by Large" do
    product = make_product(clinic, { "Large" => [34, 36.9], "X Large" => [37, 40] })
    visit = make_visit(clinic, fitter, product: product).tap { |made| ask(made, fitter) }
    2.times { take(visit, fitter, "38.5") }
    run(visit, fitter, :ChooseSize, size: "X Large")
    expect(record(visit).sizing.choice[:parts].to_h).to eq("" => "X Large")
    now = record(visit)
    band = Handrail::Visit::TrendWork.new(now).send(:band, CoreHelpers::CALF, now.sizing.choice)
    expect(band.map(&:to_i)).to eq [370, 400]
  end

  describe "a part" do
    let(:worn) { handed_over_visit(clinic, fitter) }

    def renew(**what) = run(worn, fitter, :RenewPart, part: "pads", **what)
    def dues = record(worn).wear.part_dues.to_h { |due| [due.part.key, due.due] }
    def kept =
      Handrail::Store.db[:fitting_dues].where(
        fitting_id: worn.fitting_id,
        kind: "part"
      ).select_hash(:key, :due_on)

    it "is due as long after the hand-over as its family says, and kept for the board" do
      today = clinic.today
      expect(dues).to eq("pads" => today + 180, "straps" => today + 365)
      expect(kept).to eq dues
    end

    it "counts anew from its renewal, also on a closed visit" do
      store.at(Time.now + (100 * 86_400)) do
        renew
        expect(dues["pads"]).to eq clinic.today + 180
        expect(kept).to eq dues
        expect(store::Summaries.differences(clinic)).to eq []
      end
    end

    it "is renewed on its own side: of a pair, the other keeps its day" do
      pair = recheck_of("graduated_stocking", sized_job("graduated_stocking", side: "both"))
      now = -> { record(pair).wear.part_dues.to_h { |due| [[due.part.key, due.side], due.due] } }
      before = now.call
      expect(before.keys).to include(%w[stocking left], %w[stocking right])
      store.at(Time.now + (100 * 86_400)) do
        run(pair, fitter, :RenewPart, part: "stocking", side: "left")
        expect(now.call.reject { |key, due| before[key] == due }.keys).to eq [%w[stocking left]]
        kept = store.db[:fitting_dues].where(fitting_id: pair.fitting_id, kind: "part")
        expect(kept.select_hash(:key, :due_on).values_at("stocking:left", "stocking:right")).to eq [
             clinic.today + 182,
             before[%w[stocking right]]
           ]
        expect { run(pair, fitter, :RenewPart, part: "stocking") }.to raise_error(
          store::Unacceptable,
          /on which side/
        )
      end
    end

    it "is not renewed before it was there, tomorrow, or where there is none" do
      expect { renew(renewed_on: "1 Jan 2020") }.to raise_error(
        store::Unacceptable,
        /between the hand-over/
      )
      expect { renew(renewed_on: (clinic.today + 1).iso8601) }.to raise_error(
        store::Unacceptable,
        /and today/
      )
      expect { renew(part: "engine") }.to raise_error(store::Unacceptable, /no such part/)
      expect { run(visit, fitter, :RenewPart, part: "pads") }.to raise_error(
        store::Unacceptable,
        /not been handed over/
      )
    end

    it "stands on the board from two weeks before, the first due first, and not once the fitting has ended" do
      worn
      day = ->(days) do
        store::Day
          .new(clinic, now: clinic.moment(clinic.today + days, 12, 0))
          .dues
          .fetch("part")
          .map { |row| row[:label] }
      end
      expect([day[165], day[167], day[400]]).to eq [[], ["Pads"], %w[Pads Straps]]
      run(worn, fitter, :EndFitting, why: "healed, no device needed")
      expect(day[400]).to eq []
    end
  end

  it "says on the board when the size that is worn ends at this rate" do
    worn = handed_over_visit(clinic, fitter)
    girth = 36.5
    [14, 28, 42].each do |days|
      store.at(Time.now + (days * 86_400)) do
        row =
          store::Visit
            .where(fitting_id: worn.fitting_id, closed_at: nil, called_off_at: nil)
            .order(:id)
            .last ||
            store::Visit.create(
              clinic_id: clinic.id,
              fitting_id: worn.fitting_id,
              purpose: "recheck"
            )
        ask(row, fitter)
        2.times { take(row, fitter, format("%.1f", girth -= 0.15)) }
        confirm(row, fitter)
        if days < 42
          store::Visit.where(id: row.id).update(closed_at: store.now, closed_by: fitter.id)
        end
      end
    end
    found = store.db[:fitting_dues].where(fitting_id: worn.fitting_id, kind: "size").first
    expect(found[:label]).to eq "M"
    expect(found[:due_on]).to be_between(clinic.today + 40, clinic.today + 120)
    ahead = store::Day.new(clinic, now: Time.now + (60 * 86_400)).dues.fetch("size")
    expect(ahead.map { |row| row[:family_name] }).to eq ["Quarrel"]
  end
end
