# frozen_string_literal: true

require "web_helper"
require "tempfile"

RSpec.describe "A FHIR bundle read in", :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  before { sign_in(fitter) }

  def choose(bundle)
    text = bundle.is_a?(String) ? bundle : JSON.generate(bundle)
    file = Tempfile.new(%w[bundle .json]).tap { |one| one.write(text) && one.rewind }
    get "/patients/bundle"
    post "/patients/bundle",
         "authenticity_token" => token,
         "file" => Rack::Test::UploadedFile.new(file.path, "application/fhir+json")
  end

  def bring
    fields =
      last_response
        .body
        .scan(/name="(rows|entry_key|page|authenticity_token)" value="([^"]*)"/)
        .to_h
    post("/patients/bundle/all", fields.transform_values { |text| CGI.unescapeHTML(text) })
  end

  def bundle(*resources)
    {
      "resourceType" => "Bundle",
      "type" => "collection",
      "entry" => resources.map { |one| { "fullUrl" => "urn:x:#{one["id"]}", "resource" => one } }
    }
  end

  def wearer(**more)
    {
      "resourceType" => "Patient",
      "id" => "p1",
      "identifier" => [{ "value" => "X 12" }],
      "name" => [{ "use" => "official", "family" => "Rowe", "given" => %w[Ada May] }],
      "birthDate" => "1950-02-03",
      **more.transform_keys(&:to_s)
    }
  end

  def girth(**more)
    {
      "resourceType" => "Observation",
      "id" => "o1",
      "status" => "final",
      "subject" => {
        "reference" => "Patient/p1"
      },
      "effectiveDateTime" => "2025-03-14T09:40:00Z",
      "bodySite" => {
        "coding" => [
          { "system" => "urn:handrail:codes", "code" => "calf_widest" },
          { "system" => "http://snomed.info/sct", "code" => "7771000" }
        ]
      },
      "valueQuantity" => {
        "value" => 36.5,
        "code" => "cm",
        "system" => "http://unitsofmeasure.org"
      },
      **more.transform_keys(&:to_s)
    }
  end

  def kept = Handrail::Store.db[:earlier_readings].where(clinic_id: clinic.id)
  def people = Handrail::Store::Patient.where(clinic_id: clinic.id, practice: false)

  it "looks first and keeps nothing, then adds patient and readings as one" do
    choose(bundle(wearer, girth))
    expect(text).to include("One patient and one reading can be brought in.")
    expect([people.count, kept.count]).to eq [0, 0]
    bring
    expect(last_response.status).to eq 303
    expect(people.first.values.values_at(:given_name, :family_name, :record_number)).to eq [
         "Ada May",
         "Rowe",
         "X 12"
       ]
    expect(kept.select_map(%i[site side typed unit value_mm read_on])).to eq [
         ["calf_widest", "left", "36.5", "cm", 365, Date.new(2025, 3, 14)]
       ]
    choose(bundle(wearer, girth))
    expect([last_response.status, text]).to match [422, /nothing new in it/]
  end

  it "reads what this program itself sends, exactly" do
    visit = handed_over_visit(clinic, fitter)
    patient = visit.fitting.patient
    visits = Handrail::Store::Visits.of_fittings(clinic, [visit.fitting_id]).values.flatten
    sent = JSON.generate(Handrail::Exchange::Fhir.new(clinic, patient, visits).bundle)
    found = Handrail::Exchange::FhirIn.read(sent)
    expect(found.faults).to be_empty
    expect(
      found.patients.map { |_, form| form.values_at("record_number", "family_name", "born_on") }
    ).to eq [[patient.record_number, "Quarrel", "1961-03-14"]]
    read = record(visit).usable_readings.map { |row| [row[:site], row[:side], row[:value_mm].to_d] }
    expect(
      found.readings.map { |_, row| [row["site"], row["side"], row["value"].to_d] }
    ).to match_array read
    expect(found.orders.map { |one| one.to_h.slice(:family, :prescriber) }.uniq).to eq [
         { family: "knee_unloader", prescriber: "Dr Spec" }
       ]
  end

  it "shows an order and writes none, and counts what it leaves out" do
    order = {
      "resourceType" => "ServiceRequest",
      "id" => "s1",
      "intent" => "order",
      "subject" => {
        "reference" => "Patient/p1"
      },
      "code" => {
        "text" => "Unknown brace"
      },
      "authoredOn" => "2025-03-01"
    }
    weight = girth(id: "o2", bodySite: { "coding" => [{ "system" => "elsewhere", "code" => "1" }] })
    choose(bundle(wearer, girth, order, weight, { "resourceType" => "Device", "id" => "d" }))
    expect(text).to match(
      /Two other resources are left out.*Unknown brace, a device that is not fitted here/
    )
    expect(Handrail::Store.db[:prescriptions].where(clinic_id: clinic.id).count).to eq 0
  end

  it "names what can not be, by its place, and brings in nothing" do
    {
      [wearer(identifier: nil)] => /Entry 1: This patient has no identifier/,
      [wearer(birthDate: "1950-02")] => /Entry 1: X 12: the date of birth is not whole/,
      [
        wearer(extension: [{ "url" => "http://hl7.org/fhir/StructureDefinition/patient-animal" }])
      ] =>
        /An animal: add it by hand/,
      [wearer(name: [])] => /Entry 1: /,
      [wearer, girth(subject: { "reference" => "Patient/other" })] =>
        /Entry 2: It is of a patient who is not in the bundle/,
      [wearer, girth(effectiveDateTime: nil)] => /Entry 2: It does not say on which day/,
      [wearer, girth(valueQuantity: { "value" => "36", "code" => "cm" })] =>
        /Entry 2: Its value is no number/,
      [wearer, girth(valueQuantity: { "value" => 3.6, "code" => "cm" })] =>
        /Entry 2: 3.6 cm is no reading/,
      [
        wearer,
        girth(
          bodySite: {
            "coding" => [{ "system" => "urn:handrail:codes", "code" => "calf_widest" }]
          }
        )
      ] =>
        /Entry 2: .*say which/
    }.each do |resources, words|
      choose(bundle(*resources))
      expect([last_response.status, text]).to match [422, words]
    end
    expect([people.count, kept.count]).to eq [0, 0]
  end

  it "resolves a reference by the base of the entry that refers, never across bases" do
    at = ->(url, resource) { { "fullUrl" => url, "resource" => resource } }
    other = wearer(identifier: [{ "value" => "X 13" }], name: [{ "family" => "Pell" }])
    entries = [
      at["http://a.example/fhir/Patient/p1", wearer],
      at["http://b.example/fhir/Patient/p1", other],
      at["http://a.example/fhir/Observation/o1", girth],
      at[
        "http://b.example/fhir/Observation/o1",
        girth(valueQuantity: { "value" => 38, "code" => "cm" })
      ]
    ]
    whole = { "resourceType" => "Bundle", "type" => "collection", "entry" => entries }
    read = Handrail::Exchange::FhirIn.read(JSON.generate(whole))
    expect(read.readings.map { |_, row| row.values_at("record_number", "value") }).to eq [
         ["X 12", "36.5"],
         ["X 13", "38"]
       ]
    # relative to nothing, and two who could be meant: nobody is guessed at
    entries.last["fullUrl"] = "urn:uuid:0b1d4f1e-7c53-4d0f-9a11-0d3f7b1c2a3d"
    choose(whole)
    expect([last_response.status, text]).to match [
            422,
            /Entry 4: It is of Patient.p1, and there are 2/
          ]
  end

  it "takes nothing whose meaning something else in it changes" do
    both = [
      { "system" => "urn:handrail:codes", "code" => "calf_widest" },
      { "system" => "http://snomed.info/sct", "code" => "7771000" },
      { "system" => "http://snomed.info/sct", "code" => "24028007" }
    ]
    {
      [wearer, girth(valueQuantity: { "value" => 36, "code" => "cm", "comparator" => "<" })] =>
        /Entry 2: It says .* no value but a bound/,
      [wearer, girth(modifierExtension: [{ "url" => "x", "valueBoolean" => true }])] =>
        /Entry 2: It carries a modifier/,
      [wearer, girth(bodySite: { "coding" => both })] => /Entry 2: It says left and right at once/,
      [wearer(link: [{ "type" => "replaced-by", "other" => {} }])] => /was replaced/,
      [wearer(active: false)] => /not in use any more/,
      [wearer(deceasedDateTime: "2025-01-02")] => /has died/,
      [wearer(identifier: [{ "value" => "A 1" }, { "value" => "B 2" }])] =>
        /several numbers, A 1, B 2/
    }.each do |resources, words|
      choose(bundle(*resources))
      expect([last_response.status, text]).to match [422, words]
    end
    deleted = bundle(wearer, girth)
    deleted["entry"][1]["request"] = { "method" => "DELETE", "url" => "Observation/o1" }
    choose(deleted)
    expect([last_response.status, text]).to match [422, /Entry 2: It is to be changed or deleted/]
    elsewhere = both.first(2).map(&:dup).tap { |two| two[1]["system"] = "urn:elsewhere" }
    choose(bundle(wearer, girth(bodySite: { "coding" => elsewhere })))
    expect([last_response.status, text]).to match [422, /Entry 2: .*say which/]
    expect([people.count, kept.count]).to eq [0, 0]
  end

  it "takes the number, name and telephone that are somebody's now, and orders that stand" do
    order = {
      "resourceType" => "ServiceRequest",
      "intent" => "order",
      "subject" => {
        "reference" => "Patient/p1"
      },
      "code" => {
        "text" => "Brace"
      }
    }
    ended = { "period" => { "end" => "2019-01-01" } }
    whole =
      bundle(
        wearer(
          identifier: [
            { "use" => "secondary", "value" => "INS 9" },
            { "use" => "old", "value" => "X 1" },
            { "value" => "X 12", "type" => { "coding" => [{ "code" => "MR" }] } }
          ],
          name: [
            { "use" => "maiden", "family" => "Stott", "given" => ["Ada"] },
            { "family" => "Gone", **ended },
            { "use" => "usual", "family" => "Rowe", "given" => ["Ada"] }
          ],
          telecom: [
            { "system" => "phone", "value" => "1", "use" => "old" },
            { "system" => "phone", "value" => "2" }
          ]
        ),
        *%w[revoked draft entered-in-error].map { |status| order.merge("status" => status) },
        order.merge("status" => "active", "doNotPerform" => true),
        order.merge("status" => "active", "code" => { "text" => "Stands" })
      )
    found = Handrail::Exchange::FhirIn.read(JSON.generate(whole))
    expect(found.patients.first.last.values_at("record_number", "family_name", "phone")).to eq [
         "X 12",
         "Rowe",
         "2"
       ]
    expect(found.orders.map(&:text)).to eq ["Stands"]
  end

  it "does not take somebody under another name for who is here with that number" do
    make_patient(clinic, fitter, record_number: "X 12", born_on: "3 Feb 1950", family_name: "Else")
    choose(bundle(wearer, girth))
    expect([last_response.status, text]).to match [422, /born on the same day under another name/]
  end

  it "does not take somebody for somebody else under the same number" do
    make_patient(clinic, fitter, record_number: "x 12", born_on: "1 Jan 1980")
    choose(bundle(wearer, girth))
    expect([last_response.status, text]).to match [422, /somebody else here, born on another day/]
  end

  it "adds a reading to who is here already, and adds nobody twice" do
    make_patient(clinic, fitter, record_number: "X 12", born_on: "3 Feb 1950", family_name: "Rowe")
    choose(bundle(wearer, girth))
    bring
    expect([people.count, kept.count]).to eq [1, 1]
  end

  it "passes over what was entered in error" do
    choose(bundle(wearer, girth(status: "entered-in-error")))
    bring
    expect(kept.count).to eq 0
  end

  it "refuses what is no bundle, whatever it is" do
    [
      "",
      "hello",
      "[]",
      "{}",
      '{"resourceType":"Patient"}',
      '{"resourceType":"Bundle","entry":{}}',
      "\xFF\xFE"
    ].each do |text|
      choose(text)
      expect([text, last_response.status]).to eq [text, 422]
    end
    nonsense = {
      "resourceType" => "Bundle",
      "entry" => [
        1,
        nil,
        { "resource" => 3 },
        {
          "resource" => {
            "resourceType" => "Observation",
            "bodySite" => [],
            "valueQuantity" => 3
          }
        },
        { "resource" => { "resourceType" => "Patient", "name" => "x", "identifier" => 4 } }
      ]
    }
    choose(nonsense)
    expect(last_response.status).to eq 422
    get "/patients/bundle"
    post "/patients/bundle", "authenticity_token" => token
    expect(text).to include("Choose a file first")
  end

  it "is for fitters" do
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    get "/patients/bundle"
    expect(last_response.status).to eq 403
  end

  describe "the zip file of one wearer" do
    let(:there) { make_clinic("The other clinic #{SecureRandom.hex(2)}") }
    let(:wearer_there) do
      visit = handed_over_visit(there, make_account(there))
      visit.fitting.patient
    end
    let(:zip) do
      visits = Handrail::Store::Visits.of_fittings(there, wearer_there.fittings.map(&:id))
      Handrail::Exchange::PatientBundle
        .new(there, wearer_there, visits.values.flatten) { nil }
        .to_zip
    end

    def send_zip(bytes)
      file = Tempfile.new(%w[wearer .zip]).tap { |one| one.binmode.write(bytes) && one.rewind }
      get "/patients/bundle"
      post "/patients/bundle",
           "authenticity_token" => token,
           "file" => Rack::Test::UploadedFile.new(file.path, "application/zip")
    end

    it "comes from one clinic into another: the wearer, and every reading that counts, as it was typed" do
      send_zip(zip)
      expect([last_response.status, text]).to match [200, /1 patient|One patient/]
      bring
      found = Handrail::Store::Patient.where(clinic_id: clinic.id).all
      told = %i[given_name family_name born_on record_number]
      expect(found.map { |one| one.values.slice(*told) }).to eq [wearer_there.values.slice(*told)]
      was =
        Handrail::Store.db[:readings].where(clinic_id: there.id).select_order_map(:value_mm).uniq
      is =
        Handrail::Store.db[:earlier_readings].where(clinic_id: clinic.id).select_order_map(
          :value_mm
        )
      expect([is.size, is]).to match [be > 0, was]
    end

    it "is refused where it is cut short, or holds no bundle, and nothing is brought in" do
      [
        zip[0, 400],
        Zip::OutputStream.write_buffer { |z| z.put_next_entry("a.txt") }.string
      ].each do |bytes|
        send_zip(bytes)
        expect([last_response.status, text]).to match [422, /cut short|holds no fhir.json/]
      end
      expect(Handrail::Store::Patient.where(clinic_id: clinic.id).count).to eq 0
    end

    it "unpacks no more than it reads, whatever is packed" do
      bomb =
        Zip::OutputStream.write_buffer do |out|
          out.put_next_entry("fhir.json")
          out.write("0" * 12_000_000)
        end
      send_zip(bomb.string)
      expect([last_response.status, text]).to match [422, /larger than 5 MB/]
    end
  end
end
