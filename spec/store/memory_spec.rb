# frozen_string_literal: true

require "store_helper"

# What was read of a visit is kept from one request to the next, and never outlives what was written
# since.
RSpec.describe Handrail::Memory do
  store = Handrail::Store

  it "reads only what it does not hold" do
    memory = described_class.new(10)
    asked = []
    read = ->(keys) { asked.concat(keys).then { keys.to_h { |key| [key, key.upcase] } } }
    expect(memory.remember_many(%w[a b], &read)).to eq("a" => "A", "b" => "B")
    expect(memory.remember_many(%w[b c], &read)).to eq("b" => "B", "c" => "C")
    expect(asked).to eq %w[a b c]
    expect(memory.remember("a") { raise "it is held" }).to eq "A"
  end

  it "lets the oldest go when it is full" do
    memory = described_class.new(2)
    %w[a b c].each { |key| memory.remember(key) { key } }
    expect(memory.size).to eq 2
    expect(memory.remember("c") { "read anew" }).to eq "c"
    expect(memory.remember("a") { "read anew" }).to eq "read anew"
  end

  describe "of a fitting", :rolled_back do
    let(:clinic) { make_clinic }
    let(:account) { make_account(clinic) }
    let(:visit) { make_visit(clinic, account).tap { |one| ask(one, account) } }

    def readings(visit) = record(visit).rows(:readings).map { |row| row[:typed] }

    it "asks the database less the second time, for the same answer" do
      take(visit, account, "36.5")
      first = queries { expect(readings(visit)).to eq %w[36.5] }
      second = queries { expect(readings(visit)).to eq %w[36.5] }
      expect(second).to be < first
    end

    it "sees every entry, and what an entry changed in a row" do
      row = take(visit, account, "36.5")
      expect(readings(visit)).to eq %w[36.5]
      take(visit, account, "36.7")
      run(visit, account, :StrikeReading, row: row[:id], reason: "slipped")
      expect(readings(visit)).to eq %w[36.5 36.7]
      expect(record(visit).rows(:readings).first).to include(struck_at: be_a(Time))
    end

    it "forgets what was written and taken back" do
      take(visit, account, "36.5")
      store
        .db
        .transaction(rollback: :always, savepoint: true) do
          take(visit, account, "40")
          expect(readings(visit)).to eq %w[36.5 40]
        end
      expect(readings(visit)).to eq %w[36.5]
      take(visit, account, "36.9")
      expect(readings(visit)).to eq %w[36.5 36.9]
    end

    it "sees what a later visit writes about an earlier one" do
      first = handed_over_visit(clinic, account)
      later = record(first).visits.last
      ask(later, account)
      take(later, account, "34")
      confirm(later, account)
      expect(record(first).sizing.device[:ended_why]).to be_nil
      run(later, account, :ChooseSize, size: "S")
      run(later, account, :IssueDevice, serial: "S-9")
      expect(record(later).source.rows(:issued_devices, first.id).last).to include(
        ended_why: "replaced"
      )
    end

    it "gives every request rows of its own" do
      take(visit, account, "36.5")
      record(visit).rows(:readings).clear
      expect(readings(visit)).to eq %w[36.5]
    end
  end

  it "keeps of each thing its newest state alone, where it is told whose state a key is" do
    kept = described_class.new(3) { |thing, _state| thing }
    asked = []
    ask = ->(*keys) do
      kept.remember_many(keys) { |missing| missing.to_h { |key| [key, asked.push(key).size] } }
    end
    ask.call(["a", 1], ["b", 1])
    ask.call(["a", 2])
    expect(kept.size).to eq 2
    ask.call(["a", 2], ["b", 1])
    expect(asked).to eq [["a", 1], ["b", 1], ["a", 2]]
    # somebody who read it before that comes late: it is read again, and no harm is done
    expect(ask.call(["a", 1])).to eq({ ["a", 1] => 4 })
    ask.call(["c", 1], ["d", 1], ["e", 1])
    expect(kept.size).to eq 3
    expect(ask.call(["b", 1])).to eq({ ["b", 1] => 8 })
  end
end
