# frozen_string_literal: true

require "store_helper"

# A device that is made to measure, or ordered: sent for, on its way, come, fitted on a day of its own.
RSpec.describe "A device that has to come first", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) do
    make_visit(clinic, fitter).tap do |made|
      ask(made, fitter)
      2.times { take(made, fitter, "36.5") }
      run(made, fitter, :ChooseSize, size: "M")
    end
  end
  let(:due) { clinic.today + 12 }

  def send_for(**changes) =
    run(visit, fitter, :SendForPiece, side: "left", doer: "maker", due_on: due.iso8601, **changes)
  def close(outcome, note: nil)
    slip = record(visit).fit.slips_out.first[:id].to_s
    run(visit, fitter, :CloseJobSlip, slip: slip, outcome: outcome, note: note)
  end

  def step = Handrail::Fitting::NextStep.of(record(visit))
  def words = Handrail::Wording.next_step(step.finding, step.figures)
  def held(stage) = record(visit).gates.blocks(stage).map(&:code)

  it "is on its way until it has come, then asks for its number, then is fitted" do
    send_for
    expect([held(:fit), words]).to eq [
         [:piece_awaited],
         "On its way from the maker, due #{Handrail::Quantity::Day.write(due)}."
       ]
    close("back", note: "with blue foam")
    expect([held(:fit), step.state, words]).to eq [
         [:no_device],
         :look_again,
         "It has come. Write its number down and fit it."
       ]
    run(visit, fitter, :IssueDevice, side: "left", serial: "M-77")
    expect([held(:fit), record(visit).fit.arrived?]).to eq [[], false]
    finish_steps(visit, fitter)
    look_at_all(visit, fitter)
    teach(visit, fitter)
    expect(held(:hand_over)).to eq []
  end

  it "stands on the board, late once its day has passed, and is printed with its size" do
    send_for
    row = store::Day.new(clinic).slips.first
    expect([row[:what], row[:due_on], row[:late]]).to eq ["knee unloader, size M", due, false]
    later = store::Day.new(clinic, now: store.now + (20 * 86_400)).slips.first
    expect(later[:late]).to be true
  end

  it "is called off with a reason, and of another size than was chosen since it is not waited for" do
    send_for
    run(visit, fitter, :ChooseSize, size: "L", why: "swelling")
    expect([held(:fit), held(:teach)]).to eq [[:no_device], %i[no_device slip_out]]
    expect { close("called_off") }.to raise_error(store::Unacceptable, /why/)
    close("called_off", note: "another size")
    expect(held(:teach)).to eq [:no_device]
    send_for
    expect(held(:fit)).to eq [:piece_awaited]
  end

  it "refuses a second one, one that is there, a day that has passed, and one without a size" do
    expect { send_for(due_on: (clinic.today - 1).iso8601) }.to raise_error(
      store::Unacceptable,
      /passed/
    )
    send_for
    expect { send_for }.to raise_error(store::Unacceptable, /on its way/)
    there = sized_visit(clinic, fitter)
    send = -> do
      run(there, fitter, :SendForPiece, side: "left", doer: "maker", due_on: due.iso8601)
    end
    expect(&send).to raise_error(store::Unacceptable, /it is there/)
  end

  it "holds back the withdrawal of the order until it is called off" do
    send_for
    expect { run(visit, fitter, :WithdrawOrder, why: "ordered twice") }.to raise_error(
      store::Refused
    )
    close("called_off", note: "ordered twice")
    run(visit, fitter, :WithdrawOrder, why: "ordered twice")
  end

  it "is booked for a day of its own, on which the wearer comes or does not" do
    send_for
    run(visit, fitter, :BookVisit, day: (clinic.today + 14).iso8601, time: "10:00", anyway: "yes")
    expect(store::Day.new(clinic).lists[:paused].lines.map(&:id)).not_to include visit.id
    store.at(clinic.moment(clinic.today + 14, 9, 0)) do
      run(visit, fitter, :NoteArrival, came: "yes")
      run(visit, fitter, :NoteArrival, came: "")
    end
    store.at(clinic.moment(clinic.today + 14, 10, 30)) do
      run(visit, fitter, :MissVisit, why: "no_show")
      expect(record(visit).planned_for).to be_nil
    end
  end
end
