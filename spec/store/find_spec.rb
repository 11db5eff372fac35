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
    expect(found("marlow zebra")).to be_empty
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

  # however people ask: each line names who is found first, and whoever else is
  describe "sixty askings" do
    people = [
      ["HQ 0412", "Zoë", "O’Brien", "1953-08-09", "+44 1632 960 412"],
      ["HQ 0413", "Søren", "Østergård", "1961-12-01", "(01632) 960-413"],
      ["HQ 9332", "Straße", "Müller", "1980-02-29", nil],
      ["A-77/b", "José", "Núñez Ibáñez", "1949-10-31", "0163 2960 777"],
      ["HQ 0500", "Anneliese", "d'Arcy", "1933-01-05", nil],
      ["HQ 0501", "Ben", "Darcy", "1990-06-07", nil],
      ["HQ 0600", "Łucja", "Kowalczyk", "1975-03-03", nil],
      ["HQ 0700", "Marjorie", "Featherstonehaugh", "1928-11-11", nil]
    ]
    askings = {
      "Zoë" => %w[zoe Zoë ZOE zoë],
      "O’Brien" => ["o'brien", "obrien", "O’Brien", "o`brien", "zoe obrien", "brien zoe", "OBRIEN"],
      "HQ 0412" => [
        "HQ 0412",
        "hq0412",
        "HQ0412",
        "0412",
        "hq 0412",
        "9.8.1953",
        "09.08.1953",
        "09/08/1953",
        "9/8/1953",
        "1953-08-09",
        "9 aug 1953",
        "09 Aug 1953",
        "obrien 1953",
        "zoe 1953",
        "441632960412",
        "960412"
      ],
      "Søren" => [
        "soren",
        "søren",
        "ostergard",
        "østergård",
        "Ostergård",
        "01632960413",
        "soren 1961"
      ],
      "Müller" => [
        "muller",
        "müller",
        "strasse",
        "straße",
        "STRASSE",
        "hq9332",
        "HQ9332",
        "29 feb 1980",
        "29.2.1980"
      ],
      "José" => [
        "nunez",
        "núñez",
        "ibanez",
        "jose nunez",
        "A-77/b",
        "a77b",
        "31/10/1949",
        "01632960777"
      ],
      "Łucja" => %w[lucja łucja kowalczyk kowalcyk kowalczik],
      "Marjorie" => %w[featherstonehaugh fetherstonehaugh featherstonhaugh marjory marjorie]
    }

    before do
      people.each do |number, given, family, born, phone|
        named = { record_number: number, given_name: given, family_name: family }
        make_patient(clinic, fitter, **named, born_on: born, phone: phone)
      end
    end

    it "are at least sixty" do
      expect(askings.values.sum(&:size)).to be >= 60
    end

    askings.each do |who, texts|
      texts.each do |text|
        it "finds #{who} by “#{text}”" do
          first = described_class.patients(clinic, text).first
          expect([first&.record_number, first&.given_name, first&.family_name]).to include(who)
        end
      end
    end

    it "puts both spellings of a name together" do
      expect(described_class.patients(clinic, "darcy").map(&:given_name)).to eq %w[Anneliese Ben]
    end

    it "finds who wears a device by its serial number" do
      visit = sized_visit(clinic, fitter, serial: "WH-20501")
      expect(described_class.patients(clinic, "wh-20501").map(&:id)).to eq [
           visit.fitting.patient_id
         ]
    end

    it "finds nobody whose name is another one" do
      expect(
        %w[smith zzzz 1111 brown].flat_map { |text| described_class.patients(clinic, text) }
      ).to eq []
    end
  end
end
