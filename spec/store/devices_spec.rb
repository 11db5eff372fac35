# frozen_string_literal: true

require "store_helper"

# Values that a device sent: where they came from, and each of them once.
RSpec.describe "A value from a device", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }

  def from_tape(to = visit, value: "36.5", sent: value, message: "HT-7:12", **more)
    take(to, fitter, value, source: "tape", message: message, sent: sent, **more)
  end

  it "says where it came from, in its row and in the story" do
    row = from_tape
    expect(row.slice(:source, :message, :typed)).to eq(
      source: "tape",
      message: "HT-7:12",
      typed: "36.5"
    )
    expect(record(visit).events.last[:said]).to end_with ", from the tape"
  end

  it "is taken once in a clinic, whoever asks; in another clinic it is another tape's" do
    from_tape
    expect { from_tape(value: "36.9") }.to raise_error(store::Unacceptable, /taken already/)
    other = make_visit(clinic, fitter).tap { |made| ask(made, fitter) }
    expect { from_tape(other) }.to raise_error(store::Unacceptable, /taken already/)
    stranger = make_account(make_clinic)
    elsewhere = make_visit(stranger.clinic, stranger).tap { |made| ask(made, stranger) }
    expect(
      take(elsewhere, stranger, "36.5", source: "tape", message: "HT-7:12", sent: "36.5")[:source]
    ).to eq "tape"
  end

  it "is another press where a tape counts from the beginning again, and the same one however its second is told" do
    now = Time.now.to_i
    from_tape(message: "HT-7:1@#{now - 60}")
    expect { from_tape(message: "HT-7:1@#{now - 58}") }.to raise_error(
      store::Unacceptable,
      /taken already/
    )
    expect(from_tape(value: "36.9", message: "HT-7:1@#{now}")[:message]).to eq "HT-7:1@#{now}"
    # kept before its second was written down: what was pressed before it was kept is that one
    from_tape(message: "HT-8:1")
    expect { from_tape(message: "HT-8:1@#{now - 30}") }.to raise_error(
      store::Unacceptable,
      /taken already/
    )
    expect(from_tape(value: "36.8", message: "HT-8:1@#{now + 30}")[:source]).to eq "tape"
  end

  it "is typed where another figure was typed over it, and leaves the message free" do
    row = from_tape(value: "36.9", sent: "36.5")
    expect(row.slice(:source, :message)).to eq(source: "typed", message: nil)
    expect(from_tape[:source]).to eq "tape"
  end

  it "is refused where its message is none" do
    ["12", "HT-7:", "a b:1", "HT-7:9999999999"].each do |message|
      expect { from_tape(message: message) }.to raise_error(
        store::Unacceptable,
        /no message of a device/
      )
    end
    expect { from_tape(source: "radio") }.to raise_error(store::Faults)
  end

  it "goes into a check the same way" do
    sized = sized_visit(clinic, fitter)
    sent = { check: "slip", value: "3 mm", source: "sensor", message: "HS-3:4", sent: "3 mm" }
    run(sized, fitter, :RecordCheck, **sent)
    expect(record(sized).rows(:check_results).last.slice(:source, :message)).to eq(
      source: "sensor",
      message: "HS-3:4"
    )
    expect { run(sized, fitter, :RecordCheck, **sent) }.to raise_error(
      store::Unacceptable,
      /taken already/
    )
  end
end

# without a transaction around it: two connections at once
RSpec.describe "A device's message sent twice at once" do
  it "is kept once, and the other one is told" do
    clinic = make_clinic
    fitter = make_account(clinic)
    visits = Array.new(2) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }
    told =
      visits
        .map do |visit|
          Thread.new do
            take(visit, fitter, "36.5", source: "tape", message: "HT-9:1", sent: "36.5")[:source]
          rescue Handrail::Store::Unacceptable => e
            e.message
          end
        end
        .map(&:value)
    expect(told).to contain_exactly("tape", /taken already/)
    expect(
      Handrail::Store.db[:readings].where(clinic_id: clinic.id, message: "HT-9:1").count
    ).to eq 1
  end
end
