# frozen_string_literal: true

require "store_helper"

# The number of a piece of a closed visit, put right.
RSpec.describe "A corrected number", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:worn) { handed_over_visit(clinic, fitter) }
  let(:store) { Handrail::Store }
  let(:row) { record(worn).rows(:issued_devices).last }

  def correct(serial, why: "two figures turned", **more)
    run(worn, fitter, :CorrectDevice, corrects: row[:id], serial: serial, why: why, **more)
  end

  it "is the same piece: the recheck asks nothing of it again, and the record has both" do
    later = record(worn).visits.last
    before = record(later).sizing.piece(record(later).sides.first)
    old = row
    correct("RIGHT-1")
    now = record(worn)
    expect(now.sizing.device[:serial]).to eq "RIGHT-1"
    expect(now.rows(:issued_devices).map { |one| one[:serial] }).to eq [old[:serial], "RIGHT-1"]
    expect(now.rows(:issued_devices).last).to include(
      corrects_id: old[:id],
      correction_reason: "two figures turned"
    )
    expect(record(later).sizing.device[:serial]).to eq "RIGHT-1"
    expect(record(later).sizing.piece(record(later).sides.first)).to eq before
    expect(now.fit.teach_backs.last.gone).to be_nil
    expect(store::Find.patients(clinic, "RIGHT-1").map(&:id)).to eq [worn.fitting.patient_id]
  end

  it "frees the mistaken number, which may be another piece's" do
    wrong = row[:serial]
    correct("RIGHT-2")
    other = sized_visit(clinic, fitter, product: store::Product[worn.fitting.product_id])
    run(other, fitter, :IssueDevice, serial: wrong)
    expect(record(other).sizing.device[:serial]).to eq wrong
  end

  it "refuses what is open, empty, without a reason, corrected already, or worn elsewhere" do
    open = sized_visit(clinic, fitter)
    mine = record(open).rows(:issued_devices).last
    expect {
      run(open, fitter, :CorrectDevice, corrects: mine[:id], serial: "X", why: "so")
    }.to raise_error(store::NotKept, /still open/)
    expect { correct("") }.to raise_error(store::NotKept)
    expect { correct("X", why: "") }.to raise_error(store::NotKept, /why/)
    old = row[:id]
    correct("RIGHT-3")
    second = handed_over_visit(clinic, fitter, product: store::Product[worn.fitting.product_id])
    its = record(second).rows(:issued_devices).last[:id]
    expect {
      run(second, fitter, :CorrectDevice, corrects: its, serial: "RIGHT-3", why: "so")
    }.to raise_error(store::NotKept, /is worn by/)
    expect {
      run(worn, fitter, :CorrectDevice, corrects: old, serial: "X", why: "so")
    }.to raise_error(store::NotKept, /already/)
  end
end
