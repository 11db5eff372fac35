# frozen_string_literal: true

require "store_helper"

RSpec.describe Handrail::Store::Find do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  before do
    [
      ["C 1", "Ann", "Marlow", "1961-03-14"],
      ["C 2", "Marla", "Quist", "1970-01-02"],
      ["C 3", "Ida", "Tamarin", "1980-05-06"],
      ["C 4", "Bea", "marlow", "1990-07-08"],
      ["C 5", "Per", "Österby", "1955-11-12"],
      ["C 50%", "Lea", "O_Hara", "1944-02-03"]
    ].each do |number, given, family, born|
      make_patient(
        clinic,
        fitter,
        record_number: number,
        given_name: given,
        family_name: family,
        born_on: born
      )
    end
  end

  def found(text, **how) = described_class.patients(clinic, text, **how).map(&:given_name)

  it "puts those first whose family name begins with the word, then the others, each by name" do
    expect(found("mar")).to eq %w[Ann Bea Marla Ida]
    expect(found("MARL")).to eq %w[Ann Bea Marla]
    expect(found("ar")).to eq %w[Ann Bea Lea Marla Ida]
    expect(found("öst")).to eq %w[Per]
  end

  it "wants every word, wherever it stands" do
    expect(found("ann marlow")).to eq %w[Ann]
    expect(found("marlow 1990")).to eq %w[Bea]
    expect(found("14 mar 1961")).to eq %w[Ann]
    expect(found("marlow quist")).to be_empty
  end

  it "takes a text as it stands: signs of a pattern are letters, and nonsense finds nobody" do
    expect([found("50%"), found("o_h"), found("o%h")]).to eq [%w[Lea], %w[Lea], []]
    expect(found("\0\xFF")).to eq found("")
    expect(found("x" * 500)).to be_empty
  end

  it "finds a dog by its name and its owner's" do
    make_patient(
      clinic,
      fitter,
      species: "dog",
      given_name: "Marlin",
      family_name: nil,
      owner_name: "Cora Quist"
    )
    expect(found("marl")).to eq %w[Marlin Ann Bea Marla]
    expect(found("cora")).to eq %w[Marlin]
  end

  it "finds nobody of another clinic" do
    other = make_clinic
    make_patient(other, make_account(other), family_name: "Marlow")
    expect(found("marlow")).to eq %w[Ann Bea]
  end

  # every page once, nobody twice: as if all were read and cut by hand
  it "pages through all of them without a gap" do
    ["mar", "ar", "a", "19", "ann marlow", ""].each do |text|
      all = found(text)
      pages = (0..all.size).step(2).flat_map { |from| found(text, limit: 2, from: from) }
      expect(pages).to eq(all), text
    end
  end
end
