# frozen_string_literal: true

require "store_helper"
require "support/whole_jobs"

# A number that is worn is worn once.
RSpec.describe "A serial number", :rolled_back do
  include WholeJobs

  store = Handrail::Store

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }
  let(:product) { make_product(clinic) }

  def sized
    make_visit(clinic, fitter, product: product).tap do |visit|
      ask(visit, fitter)
      2.times { take(visit, fitter, "36.5") }
      run(visit, fitter, :ChooseSize, size: "M")
    end
  end

  def issue(visit, who = fitter, **more) =
    run(visit, who, :IssueDevice, serial: "WH-7", side: "left", **more)

  it "is refused where another wearer wears it, and says whose record to look at" do
    first = sized
    issue(first)
    second = sized
    number = record(first).patient.record_number
    expect { issue(second) }.to raise_error(store::Unacceptable, /WH-7 is worn by #{number}/)
    expect(record(second).sizing.device).to be_nil
    # the same number once more for the piece that has it is no second piece
    expect { issue(first) }.not_to raise_error
  end

  it "stands twice only on a senior's written word" do
    issue(sized)
    second = sized
    expect { issue(second, shared_why: "maker numbers pairs") }.to raise_error(
      store::Unacceptable,
      /Only a senior/
    )
    issue(second, senior, shared_why: "maker numbers pairs")
    expect(record(second).sizing.device).to include(
      serial: "WH-7",
      shared_why: "maker numbers pairs"
    )
  end

  it "is free again once its piece is worn no more" do
    first = sized
    issue(first)
    run(first, fitter, :IssueDevice, serial: "WH-8", side: "left", same: "another")
    second = sized
    issue(second)
    expect(record(second).sizing.device).to include(serial: "WH-7")
  end

  it "is not taken for both legs" do
    family =
      Handrail::Families::Registry.all.values.find do |one|
        one.sides.include?("both") && one.size_rule.by == "chart"
      end
    visit = order(demo_product(family.key), side: "both")
    cautions(visit)
    measure(visit)
    record(visit).sides.each do |side|
      run(visit, fitter, :ChooseSize, size: record(visit).sizing.advice(side).size, side: side)
    end
    run(visit, fitter, :IssueDevice, serial: "P-1", side: "left")
    expect { run(visit, fitter, :IssueDevice, serial: "P-1", side: "right") }.to raise_error(
      store::Unacceptable,
      /P-1 is written down for the left side/
    )
  end

  it "is held to one by the database, whatever was read before" do
    issue(sized)
    second = sized
    allow(store::Source).to receive(:new).and_wrap_original do |make, *given|
      make.call(*given).tap { |source| source.define_singleton_method(:worn_elsewhere) { |*| nil } }
    end
    expect { issue(second) }.to raise_error(store::Unacceptable, /just now/)
  end
end
