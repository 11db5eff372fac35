# frozen_string_literal: true

require "store_helper"

# An order that should not be as it is: corrected, withdrawn, moved to the right record.
RSpec.describe "Orders taken back", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:product) { make_product(clinic) }
  let(:visit) { make_visit(clinic, fitter, product: product) }
  let(:now) { record(visit.refresh) }

  def correct(at = visit, **changes)
    order = record(at).prescription
    stands = {
      "side" => order.side,
      "prescriber" => order.prescriber,
      "prescribed_on" => order.prescribed_on.iso8601,
      "fields" => order.fields.to_h,
      "why" => "the letter says so"
    }
    run(
      at,
      fitter,
      :CorrectOrder,
      **stands.merge(changes.transform_keys(&:to_s)).transform_keys(&:to_sym)
    )
  end

  def withdraw(at = visit, why: "ordered twice", **how) =
    run(at, fitter, :WithdrawOrder, how, why: why)

  describe "withdrawing" do
    it "calls the visit off, keeps the reason and frees what was held" do
      store.db[:stock_items].insert(
        clinic_id: clinic.id,
        product_id: product.id,
        size: "M",
        side: "left",
        state: "shelf",
        received_at: Time.now
      )
      ask(visit, fitter)
      2.times { take(visit, fitter, "36.5") }
      run(visit, fitter, :ChooseSize, size: "M")
      expect(store.db[:stock_items].where(product_id: product.id).get(:state)).to eq "reserved"
      withdraw
      fitting = store::Fitting[visit.fitting_id]
      expect([fitting.ended_as, fitting.ended_why]).to eq ["withdrawn", "ordered twice"]
      expect(visit.refresh.called_off_at).not_to be_nil
      expect(store.db[:stock_items].where(product_id: product.id).get(:state)).to eq "shelf"
      expect(now.events.last[:said]).to eq "order withdrawn: ordered twice"
    end

    it "takes nothing more afterwards, and is not done twice" do
      withdraw
      expect { ask(visit, fitter) && take(visit, fitter, "36.5") }.to raise_error(
        store::Refused,
        /ended/
      )
      expect { withdraw }.to raise_error(store::Refused, /ended/)
    end

    it "is not for what was handed over, nor while work is out or a stop is open" do
      expect { withdraw(handed_over_visit(clinic, fitter)) }.to raise_error(
        store::Refused,
        /handed_over/
      )
      stopped = make_visit(clinic, fitter)
      ask(stopped, fitter, stops: ["chest"])
      expect { withdraw(stopped) }.to raise_error(store::Refused, /stop chest/)
      away = sized_visit(clinic, fitter)
      slip = { doer: "workshop", what: "rivet", side: "left", due_on: (clinic.today + 3).iso8601 }
      run(away, fitter, :WriteJobSlip, **slip)
      expect { withdraw(away) }.to raise_error(store::Refused, /slip_out/)
    end

    it "asks for a reason, and looks first at what somebody wrote meanwhile" do
      expect { withdraw(why: " ") }.to raise_error(store::Faults, /taken back/)
      seen = now.version
      ask(visit, make_account(clinic))
      expect { withdraw(visit, seen: seen, page: "mine") }.to raise_error(store::Stale)
    end

    it "leaves a visit on no list of the day" do
      ask(visit, fitter)
      lists = -> { store::Day.new(clinic).lists.values.flat_map(&:lines).map(&:id) }
      before = lists.call
      withdraw
      expect([before.include?(visit.id), lists.call.include?(visit.id)]).to eq [true, false]
    end
  end

  describe "moving" do
    let(:other) { make_patient(clinic, fitter, given_name: "Zoe") }

    def move(record = other.record_number)
      run(visit, fitter, :MoveOrder, record: record, why: "the sister's record was open")
    end

    it "writes it in the right record and strikes it here, and each names the other" do
      ask(visit, fitter)
      take(visit, fitter, "36.5")
      move
      moved = store::Fitting.first(moved_from_id: visit.fitting_id)
      there = record(store::Visit.first(fitting_id: moved.id))
      expect([there.patient.id, there.side, there.prescription.fields["compartment"]]).to eq [
           other.id,
           "left",
           "medial"
         ]
      expect(there.live_readings).to eq []
      expect(store.db[:entries].where(command: "write_order").order(:id).last[:said]).to include(
        "moved here from record #{visit.fitting.patient.record_number}"
      )
      expect([now.taken_back?, now.events.last[:said]]).to eq [
           true,
           "order moved to record #{other.record_number}: the sister's record was open"
         ]
    end

    it "says what stands in its way there, and strikes nothing here" do
      other.update(rest: "died", rest_on: clinic.today, rest_said: "her son")
      expect { move }.to raise_error(store::Unacceptable, /can not be written there: .* died on/)
      expect([now.ended?, visit.refresh.called_off_at]).to eq [false, nil]
    end

    it "refuses no record, the same record, another species and another clinic's, and keeps nothing" do
      dog = make_patient(clinic, fitter, species: "dog", owner_name: "Ann Quarrel")
      elsewhere = make_clinic
      theirs = make_patient(elsewhere, make_account(elsewhere))
      [
        "none",
        visit.fitting.patient.record_number,
        dog.record_number,
        theirs.record_number
      ].each { |number| expect { move(number) }.to raise_error(store::Unacceptable) }
      expect(now.ended?).to be false
    end
  end

  describe "correcting" do
    it "changes the order from this visit on and keeps what it was" do
      correct(prescriber: "Dr Other", prescribed_on: (clinic.today - 1).iso8601)
      expect([now.prescription.prescriber, now.prescription.prescribed_on]).to eq [
           "Dr Other",
           clinic.today - 1
         ]
      row = now.rows(:order_corrections).first
      expect([row[:was]["prescriber"], row[:why]]).to eq ["Dr Spec", "the letter says so"]
      expect(now.events.last[:said]).to include "prescriber Dr Spec → Dr Other"
    end

    it "has everything that rested on another side asked again, and keeps the readings" do
      fitted = fitted_visit(clinic, fitter)
      correct(fitted, side: "right")
      after = record(fitted)
      expect([after.sides, after.live_readings.map { |row| row[:side] }]).to eq [
           ["right"],
           %w[left left]
         ]
      expect(after.gates.before(:take_reading).map(&:code)).to eq [:cautions_open]
      expect(after.gates.before(:hand_over_device).map(&:code)).to include(:unread, :no_size)
    end

    it "gives back what was held and written down for a side that is no longer ordered" do
      row = {
        clinic_id: clinic.id,
        product_id: product.id,
        size: "M",
        side: "left",
        received_at: Time.now
      }
      store.db[:stock_items].insert(**row, state: "shelf")
      sized = sized_visit(clinic, fitter, product: product)
      expect(store.db[:stock_items].where(product_id: product.id).get(:state)).to eq "reserved"
      correct(sized, side: "right")
      expect(store.db[:stock_items].where(product_id: product.id).get(:state)).to eq "shelf"
      expect(store.db[:issued_devices].where(visit_id: sized.id, ended_at: nil).count).to eq 0
    end

    it "opens nothing where only the paper changes" do
      fitted = fitted_visit(clinic, fitter)
      fields =
        record(fitted).prescription.fields.to_h.merge("indication" => "arthrosis, inner side")
      correct(fitted, fields: fields)
      teach(fitted, fitter)
      expect(record(fitted).gates.blocks(:hand_over)).to eq []
      expect(record(fitted).prescription.fields["indication"]).to eq "arthrosis, inner side"
    end

    it "takes another product before the hand-over, with its own chart" do
      other = make_product(clinic, { "S" => [20, 35.4], "M" => [35.5, 37.5] })
      correct(product_id: other.id.to_s)
      expect([now.product.id, now.revision.product_id]).to eq [other.id, other.id]
    end

    it "reads the day of a prescription without its year as the last such day" do
      day = clinic.today - 9
      correct(prescribed_on: day.strftime("%-d %b"))
      expect(now.prescription.prescribed_on).to eq day
      expect { correct(prescribed_on: (clinic.today + 9).strftime("%-d %b")) }.to raise_error(
        store::Faults,
        /can not be read as a date/
      )
    end

    it "refuses what an order refuses, and a correction that changes nothing" do
      expect { correct(side: "both") }.to raise_error(store::Faults, /side/i)
      expect { correct(prescriber: "") }.to raise_error(store::Faults, /prescribed/)
      expect { correct(prescribed_on: (clinic.today + 1).iso8601) }.to raise_error(
        store::Faults,
        /after today/
      )
      expect { correct }.to raise_error(store::Unacceptable, /Nothing is changed/)
    end

    it "changes only the paper once it was handed over, also of a closed visit" do
      worn = handed_over_visit(clinic, fitter)
      expect { correct(worn, side: "right") }.to raise_error(
        store::Unacceptable,
        /more than the paper/
      )
      correct(worn, prescriber: "Dr Other")
      expect(record(worn).prescription.prescriber).to eq "Dr Other"
    end

    it "says nothing of visits before it" do
      worn = handed_over_visit(clinic, fitter)
      later = record(worn).visits.last
      correct(later, prescriber: "Dr Other")
      expect([record(worn), record(later)].map { |one| one.prescription.prescriber }).to eq [
           "Dr Spec",
           "Dr Other"
         ]
    end
  end

  describe "an order beside what does not go with it" do
    let(:patient) { visit.fitting.patient }

    def second(**changes) =
      make_visit(clinic, fitter, patient: patient, product: product, despite: "", **changes)

    it "is refused with what the wearer has, until somebody says why both" do
      visit
      expect { second }.to raise_error(
        store::Faults,
        /left knee unloader, inner side: Two devices on one knee/i
      )
      expect(second(side: "right").id).to be_positive
      both = second(despite: "inner one for work, other one for sport")
      said = store.db[:entries].where(command: "write_order").order(:id).last[:said]
      expect([both.id.positive?, said]).to match [true, /does not go with it: inner one for work/]
    end

    it "is not held against what has ended, or is withdrawn" do
      withdraw
      expect(second.id).to be_positive
    end
  end

  it "refuses an order that says two things" do
    frame =
      store::Product.create(
        clinic_id: clinic.id,
        maker_id: product.maker_id,
        family: "knee_frame",
        name: "frame",
        options: store.json({})
      )
    fields = { "indication" => "ligament", "range_limited" => "no", "straightens_to" => "10" }
    ordered = -> { make_visit(clinic, fitter, product: frame, fields: fields) }
    expect(&ordered).to raise_error(store::Faults, /says that there is none/)
    fields["range_limited"] = "yes"
    expect(record(ordered.call).prescription.fields["straightens_to"]).to eq "10"
  end
end
