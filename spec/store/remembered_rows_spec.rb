# frozen_string_literal: true

require "store_helper"
require "support/whole_jobs"

# What an entry leaves in the memory of the process: the next page has the rows of the fitting without asking for them.
RSpec.describe "Rows that are remembered after an entry" do
  include WholeJobs

  store = Handrail::Store
  define_method(:store) { store }

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:visit) { fitted_visit(clinic, fitter) }

  # of the fitting, as a page finds them, and as the tables hold them
  def remembered = batch.own_rows(ids)
  def held = store::VisitRows.read(clinic.id, ids)
  def batch = record(visit).source.instance_variable_get(:@batch)
  def ids = store::Visit.where(fitting_id: visit.fitting_id).order(:number).select_map(:id)

  it "are what the tables hold, to the kind of every value, and are not asked for again" do
    take(visit, fitter, "36.9")
    run(visit, fitter, :AddNote, text: "Came by bus.")
    allow(store::VisitRows).to receive(:read).and_call_original
    kept = remembered
    expect(store::VisitRows).not_to have_received(:read)
    expect(kept).to eq held
    expect(kept.to_s).to eq held.to_s
    expect(kept[visit.id][:visit_notes].last[:text]).to eq "Came by bus."
  end

  it "are what the tables hold where an entry changed a row, its time no finer than theirs" do
    row = take(visit, fitter, "36.9")
    run(visit, fitter, :StrikeReading, row: row[:id], reason: "slipped")
    allow(store::VisitRows).to receive(:read).and_call_original
    kept = remembered
    expect(store::VisitRows).not_to have_received(:read)
    expect(kept).to eq held
    expect(kept[visit.id][:readings].last).to include(strike_reason: "slipped")
  end

  it "are asked for again where another process wrote, and are its own then" do
    take(visit, fitter, "36.9")
    remembered
    elsewhere = Class.new(store::Ledger) { def remember(*) = nil }
    elsewhere.new(visit, fitter).run(
      store::Commands::AddNote.new("text" => "From the other server.")
    )
    expect(remembered[visit.id][:visit_notes].last[:text]).to eq "From the other server."
    expect(remembered).to eq held
  end

  it "say nothing of an entry that was taken back by the database" do
    take(visit, fitter, "36.9")
    before = remembered
    store.db.transaction(rollback: :always) { take(visit, fitter, "37.1") }
    expect(remembered).to eq before
    take(visit, fitter, "37.3")
    expect(remembered[visit.id][:readings].map { |row| row[:typed] }.last(2)).to eq %w[36.9 37.3]
    expect(remembered).to eq held
  end

  it "are as they stand where more than rows was written: a piece given out, a recheck planned" do
    teach(visit, fitter)
    hand_over(visit, fitter)
    expect(remembered).to eq held
    expect(ids.size).to eq 2
  end
end
