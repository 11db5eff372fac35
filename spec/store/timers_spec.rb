# frozen_string_literal: true

require "store_helper"

# Timers run in the record: no reload and no other device stops them, and they hold nothing back.
RSpec.describe Handrail::Store::Commands::StartTimer do
  store = Handrail::Store
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:visit) { sized_visit(clinic, fitter) }

  def start(key = "colour") = run(visit, fitter, :StartTimer, timer: key)
  def running = record(visit).running_timers
  def answer(row, answer) = run(visit, fitter, :AnswerTimer, row: row[:id], answer: answer)
  def later(minutes) = allow(Handrail::Store).to receive(:now).and_return(Time.now + (minutes * 60))

  it "runs for the minutes of the protocol, on the board and at the visit" do
    start
    row = running.first
    expect([row[:label], row[:minutes]]).to eq ["Colour and warmth", 10]
    expect(row[:rings_at]).to be_within(5).of(Time.now + 600)
    expect(store::Day.new(clinic).timers.map { |one| one[:visit_id] }).to eq [visit.id]
  end

  it "runs once a side, and refuses one that the protocol does not have" do
    start
    expect { start }.to raise_error(store::Unacceptable, /runs already/)
    expect { start("kettle") }.to raise_error(store::Unacceptable, /no such timer/)
  end

  it "is not answered “well” before it rings, and once only" do
    start
    row = running.first
    expect { answer(row, "good") }.to raise_error(store::Unacceptable, /not rung yet/)
    later(11)
    answer(row, "good")
    expect(running).to be_empty
    expect { answer(row, "good") }.to raise_error(store::Unacceptable, /answered already/)
    expect(record(visit).events.last[:said]).to eq "Colour and warmth: looked, and well"
  end

  it "can be stopped, and be told that it does not look well, at once" do
    start
    answer(running.first, "stopped")
    start
    answer(running.first, "bad")
    expect(record(visit).rows(:visit_timers).map { |row| row[:answer] }).to eq %w[stopped bad]
  end

  it "holds nothing back, and is gone with the visit's end" do
    start
    finish_steps(visit, fitter)
    look_at_all(visit, fitter)
    expect(record(visit).gates.open?(:teach)).to be true
  end
end
