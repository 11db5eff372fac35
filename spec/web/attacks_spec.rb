# frozen_string_literal: true

require "web_helper"
require "zip"

# What was once broken into: each stays shut.
RSpec.describe "Attacks", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let!(:senior) { make_account(clinic, "senior") }
  let!(:desk_person) { make_account(clinic, "front_desk") }
  let!(:visit) { fitted_visit(clinic, fitter) }
  let(:bench) { "/visits/#{visit.id}/measure" }

  def rows(table) = Handrail::Store.db[table]

  it "tells the front desk when and with whom, never what was found" do
    stopped = make_visit(clinic, fitter)
    ask(stopped, fitter, stops: %w[calf_swelling])
    take(visit, fitter, "41.3")
    sign_out
    sign_in(desk_person)
    [
      "/",
      "/find?q=#{visit.fitting.patient.family_name}",
      "/patients/#{visit.fitting.patient_id}",
      "/patients/#{stopped.fitting.patient_id}",
      "/visits/#{visit.id}/book",
      *Handrail::Wording.names("board").keys.map { |name| "/list/#{name}" }
    ].each do |path|
      get path
      expect([path, last_response.status]).to eq [path, 200]
      expect([path, text]).to match [
              path,
              a_string_matching(
                /\A(?!.*(calf pain|warmth|refer|41\.3|\d cm|clear of both edges|size M)).*\z/im
              )
            ]
    end
  end

  it "sends nobody to a stranger's address after the sign-in" do
    outside = [
      "//evil.example/x",
      "/\\evil.example",
      "/\\/evil.example",
      "///evil.example",
      "https://evil.example",
      "evil",
      ""
    ]
    expect(outside.select { |path| Handrail::Web::SignedIn.inside?(path) }).to be_empty
    expect(Handrail::Web::SignedIn.inside?("/visits/1/measure?at=calf")).to be true
    get "/", {}, "HTTP_HOST" => "evil.example"
    expect(last_response.headers["location"].to_s).not_to include("evil")
  end

  it "signs nobody in whose account was closed" do
    rows(:accounts).where(id: fitter.id).update(status_id: 3)
    sign_in(fitter)
    get "/"
    expect([last_response.status, last_response.headers["location"]]).to eq [302, "/login"]
  end

  it "answers 409 when one key comes with two values, and stores the first alone" do
    sign_in(fitter)
    get bench
    form = {
      "site" => CoreHelpers::CALF,
      "side" => "left",
      "unit" => "cm",
      "posture" => "sitting",
      "tension" => "snug",
      "entry_key" => SecureRandom.uuid,
      "authenticity_token" => token
    }
    statuses =
      %w[36.5 36.5 36.9].map do |value|
        post("/visits/#{visit.id}/readings", form.merge("value" => value)).status
      end
    kept =
      rows(:readings)
        .where(visit_id: visit.id, site: CoreHelpers::CALF)
        .order(:id)
        .select_map(:typed)
        .last
    expect([statuses.last, kept]).to eq [409, "36.5"]
  end

  it "keeps both of two notes that were written at once, and says so" do
    sign_in(fitter)
    get "/visits/#{visit.id}/record"
    first, second =
      Array.new(2) do |i|
        {
          "text" => "note #{i}",
          "entry_key" => SecureRandom.uuid,
          "authenticity_token" => token,
          "seen" => last_response.body[/name="seen" value="(\d+)"/, 1]
        }
      end
    [first, second].each do |form|
      expect(post("/visits/#{visit.id}/notes", form).status).to be < 400
    end
    expect(rows(:visit_notes).where(visit_id: visit.id).order(:id).select_map(:text)).to eq [
         "note 0",
         "note 1"
       ]
  end

  describe "uploads" do
    let(:product) { make_product(clinic) }
    let(:head) { "part,size,site,min,max,unit,posture,tension\n" }

    before { sign_in(senior) }

    def upload(bytes, name)
      get "/catalogue/#{product.id}"
      file =
        Rack::Test::UploadedFile.new(
          StringIO.new(bytes),
          "application/octet-stream",
          true,
          original_filename: name
        )
      post "/catalogue/#{product.id}/import", "file" => file, "authenticity_token" => token
    end

    it "take a name in any script, and refuse in words what is no chart" do
      good = "#{head},S,calf_15_below_mid_patella,30,35,cm,,snug\n"
      ["größen.csv", "尺寸.csv", "a\"b.csv"].each do |name|
        expect([name, upload(good, name).status]).to eq [name, 200]
      end
      expect(upload(good.encode("UTF-16"), "u.csv").status).to eq 200
      folder =
        Zip::OutputStream.write_buffer { |out| out.put_next_entry("datapackage.json/") }.string
      [
        [folder, "f.zip"],
        ["PK\x03\x04broken", "b.zip"],
        ["", "e.csv"],
        ["\0" * 900, "n.json"]
      ].each { |bytes, name| expect([name, upload(bytes, name).status]).to eq [name, 422] }
    end

    it "are refused when they are larger than a chart can be" do
      expect(upload("x" * 9_000_000, "big.csv").status).to eq 413
      expect(text).to include "a file 8 MB"
    end
  end

  it "takes a photo as large as is promised" do
    sign_in(fitter)
    shown = "/visits/#{visit.id}/skin"
    get shown
    whole = Vips::Image.black(60, 60, bands: 3).cast(:uchar).jpegsave_buffer
    path =
      Tempfile
        .new(%w[large .jpg])
        .tap { |one| one.binmode.write(whole + ("\0" * 7_400_000)) && one.rewind }
        .path
    post "/visits/#{visit.id}/photos",
         "authenticity_token" => token,
         "entry_key" => SecureRandom.uuid,
         "what" => "heels",
         "photo" => Rack::Test::UploadedFile.new(path, "image/jpeg")
    expect(last_response.status).to be < 400
    expect(record(visit).body.photos.size).to eq 1
  end

  it "lets two seniors add products of one new maker" do
    sign_in(senior)
    %w[first second].each do |name|
      get "/catalogue/new"
      post "/catalogue/",
           "maker" => "Tern & Tide",
           "name" => name,
           "family" => "knee_sleeve",
           "options" => {
           },
           "authenticity_token" => token
      expect([name, last_response.status]).to eq [name, 303]
    end
  end

  it "offers no check before a size is chosen, and takes none" do
    fresh = make_visit(clinic, fitter)
    ask(fresh, fitter)
    sign_in(fitter)
    get "/visits/#{fresh.id}/fit"
    expect([last_response.status, text]).to match [200, /Not yet.*Hinge level/]
    expect(last_response.body).not_to match(/name="outcome"|id="check-value"|Look again: /)
    post "/visits/#{fresh.id}/checks",
         "check" => "no_pinch",
         "outcome" => "good",
         "side" => "left",
         "entry_key" => SecureRandom.uuid,
         "authenticity_token" => token
    expect([last_response.status, rows(:check_results).where(visit_id: fresh.id).count]).to match [
            be >= 400,
            0
          ]
  end

  it "measures nobody whose cautions were not asked" do
    fresh = make_visit(clinic, fitter)
    sign_in(fitter)
    get "/visits/#{fresh.id}/measure"
    expect([last_response.status, last_response.headers["location"]]).to eq [
         303,
         "/visits/#{fresh.id}/order"
       ]
    post "/visits/#{fresh.id}/readings",
         "site" => CoreHelpers::CALF,
         "side" => "left",
         "value" => "36",
         "unit" => "cm",
         "entry_key" => SecureRandom.uuid,
         "authenticity_token" => token
    expect([last_response.status, rows(:readings).where(visit_id: fresh.id).count]).to match [
            be_between(400, 422),
            0
          ]
  end
end
