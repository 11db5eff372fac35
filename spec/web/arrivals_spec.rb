# frozen_string_literal: true

require "web_helper"

RSpec.describe "Bringing in many patients", :rolled_back do
  store = Handrail::Store
  columns = Handrail::Exchange::PatientsFile::COLUMNS.join(",")

  let(:clinic) { make_clinic }
  let!(:senior) { make_account(clinic, "senior") }
  let(:patients) { Handrail::Store::Patient.where(clinic_id: clinic.id) }

  before { sign_in(senior) }

  def upload(csv, name: "people.csv")
    get "/patients/bring"
    file = Tempfile.new(%w[people .csv]).tap { |made| made.binmode.write(csv) && made.flush }
    post "/patients/bring",
         "authenticity_token" => token,
         "file" => Rack::Test::UploadedFile.new(file.path, "text/csv", original_filename: name)
  end

  def confirm(**more)
    hidden = last_response.body.scan(/<input type="hidden" name="(\w+)" value="([^"]*)"/).to_h
    fields =
      hidden.transform_values { |value| CGI.unescapeHTML(value) }.merge(more.transform_keys(&:to_s))
    post "/patients/bring/all", fields
    fields
  end

  it "takes no list that is none" do
    ["[]", "{}", "[1]", "[[1, 2]]", '[[2, {"record_number": "C 1"}], [3]]'].each do |rows|
      command = Handrail::Store::Commands::BringPatients.new("rows" => rows)
      expect { Handrail::Store::Desk.new(clinic, senior).run(command) }.to raise_error(
        Handrail::Store::Unacceptable,
        /no list of patients/
      ),
      rows
    end
  end

  it "looks at the file first and keeps nothing, then brings all of them in" do
    upload(
      "#{columns}\nC 77,human,Wilma,Quarrel,,14 Mar 1961,12 34,\nA 3,dog,Moss,,Ada Quill,2 May 2021,,\n"
    )
    expect(text).to include("Two patients can be brought in.")
    expect(patients.count).to eq 0
    confirm
    expect(patients.order(:record_number).map(&:name)).to eq ["Moss", "Wilma Quarrel"]
    get "/patients/bring"
    expect(text).to include("2 patients brought in", "Take them back")
  end

  it "names every fault by its line, and brings in nobody" do
    make_patient(clinic, senior, record_number: "C 77")
    upload(<<~CSV)
      #{columns}
      C 78,human,Wilma,Quarrel,,14 Mar 1961,,
      c  77,human,Ada,Quill,,1 Jan 1970,,
      C 79,human,,Quill,,1 Jan 1970,,
      C 80,cat,Tib,,Ada,1 Jan 2020,,
      C 81,dog,Moss,,,1 Jan 2020,,
      C 82,human,Ada,Quill,,31 Feb 1970,,
      C 78,human,Bo,Quill,,1 Jan 1970,,
    CSV
    expect(last_response.status).to eq 422
    expect(text).to include("Line 3: Record number c 77 belongs to another patient")
    {
      4 => "first name",
      5 => "person or dog",
      6 => "owner",
      7 => "",
      8 => "belongs to another"
    }.each { |line, words| expect(text).to match(/Line #{line}: [^L]*#{words}/) }
    expect(text).not_to include("Line 2:")
    expect(patients.count).to eq 1
  end

  it "shows who may be here already under another number" do
    make_patient(
      clinic,
      senior,
      record_number: "OLD 1",
      given_name: "Wilma",
      family_name: "Quarrel",
      born_on: "14 Mar 1961"
    )
    upload("#{columns}\nC 77,human,wilma,QUARREL,,1961-03-14,,\n")
    expect(text).to include("Line 2: Wilma Quarrel, here as OLD 1")
  end

  it "is kept once when it is sent twice, and refused whole when somebody took a number meanwhile" do
    upload(
      "#{columns}\nC 77,human,Wilma,Quarrel,,14 Mar 1961,,\nC 78,human,Bo,Quill,,1 Jan 1970,,\n"
    )
    sent = confirm
    post "/patients/bring/all", sent
    expect(patients.count).to eq 2
    upload(
      "#{columns}\nC 90,human,Wilma,Quarrel,,14 Mar 1961,,\nC 91,human,Bo,Quill,,1 Jan 1970,,\n"
    )
    make_patient(clinic, senior, record_number: "C 91")
    confirm
    expect([last_response.status, text]).to match [
            422,
            /Line 3: Record number C 91 belongs to another patient/
          ]
    expect(patients.where(record_number: "C 90")).to be_empty
  end

  it "takes them back as one, until somebody works with one of them" do
    back =
      lambda do
        get "/patients/bring"
        entry = last_response.body[/name="entry" value="(\d+)"/, 1]
        send_form("/patients/bring/back", from: "/patients/bring", entry: entry)
      end
    upload(
      "#{columns}\nC 77,human,Wilma,Quarrel,,14 Mar 1961,,\nC 78,human,Bo,Quill,,1 Jan 1970,,\n"
    )
    confirm
    back.call
    expect(patients.count).to eq 0
    back.call
    expect([last_response.status, text]).to match [422, /taken back already/]
    upload(
      "#{columns}\nC 87,human,Wilma,Quarrel,,14 Mar 1961,,\nC 88,human,Bo,Quill,,1 Jan 1970,,\n"
    )
    confirm
    make_visit(clinic, senior, patient: patients.first(record_number: "C 87"))
    back.call
    expect([last_response.status, text]).to match [
            422,
            /Wilma Quarrel \(C 87\) was changed or has an order/
          ]
    expect(patients.count).to eq 2
  end

  it "refuses what is no such file, in words" do
    {
      "" => /header|is missing/,
      "a,b\n1,2\n" => /people.csv/,
      "#{columns}\n" => /no rows/,
      "\xFF\xFEa".b => /not UTF-8/,
      "#{columns}\n\"C 77,human\n" => /not well-formed/
    }.each do |csv, words|
      upload(csv)
      expect([csv, last_response.status, text]).to match [csv, 422, words]
    end
    post "/patients/bring", "authenticity_token" => token
    expect([last_response.status, text]).to match [422, /Choose a CSV file first/]
    get "/patients/bring"
    confirm(rows: "[1,2]")
    expect([last_response.status, text]).to match [422, /no list of patients/]
    get "/patients/bring/example.csv"
    expect(last_response.body.lines.first.strip).to eq columns
  end

  it "lets only a senior take them back" do
    upload("#{columns}\nC 77,human,Wilma,Quarrel,,14 Mar 1961,,\n")
    confirm
    entry = store.db[:entries].where(clinic_id: clinic.id, command: "bring_patients").get(:id)
    sign_out
    sign_in(make_account(clinic))
    send_form("/patients/bring/back", from: "/patients/bring", entry: entry)
    expect(last_response.status).to eq 403
    expect(patients.count).to eq 1
  end
end
