# frozen_string_literal: true

# When parts are due.
RSpec.describe Handrail::Followup::PartLife do
  part = ->(key, days) { Handrail::Families::Part[key: key, label: key, days: days] }
  handed = Date.new(2026, 1, 10)

  define_method(:due) do |parts, **more|
    described_class.of(parts, handed_over: handed, **more).map { |one| [one.part.key, one.due] }
  end

  it "counts from the hand-over, the first due first, and leaves out what lasts" do
    parts = [part["straps", 365], part["frame", nil], part["electrodes", 21]]
    expect(due(parts)).to eq [["electrodes", handed + 21], ["straps", handed + 365]]
  end

  it "counts from the newest renewal, in whatever order they were written" do
    renewed = { "electrodes" => [Date.new(2026, 3, 1), Date.new(2026, 2, 1)] }
    expect(due([part["electrodes", 21]], renewed: renewed)).to eq [
         ["electrodes", Date.new(2026, 3, 22)]
       ]
  end
end
