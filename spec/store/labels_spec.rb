# frozen_string_literal: true

require "store_helper"
require "support/whole_jobs"

# Bar codes of pieces: taken apart, kept, and held against what was chosen.
RSpec.describe "Labels of pieces", :rolled_back do
  include WholeJobs

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let!(:senior) { make_account(clinic, "senior") }
  let(:gtin) { "09506000134352" }
  let(:product) { make_product(clinic) }
  let(:store) { Handrail::Store }

  def sized(size: "M")
    make_visit(clinic, fitter, product: product).tap do |made|
      ask(made, fitter)
      2.times { take(made, fitter, "36.5") }
      run(made, fitter, :ChooseSize, size: size, why: "swelling")
    end
  end

  def label(serial: "77", **more)
    parts = { "01" => gtin, "17" => more[:use_by], "10" => more[:lot], "21" => serial }.compact
    parts.map { |key, value| "(#{key})#{value}" }.join
  end

  it "keeps what the label says of the piece, and the number without the rest" do
    visit = sized
    run(visit, fitter, :IssueDevice, serial: label(lot: "A12", use_by: "271130"))
    expect(record(visit).sizing.device).to include(
      serial: "77",
      lot: "A12",
      gtin: gtin,
      use_by: Date.new(2027, 11, 30)
    )
    expect(record(visit).events.last[:said]).to include "serial 77, lot A12"
  end

  it "gives out no piece whose day has passed" do
    visit = sized
    expect { run(visit, fitter, :IssueDevice, serial: label(use_by: "200101")) }.to raise_error(
      store::Unacceptable,
      /to be used by 1 Jan 2020/
    )
    expect(record(visit).sizing.device).to be_nil
  end

  it "says where the label is another size's or product's, and takes it on a senior's word only" do
    run(sized, fitter, :IssueDevice, serial: label)
    other = sized(size: "L")
    mine = label(serial: "78")
    expect { run(other, fitter, :IssueDevice, serial: mine) }.to raise_error(
      store::Unacceptable,
      /size M/
    )
    expect { run(other, fitter, :IssueDevice, serial: mine, label_why: "so") }.to raise_error(
      store::Unacceptable,
      /Only a senior/
    )
    run(other, senior, :IssueDevice, serial: mine, label_why: "the first was mistaken")
    expect(record(other).sizing.device).to include(serial: "78", size: "L")
    expect(record(other).events.last[:said]).to include "the first was mistaken"
  end

  it "keeps the lot and the day of what comes to the shelf, holds the one that ends first, and none that is past" do
    receive = ->(**given) do
      asked = { product: product.id, size: "M", count: "1", **given }.transform_keys(&:to_s)
      store::Desk.new(clinic, fitter).run(store::Commands::ReceiveStock.new(asked))
    end
    receive.call(lot: label(serial: nil, lot: "OLD", use_by: "280101"))
    receive.call(lot: label(serial: nil, lot: "SOON", use_by: "270101"))
    expect { receive.call(lot: label(serial: nil, lot: "GONE", use_by: "200101")) }.to raise_error(
      store::Unacceptable
    )
    store.db[:stock_items].insert(
      clinic_id: clinic.id,
      product_id: product.id,
      size: "M",
      side: "",
      lot: "GONE",
      use_by: clinic.today - 1,
      received_at: store.now - 90_000
    )
    expect(record(sized).sizing.reserved("left")[:lot]).to eq "SOON"
    visit = sized
    expect(record(visit).sizing.reserved("left")[:lot]).to eq "OLD"
    expect(record(visit).sizing.on_shelf("M", "left")).to eq 0
  end
end
