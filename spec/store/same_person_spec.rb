# frozen_string_literal: true

require "store_helper"

# The same person is not written down twice unnoticed.
RSpec.describe "A person who is there already", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:zoe) { { given_name: "Zoë", family_name: "O’Brien", born_on: "9 Aug 1953" } }

  before { make_patient(clinic, fitter, **zoe, record_number: "HQ 0412") }

  def add(**changes) =
    make_patient(clinic, fitter, **zoe, record_number: "HQ 0999", another: "", **changes)

  it "is named by the record number, however it is spaced" do
    ["HQ0412", "hq-0412", "HQ  0412"].each do |number|
      expect {
        add(record_number: number, given_name: "Ann", born_on: "1 Jan 1970")
      }.to raise_error(store::Faults, /belongs to another patient: Zoë O’Brien, born 9 Aug 1953/)
    end
  end

  it "is named by name and birthday, and is taken as another one where that is said" do
    expect { add(given_name: "Zoe", family_name: "OBrien") }.to raise_error(
      store::Faults,
      /HQ 0412, is there already/
    )
    expect(add(another: "yes").record_number).to eq "HQ 0999"
    expect { add(record_number: "HQ0412", another: "yes") }.to raise_error(
      store::Faults,
      /Record number HQ0412/
    )
  end

  it "is not taken for a twin, or for somebody of another clinic" do
    expect(add(given_name: "Bartholomew", record_number: "HQ 1000").id).to be_positive
    other = make_clinic
    expect(
      make_patient(other, make_account(other), **zoe, record_number: "HQ 0412").id
    ).to be_positive
  end

  it "keeps its number when another one is changed" do
    other = add(given_name: "Ann", born_on: "1 Jan 1970")
    words = {
      given_name: "Ann",
      family_name: "Tamarin",
      born_on: "1 Jan 1970",
      record_number: "hq-0412"
    }
    change = ->(**more) do
      form = { patient: other.id, seen: other.refresh.version.to_s, **words, **more }
      desk(clinic, fitter).run(
        Handrail::Store::Commands::ChangePatient.new(form.transform_keys(&:to_s))
      )
    end
    expect(&change).to raise_error(store::Faults, /belongs to another patient: Zoë/)
    change.call(record_number: "HQ-0999")
    expect(other.refresh.record_number).to eq "HQ-0999"
  end
end
