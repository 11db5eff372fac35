# frozen_string_literal: true

require "store_helper"

# On which list of the day a recheck stands that nobody has booked: by the days of its window.
RSpec.describe Handrail::Store::DayLists, :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:today) { clinic.today }
  let!(:recheck) do
    visit = handed_over_visit(clinic, fitter)
    Handrail::Store.db[:visits].where(fitting_id: visit.fitting_id, purpose: "recheck")
  end

  # names of the lists on which it stands, with such a window
  def lists(from, to)
    recheck.update(due_from: today + from, due_to: today + to)
    Handrail::Store::Day
      .new(clinic)
      .lists
      .select { |_, cut| cut.lines.any? { |row| row.id == recheck.get(:id) } }
      .keys
  end

  it "is none before the window opens" do
    expect(lists(1, 8)).to eq []
  end

  it "is that of what is due and not booked from its first day to its last" do
    expect([lists(0, 7), lists(-7, 0), lists(-3, 4)]).to all(eq([:unplanned]))
  end

  it "is that of what is overdue from the day after" do
    expect([lists(-8, -1), lists(-30, -20)]).to all(eq([:overdue]))
  end
end
