# frozen_string_literal: true

require "store_helper"
require "tmpdir"

# Tables as other people's spreadsheets save them: read alike, or refused with the mend; never read as something else.
RSpec.describe "Other people's tables" do
  let(:columns) { %w[record_number given_name family_name born_on] }

  let(:plain) { "record_number,given_name,family_name,born_on\nC 1,Zoë,Müller,14.3.1961\n" }
  let(:rows) do
    [
      [
        2,
        {
          "record_number" => "C 1",
          "given_name" => "Zoë",
          "family_name" => "Müller",
          "born_on" => "14.3.1961"
        }
      ]
    ]
  end

  def table(bytes, columns = self.columns)
    path = File.join(Dir.mktmpdir, "t.csv")
    File.binwrite(path, bytes)
    Handrail::Exchange::CSVTable.new(path, columns, foreign: true).listed(100)
  end

  {
    "UTF-8" => ->(text) { text },
    "UTF-8 with a mark" => ->(text) { "\uFEFF#{text}" },
    "UTF-16, little end first" => ->(text) { "\xFF\xFE".b + text.encode("UTF-16LE").b },
    "UTF-16, big end first" => ->(text) { "\xFE\xFF".b + text.encode("UTF-16BE").b },
    "Windows-1252" => ->(text) { text.encode("Windows-1252") },
    "Latin-1" => ->(text) { text.encode("ISO-8859-1") },
    "lines ended as on old Macs" => ->(text) { text.tr("\n", "\r") },
    "lines ended as on Windows" => ->(text) { text.gsub("\n", "\r\n") },
    "lines ended in two ways" => ->(text) { text.sub("\n", "\r\n") },
    "semicolons" => ->(text) { text.tr(",", ";") },
    "tabs" => ->(text) { text.tr(",", "\t") },
    "fields left empty at the end" => ->(text) { text.gsub("\n", ",,\n") },
    "blanks that do not break" => ->(text) { text.sub("C 1", "C\u00A01\u00A0") },
    "our names in capitals, with blanks" => ->(text) do
      text.sub("record_number", "Record Number ")
    end,
    "German names" => ->(text) do
      text.sub(/.*\n/, "Patientennummer,Vorname,Nachname,Geburtsdatum\n")
    end,
    "Spanish names" => ->(text) do
      text.sub(/.*\n/, "Número,Nombre,Apellidos,Fecha de nacimiento\n")
    end
  }.each { |what, make| it("reads #{what} alike") { expect(table(make.call(plain).b)).to eq rows } }

  it "takes the separator that a first line names, and counts the lines of the file" do
    named = "sep=;\r\n#{plain.tr(",", ";").gsub("\n", "\r\n")}"
    expect(table(named.b)).to eq(rows.map { |line, form| [line + 1, form] })
  end

  it "refuses bytes that are another letter in another alphabet's table, with the line, and guesses nothing" do
    {
      plain.encode("macRoman").b => 2,
      plain.sub("Zoë", "Łucja").sub("Müller", "Mu").encode("Windows-1250").b => 2,
      "#{plain}C 2,\x81,x,1.1.1970\n".b => 2
    }.each do |bytes, line|
      expect { table(bytes) }.to raise_error(
        Handrail::Exchange::CSVTable::Faulty,
        /line #{line}: is not UTF-8/
      )
    end
  end

  it "reads the example of its page" do
    page = File.read(File.join(Handrail::ROOT, "docs", "formats", "tables.md"))
    form = table(page[/```csv\n(.*?)```/m, 1]).first
    expect(form).to eq [
         3,
         {
           "record_number" => "C 77",
           "given_name" => "Wilma",
           "family_name" => "Quarrel",
           "born_on" => "14.3.1961"
         }
       ]
  end

  it "takes no name of a column for two things" do
    names = Handrail::Exchange::Columns
    all = YAML.safe_load_file(Handrail::Exchange::Columns::FILE)["columns"]
    [
      Handrail::Exchange::PatientsFile::COLUMNS,
      Handrail::Exchange::ChartFile::COLUMNS,
      Handrail::Exchange::EarlierFile::COLUMNS,
      %w[person strap pressure],
      %w[person date side level girth unit]
    ].each do |columns|
      meant =
        columns.to_h { |one| [one, [one, *all.fetch(one, [])].map { |name| names.plain(name) }] }
      twice = meant.values.flat_map(&:uniq).tally.select { |_, count| count > 1 }.keys
      expect([columns, twice]).to eq [columns, []]
    end
  end

  describe "figures" do
    def mm(text, unit) = Handrail::Quantity::Length.of_cell(text, unit: unit).mm.to_f

    it "that can be read two ways are asked, in every way of writing thousands" do
      %w[1'005 1’005 1,005 1.100].each do |text|
        expect { mm(text, "mm") }.to raise_error(Handrail::Quantity::Length::Unreadable, /two ways/)
      end
      expect(mm("1005", "mm")).to eq 1005.0
      expect(mm("412.500", "mm")).to eq 412.5
      expect(mm("36.500", "cm")).to eq 365.0
      expect(Handrail::Quantity::Length.parse("1'5\"").mm).to eq Handrail::Quantity::Length.parse(
           "17 in"
         ).mm
      expect { Handrail::Quantity::Pressure.parse("1,000") }.to raise_error(
        Handrail::Quantity::Pressure::Unreadable
      )
      expect(Handrail::Quantity::Pressure.parse("17,1 kPa").mmhg.to_f).to be_within(0.1).of(128.3)
    end

    it "with a unit of their own against their column's are asked, never chosen" do
      ["14 3/8 in", "14\"", "365 mm"].each do |text|
        expect { mm(text, "cm") }.to raise_error(
          Handrail::Quantity::Length::Unreadable,
          /Which is it/
        )
      end
      expect(mm("36.5 cm", "cm")).to eq 365.0
    end
  end

  it "takes no other language's month for ours" do
    day = Handrail::Quantity::Day
    ["3 marraskuu 2020", "3 maj 2020", "3 Juni 2020", "3 Junio 2020", "3 Dez 2020"].each do |text|
      expect { day.read(text) }.to raise_error(day::Unreadable)
    end
    ["3 Mar 2020", "3 March 2020", "3 mar. 2020"].each do |text|
      expect(day.read(text)).to eq Date.new(2020, 3, 3)
    end
    expect(day.read("3 Sept 2020")).to eq Date.new(2020, 9, 3)
  end

  describe "patients", :rolled_back do
    let(:clinic) { make_clinic }
    let(:fitter) { make_account(clinic) }

    def look(*forms)
      rows =
        forms.each_with_index.map do |form, i|
          [
            i + 2,
            {
              "given_name" => "Wilma",
              "family_name" => "Quarrel",
              "born_on" => "1961-03-14"
            }.merge(form)
          ]
        end
      Handrail::Store::Arrivals.look(clinic, fitter, rows)
    end

    it "says who stands twice in one file" do
      found = look({ "record_number" => "C 1" }, { "record_number" => "C 2" })
      expect(found.doubles).to eq [[3, "Wilma Quarrel", "C 1, in line 2 of this file"]]
    end

    it "refuses a number that a spreadsheet shortened, and an owner of a person" do
      found =
        look({ "record_number" => "4.12E+11" }, { "record_number" => "C 2", "owner_name" => "Ada" })
      expect(found.faults.map(&:last)).to match [/shortened/, /owner/i]
    end
  end
end
