# frozen_string_literal: true

require "web_helper"
require "tempfile"

RSpec.describe "Readings from before", :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let!(:wearer) { make_patient(clinic, fitter, record_number: "C 77") }

  head = "record_number,date,site,side,posture,value,unit\n"

  before { sign_in(fitter) }

  def look(text)
    file = Tempfile.new(%w[before .csv]).tap { |one| one.write(text) && one.rewind }
    get "/patients/earlier"
    post "/patients/earlier",
         "authenticity_token" => token,
         "file" => Rack::Test::UploadedFile.new(file.path, "text/csv")
  end

  # what the looked-at page would send
  def bring
    fields =
      last_response
        .body
        .scan(/name="(rows|entry_key|page|authenticity_token)" value="([^"]*)"/)
        .to_h
    post("/patients/earlier/all", fields.transform_values { |text| CGI.unescapeHTML(text) })
  end

  def kept = Handrail::Store.db[:earlier_readings].where(clinic_id: clinic.id)

  it "looks first and keeps nothing, then brings in all of them, as they were typed" do
    look(
      "#{head}c  77,14 Mar 2025,calf_widest,left,standing,36 1/2,cm\nC 77,2 Jun 2025,calf_widest,left,,14.25,in\n"
    )
    expect(text).to include("Two readings of one wearer can be brought in.")
    expect(kept.count).to eq 0
    bring
    expect(last_response.status).to eq 303
    expect(kept.order(:read_on).select_map(%i[typed unit value_mm])).to eq [
         ["36 1/2", "cm", 365],
         ["14.25", "in", 361.95.to_d]
       ]
    get "/patients/#{wearer.id}"
    expect(text).to match(
      %r{Readings from before.*Left calf.*14.25 in on 2 Jun 2025; 36 1/2 cm on 14 Mar 2025}
    )
  end

  # sends the question's page with what was chosen
  def choose(**chosen)
    fields = last_response.body.scan(/name="(raw|named|authenticity_token)" value="([^"]*)"/).to_h
    post(
      "/patients/earlier",
      **fields.transform_values { |one| CGI.unescapeHTML(one) },
      "choose" => chosen.transform_keys(&:to_s)
    )
  end

  it "reads figures and days by the whole column, and shows the rows as they will be kept" do
    look(
      "#{head}C 77,4/3/2025,calf_widest,left,,\"1.050\",mm\nC 77,25/3/2025,calf_widest,left,,\"365,5\",mm\n"
    )
    expect(text).to include("1050 is no reading").or include("1050 mm is no reading")
    look(
      "#{head}C 77,4/3/2025,calf_widest,left,,\"36,5\",cm\nC 77,25/3/2025,calf_widest,left,,37.5,cm\n"
    )
    expect(text).to match(
      /As they will be kept.*C 77, .*4 Mar 2025.*36,5 cm = 365 mm.*25 Mar 2025/m
    )
  end

  it "asks what can be read two ways, over the rows as they stand, and reads them as was chosen" do
    look(
      "#{head}C 77,4/3/2025,foot_length,left,standing,0.250,m\nC 77,5/3/2025,thigh_widest,left,,\"0,650\",m\n"
    )
    expect(text).to include("can be read two ways").and include(
            "which day is “4/3/2025” in line 2?"
          )
    expect(text).to include("4 Mar 2025: the day stands first").and include(
            "3 Apr 2025: the month stands first"
          )
    expect(kept.count).to eq 0
    choose(days: "month")
    expect(text).to match(/As they will be kept.*3 Apr 2025.*3 May 2025/m)
    bring
    expect(kept.order(:read_on).select_map(:read_on)).to eq [
         Date.new(2025, 4, 3),
         Date.new(2025, 5, 3)
       ]
  end

  it "asks of figures, and names what is not written as was chosen" do
    two =
      "#{head}C 77,4 Mar 2025,hip_fullest,,,\"1,050\",mm\nC 77,5 Mar 2025,hip_fullest,,,\"1,150\",mm\n"
    look(two)
    expect(text).to include("The figures in value can be read two ways")
    choose(figures: "point-comma")
    expect(text).to include("1050 mm").and include("1150 mm")
    look(two.sub("1,150", "11,5"))
    expect(text).not_to include("can be read two ways")
    look(two)
    choose(figures: "comma-apostrophe")
    expect(text).to include("1.05 mm is no reading")
    look(two)
    choose(figures: "point-blank")
    expect(text).to include(
      "Line 2: “1,050” is not written with a point before decimals and a blank between"
    )
    choose(figures: "nonsense")
    expect(last_response.status).to be_between(200, 499)
  end

  it "names every line that can not be, and brings in nothing" do
    look(
      "#{head}X 9,14 Mar 2025,calf_widest,left,,36,cm\nC 77,14 Mar 2025,elbow_tip,left,,36,cm\n" \
        "C 77,14 Mar 2125,calf_widest,left,,36,cm\nC 77,1 Jan 1950,calf_widest,left,,36,cm\n" \
        "C 77,soon,calf_widest,left,,36,cm\nC 77,14 Mar 2025,calf_widest,,,36,cm\n" \
        "C 77,14 Mar 2025,calf_widest,left,hanging,36,cm\nC 77,14 Mar 2025,calf_widest,left,,3.6,cm\n" \
        "C 77,14 Mar 2025,calf_widest,left,,wide,cm\nC 77,14 Mar 2025,calf_widest,left,,36,ells\n" \
        "C 77,14 Mar 2025,calf_widest,left,,36,cm\nC 77,14 Mar 2025,calf_widest,left,,36,cm\n"
    )
    expect(last_response.status).to eq 422
    said = text
    {
      2 => "no patient with the number “X 9”",
      3 => "no site “elbow_tip”",
      4 => "14 Mar 2125 has not come yet",
      5 => "before they were born",
      6 => "Line 6: ",
      7 => "has a left and a right: say which",
      8 => "not “hanging”",
      9 => "3.6 cm is no reading",
      10 => "Line 10: ",
      11 => "“ells” is no unit",
      13 => "says the same as line 12"
    }.each do |line, words|
      expect(said).to match(
        /Line #{line}: (?:(?!Line).)*#{Regexp.escape(words.delete_prefix("Line #{line}: "))}/
      )
    end
    expect(kept.count).to eq 0
  end

  it "brings in nothing twice: not the same file again, and not the same entry" do
    file = "#{head}C 77,14 Mar 2025,calf_widest,left,standing,36.5,cm\n"
    look(file)
    sent = last_response.body
    2.times do
      allow(last_response).to receive(:body).and_return(sent)
      fields = sent.scan(/name="(rows|entry_key|page|authenticity_token)" value="([^"]*)"/).to_h
      post("/patients/earlier/all", fields.transform_values { |text| CGI.unescapeHTML(text) })
    end
    expect(kept.count).to eq 1
    look(file)
    expect([last_response.status, text]).to match [422, /Line 2: is here already/]
  end

  it "is taken back as one by a senior, once" do
    look(
      "#{head}C 77,14 Mar 2025,calf_widest,left,,36.5,cm\nC 77,14 Mar 2025,calf_widest,right,,36.9,cm\n"
    )
    bring
    entry =
      Handrail::Store.db[:entries].where(clinic_id: clinic.id, command: "bring_readings").get(:id)
    send_form("/patients/earlier/back", from: "/patients/earlier", entry: entry)
    expect([last_response.status, kept.count]).to eq [403, 2]
    sign_out
    sign_in(make_account(clinic, "senior"))
    send_form("/patients/earlier/back", from: "/patients/earlier", entry: entry)
    expect(kept.count).to eq 0
    send_form("/patients/earlier/back", from: "/patients/earlier", entry: entry)
    expect([last_response.status, text]).to match [422, /taken back already/]
  end

  it "keeps patients that came from a file as long as readings of theirs are here, and says why" do
    senior = make_account(clinic, "senior")
    desk = Handrail::Store::Desk
    commands = Handrail::Store::Commands
    rows =
      JSON.generate(
        [
          [
            2,
            {
              "record_number" => "N 1",
              "given_name" => "A",
              "family_name" => "B",
              "born_on" => "1 Jan 1960"
            }
          ]
        ]
      )
    desk.new(clinic, senior).run(commands::BringPatients.new("rows" => rows))
    entry = ->(name) do
      Handrail::Store.db[:entries].where(clinic_id: clinic.id, command: name).get(:id)
    end
    look("#{head}N 1,14 Mar 2025,calf_widest,left,,36.5,cm\n")
    bring
    back = commands::TakeBackPatients.new("entry" => entry["bring_patients"].to_s)
    expect { desk.new(clinic, senior).run(back) }.to raise_error(Handrail::Store::Faults) { |e|
      expect(e.fields["entry"]).to match(
        /A B \(N 1\) has readings from before. Take those back first/
      )
    }
    desk.new(clinic, senior).run(
      commands::TakeBackReadings.new("entry" => entry["bring_readings"].to_s)
    )
    desk.new(clinic, senior).run(back)
    expect(Handrail::Store::Patient.where(clinic_id: clinic.id, record_key: "N 1")).to be_empty
  end

  it "refuses what is no file, an empty one, other columns, and another clinic's wearer" do
    get "/patients/earlier"
    post "/patients/earlier", "authenticity_token" => token
    expect(text).to include("Choose a CSV file first")
    look(head)
    expect(text).to match(/Nothing was brought in.*no rows?/)
    look("name,girth\nA,1\n")
    expect(last_response.status).to eq 422
    stranger = make_clinic
    make_patient(stranger, make_account(stranger), record_number: "S 1")
    look("#{head}S 1,14 Mar 2025,calf_widest,left,,36,cm\n")
    expect(text).to include("no patient with the number “S 1”")
    post "/patients/earlier/all", "rows" => "[[2,{\"site\":[1]}]]", "authenticity_token" => token
    expect(last_response.status).to eq 422
  end

  it "is for fitters: the front desk is sent away" do
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    get "/patients/earlier"
    expect(last_response.status).to eq 403
    get "/patients/#{wearer.id}"
    expect(text).not_to include("Readings from before")
  end
end
