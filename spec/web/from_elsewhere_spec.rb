# frozen_string_literal: true

require "web_helper"
require "tempfile"
require "vips"
require "zip"

# A wearer moves: out of one clinic as a zip file, read in whole at another, and out of that again.
RSpec.describe "A wearer's record from another clinic", :rolled_back do
  store = Handrail::Store

  let(:old) { make_clinic.tap { |one| one.update(time_zone: "Pacific/Auckland") } }
  let(:then_fitter) { make_account(old) }
  let(:new) { make_clinic.tap { |one| one.update(time_zone: "Europe/London") } }
  let(:fitter) { make_account(new) }
  let(:senior) { make_account(new, "senior") }
  let(:visit) { handed_over_visit(old, then_fitter) }
  let(:wearer) { visit.fitting.patient }

  def photo
    made =
      Handrail::Exchange::Photo.new(Vips::Image.black(60, 40, bands: 3).cast(:uchar).pngsave_buffer)
    Handrail::Store::Commands::KeepPhoto.new({ "what" => "heels", "side" => "left" }, photo: made)
  end

  # what the old clinic has of the wearer beside the fitting
  def more
    later = fitted_visit(old, then_fitter, patient: wearer)
    # one that is still asked about, and does not count
    take(later, then_fitter, "14", unit: "cm")
    Handrail::Store::Ledger.new(later, then_fitter).run(photo)
    written(old, then_fitter, :NoteCaution, patient: wearer.id, text: "faints at blood")
    rows = [
      [
        2,
        {
          "record_number" => wearer.record_number,
          "date" => "14 Mar 2025",
          "site" => "calf_widest",
          "side" => "left",
          "posture" => "standing",
          "tension" => "snug",
          "value" => "36 1/2",
          "unit" => "cm"
        }
      ]
    ]
    written(old, then_fitter, :BringReadings, rows: JSON.generate(rows))
  end

  def written(clinic, account, command, **params)
    Handrail::Store::Desk.new(clinic, account, entry_key: SecureRandom.uuid).run(
      Handrail::Store::Commands.const_get(command).new(params.transform_keys(&:to_s))
    )
  end

  def choose(bytes)
    file = Tempfile.new(%w[wearer .zip], binmode: true).tap { |one| one.write(bytes) && one.rewind }
    get "/patients/bundle"
    post "/patients/bundle",
         "authenticity_token" => token,
         "file" => Rack::Test::UploadedFile.new(file.path)
  end

  def bring
    fields =
      last_response
        .body
        .scan(/name="(rows|file|entry_key|page|authenticity_token)" value="([^"]*)"/)
        .to_h
    post("/patients/bundle/all", fields.transform_values { |one| CGI.unescapeHTML(one) })
  end

  def whole(clinic, patient)
    ids = store::Fitting.where(patient_id: patient.id).order(:id).select_map(:id)
    Handrail::Exchange::PatientBundle.new(
      clinic,
      patient,
      store::Visits.of_fittings(clinic, ids).values.flatten,
      earlier: store::Earlier.rows(clinic, patient),
      cautions: store.db[:standing_cautions].where(patient_id: patient.id).all,
      brought: store::Brought.of(clinic, patient)
    ) { |sha256| store.db[:files].where(sha256: sha256).get(:bytes) }
  end

  define_method(:store) { store }

  def here = store::Patient.where(clinic_id: new.id, practice: false).first
  def readings(bundle) =
    Handrail::Exchange::FhirIn
      .read(JSON.generate(bundle))
      .readings
      .map { |_, row| row.slice(*%w[date site side posture tension value unit]) }
      .sort_by(&:to_s)

  def fhir(clinic, patient)
    ids = store::Fitting.where(patient_id: patient.id).order(:id).select_map(:id)
    visits = store::Visits.of_fittings(clinic, ids).values.flatten
    Handrail::Exchange::Fhir.new(
      clinic,
      patient,
      visits,
      earlier: store::Earlier.rows(clinic, patient)
    ).bundle
  end

  it "is read in whole: devices, what was written, papers, photos, cautions and readings, on its own clock" do
    more
    sent = whole(old, wearer).to_zip
    sign_in(fitter)
    choose(sent)
    expect(text).to match(
      /The whole record of #{old.name} comes with it, to be read: two devices, .* and one photo/
    )
    expect([here, store.db[:brought_records].where(clinic_id: new.id).count]).to eq [nil, 0]
    bring
    expect(last_response.status).to eq 303
    get "/patients/#{here.id}"
    expect(text).to include("From other clinics #{old.name}: two devices")
    get html[%r{/patients/\d+/elsewhere/\d+}]
    expect(text).to include(
      "All hours are those of Pacific/Auckland",
      "faints at blood",
      "Left calf"
    )
    story = record(visit).events.map { |entry| entry[:said] }
    expect(text).to include(*story.map { |said| said.gsub(/\s+/, " ") })
    at = record(visit).events.first[:at].getlocal("+13:00")
    expect(text).to include(
      TZInfo::Timezone.get("Pacific/Auckland").utc_to_local(at.utc).strftime("%-d %b %Y, %H:%M")
    )
    photo = html[%r{/patients/\d+/elsewhere/\d+/files/\h{64}(?=">photos)}]
    get photo
    expect([last_response.status, last_response.content_type]).to eq [200, "image/jpeg"]
    expect(last_response.body.b).to start_with("\xFF\xD8\xFF".b)
    choose(sent)
    expect([last_response.status, text]).to match [422, /nothing new in it/]
  end

  # the hours of a day in which the other clinic's clock says tomorrow, and the other half
  [2, 13].each do |hour|
    it "takes the days of a clock ahead of its own, at #{hour} h UTC" do
      now = Time.now.utc
      noon = Time.utc(now.year, now.month, now.day, hour, 30)
      store.at(noon) { more }
      sign_in(fitter)
      sent = whole(old, wearer).to_zip
      store.at(noon) do
        choose(sent)
        bring
      end
      days = store.db[:earlier_readings].where(patient_id: here.id).select_map(:read_on).uniq
      expect(days).to include(old.today(noon))
      expect([noon.to_date, noon.to_date + 1]).to include(old.today(noon))
    end
  end

  it "refuses a day that has begun nowhere" do
    sign_in(fitter)
    make_patient(new, fitter, record_number: "AHEAD 1")
    day = Handrail::Quantity::Day.newest(store.now)
    rows = [day, day + 1].map { |on| "AHEAD 1,#{on.iso8601},calf_widest,left,standing,360,mm" }
    file = Tempfile.new(%w[readings .csv])
    file.write("record_number,date,site,side,posture,value,unit\n#{rows.join("\n")}\n")
    file.rewind
    get "/patients/earlier"
    post "/patients/earlier",
         "authenticity_token" => token,
         "file" => Rack::Test::UploadedFile.new(file.path)
    expect(text).to include("Line 3: #{Handrail::Quantity::Day.write(day + 1)} has not come yet.")
    expect(text).not_to include("Line 2:")
  end

  it "says the same to the day and the tension, from clinic to clinic, and then stays as it is" do
    more
    first = fhir(old, wearer)
    sign_in(fitter)
    choose(whole(old, wearer).to_zip)
    bring
    second = fhir(new, here)
    # what was read alike twice on a day is one reading from before
    expect(readings(second)).to eq readings(first).uniq
    expect(readings(second).map { |row| row["tension"] }).to include("snug")
    third_clinic = make_clinic
    other = make_account(third_clinic)
    sign_out
    sign_in(other)
    choose(whole(new, here).to_zip)
    bring
    third = store::Patient.where(clinic_id: third_clinic.id, practice: false).first
    strip = ->(bundle) do
      bundle["entry"]
        .map { |one| one["resource"].except("id", "fullUrl") }
        .map { |one| JSON.generate(one).gsub(/urn:uuid:[\h-]{36}|clinic-\d+/, "-") }
    end
    named = ->(list) { list.reject { |one| one.include?('"Organization"') } }
    expect(named[strip[fhir(third_clinic, third)]]).to match_array named[strip[second]]
    # what the first gave along goes on, with its files
    told = whole(third_clinic, third).told
    expect(told["elsewhere"].first["elsewhere"].first["clinic"]["name"]).to eq old.name
    expect(whole(third_clinic, third).contents.keys.grep(%r{photos/}).size).to eq 1
  end

  it "has readings.csv taken by “Readings from before”, without what does not count" do
    more
    csv = whole(old, wearer).contents.fetch("readings.csv")
    make_patient(new, fitter, record_number: wearer.record_number, born_on: "14 Mar 1961")
    sign_in(fitter)
    file = Tempfile.new(%w[readings .csv]).tap { |one| one.write(csv) && one.rewind }
    get "/patients/earlier"
    post "/patients/earlier",
         "authenticity_token" => token,
         "file" => Rack::Test::UploadedFile.new(file.path)
    expect(last_response.status).to eq(200), text[0, 900]
    expect(text).to include(
      "rows do not count or say the same again, and are left out.",
      "can be brought in"
    )
  end

  it "is taken away from who it is not of, by a senior, with a reason, and says what differs" do
    sign_in(fitter)
    choose(whole(old, wearer).to_zip)
    bring
    here.update(phone: "other")
    get "/patients/#{here.id}"
    path = html[%r{/patients/\d+/elsewhere/\d+}]
    get path
    expect(text).not_to include("It is not this wearer's")
    sign_out
    sign_in(senior)
    get path
    fields = {
      "record" => path[/\d+\z/],
      "authenticity_token" => token,
      "entry_key" => SecureRandom.uuid
    }
    post "#{path}/end", fields.merge("why" => "")
    expect([last_response.status, text]).to match [422, /Say why it is not/]
    post "#{path}/end", fields.merge("why" => "of another person of the name")
    expect(last_response.status).to eq 303
    get path
    expect(text).to include("Taken away on", "of another person of the name")
    # and can be brought again
    sign_out
    sign_in(fitter)
    choose(whole(old, wearer).to_zip)
    expect(text).to include("The whole record of")
  end

  it "is read as its page shows the smallest one" do
    page = File.read(File.join(Handrail::ROOT, "docs", "formats", "clinic.md"))
    bundle = {
      "resourceType" => "Bundle",
      "entry" => [
        {
          "resource" => {
            "resourceType" => "Patient",
            "identifier" => [{ "value" => "EX 7" }],
            "name" => [{ "family" => "Quarrel", "given" => ["Wilma"] }],
            "birthDate" => "1961-03-14"
          }
        }
      ]
    }
    files = {
      "patient.json" => page[/```json\n(.*?)```/m, 1],
      "fhir.json" => JSON.generate(bundle)
    }
    made =
      Zip::OutputStream.write_buffer do |zip|
        files.each { |name, bytes| zip.put_next_entry(name) && zip.write(bytes) }
      end
    sign_in(fitter)
    choose(made.string)
    expect(text).to include(
      "The whole record of Elm Street Clinic comes with it, to be read: one device, no papers"
    )
    bring
    get "/patients/#{here.id}"
    get html[%r{/patients/\d+/elsewhere/\d+}]
    expect(text).to include(
      "2 Jan 2026, 10:04, Ada Quill: identity confirmed",
      "faints at blood (2 Jan 2026, 05:00)"
    )
  end

  it "is another clinic's for nobody, and refuses what is damaged" do
    sign_in(fitter)
    choose(whole(old, wearer).to_zip)
    bring
    get "/patients/#{here.id}"
    path = html[%r{/patients/\d+/elsewhere/\d+}]
    sign_out
    sign_in(then_fitter)
    get path
    expect(last_response.status).to eq 404
    get "/patients/#{wearer.id}/elsewhere/#{path[/\d+\z/]}"
    expect(last_response.status).to eq 404
    sign_out
    sign_in(make_account(new, "front_desk"))
    get path
    expect(last_response.status).to eq 403
    sign_out
    sign_in(fitter)
    { "patient.json" => "[]", "photos/x.jpg" => "GIF89a" }.each do |name, bytes|
      made =
        Zip::OutputStream.write_buffer do |zip|
          whole(old, wearer)
            .contents
            .merge(name => bytes)
            .each { |file, body| zip.put_next_entry(file) && zip.write(body) }
        end
      choose(made.string)
      expect(text).to match(
        /patient.json is not as it should be|nothing new in it|Not read: photos/
      )
    end
    bytes = whole(old, wearer).to_zip
    choose(bytes[0, bytes.size / 2])
    expect([last_response.status, text]).to match [422, /damaged or cut short/]
    post "/patients/bundle/all", "rows" => "{}", "file" => "999999", "authenticity_token" => token
    expect([last_response.status, text]).to match [422, /not here any more/]
  end
end
