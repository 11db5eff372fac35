# frozen_string_literal: true

require "web_helper"

# What a browser asks of the line, and what an answer says of the entry that it is about.
RSpec.describe "The line, at the server" do
  let(:store) { Handrail::Store }
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:colleague) { make_account(clinic) }
  let(:visit) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }
  let(:key) { SecureRandom.uuid }
  let(:reading) do
    { "site" => "calf_15_below_mid_patella", "side" => "left", "value" => "36.5", "unit" => "cm" }
  end

  def json = JSON.parse(last_response.body)

  def enter(headers = {}, **fields)
    get "/visits/#{visit.id}/measure"
    given = {
      "authenticity_token" => token,
      "entry_key" => key,
      **reading,
      **fields.transform_keys(&:to_s)
    }
    post "/visits/#{visit.id}/readings", given, { "HTTP_HX_REQUEST" => "true", **headers }
  end

  before { sign_in(fitter) }

  it "says who is signed in, what time it is, and which build answers" do
    get "/line"
    expect(json).to include("account" => fitter.id, "handrail" => Handrail::Web::Assets.build)
    expect(json["now"]).to be_within(5).of(Time.now.to_f)
    sign_out
    get "/line"
    expect(last_response.status).to eq 302
  end

  it "gives each account its own key, the same each time" do
    keys =
      [fitter, colleague, fitter].map do |account|
        sign_out
        sign_in(account)
        get "/line/key"
        json["key"].unpack1("m")
      end
    expect(keys.map(&:bytesize)).to eq [32, 32, 32]
    expect(keys.uniq).to eq keys.first(2)
  end

  it "tells of one's own entries alone whether they have arrived" do
    enter
    ask_for = ->(*keys) do
      get "/visits/#{visit.id}/measure"
      post "/line/kept", "keys" => keys, "authenticity_token" => token
      json["kept"]
    end
    expect(ask_for[key, SecureRandom.uuid, "nonsense"]).to eq [key]
    sign_out
    sign_in(colleague)
    expect(ask_for[key]).to eq []
  end

  it "names the entry that an answer kept, with the fitting's version, or did not keep" do
    enter
    expect(last_response.headers).to include(
      "handrail-kept" => key,
      "handrail-version" => record(visit).version.to_s
    )
    enter({}, value: "thirty", entry_key: other = SecureRandom.uuid)
    expect(last_response.headers["handrail-kept"]).to be_nil
    expect([last_response.status, last_response.headers["handrail-refused"]]).to eq [422, other]
    expect(last_response.headers["handrail-build"]).to eq Handrail::Web::Assets.build
  end

  it "takes nothing for somebody who has signed in since" do
    enter({ "HTTP_HANDRAIL_ACCOUNT" => colleague.id.to_s })
    expect(last_response.status).to eq 401
    expect(record(visit).rows(:readings)).to be_empty
    enter({ "HTTP_HANDRAIL_ACCOUNT" => fitter.id.to_s })
    expect(last_response.status).to eq 200
  end

  describe "an entry that waited" do
    def made = record(visit).events.last[:made_at]
    def sent(seconds_ago) = enter({ "HTTP_HANDRAIL_MADE" => (Time.now.to_i - seconds_ago).to_s })

    before { store.at(Time.now - (30 * 86_400)) { visit } }

    it "keeps the hour at which it was made beside that of its arriving" do
      sent(1800)
      entry = record(visit).events.last
      expect(entry[:at] - entry[:made_at]).to be_within(5).of(1800)
      expect(record(visit).rows(:readings).last[:at]).to eq entry[:made_at]
    end

    it "is of now where the hour lies ahead, is too old to be so, or is none" do
      now = Time.now.to_i
      [now + 600, now - (8 * 86_400), "yesterday"].each_with_index do |hour, i|
        enter(
          { "HTTP_HANDRAIL_MADE" => hour.to_s },
          entry_key: SecureRandom.uuid,
          value: "36.#{i + 5}"
        )
        expect([hour, last_response.status, made]).to eq [hour, 200, nil]
      end
      expect(record(visit).rows(:readings).size).to eq 3
    end

    it "is of no hour before its order" do
      newer = make_visit(clinic, fitter)
      ask(newer, fitter)
      get "/visits/#{newer.id}/measure"
      form = { "authenticity_token" => token, "entry_key" => key, **reading }
      post "/visits/#{newer.id}/readings",
           form,
           { "HTTP_HANDRAIL_MADE" => (Time.now.to_i - 3600).to_s }
      expect(record(newer).events.last[:made_at]).to be_nil
    end
  end

  it "fetches ahead what comes next, of one's own clinic, for who does clinical work" do
    get "/visits/#{visit.id}/ahead/measure"
    places = last_response.body.scan(/data-ahead="([^"]+)"/).flatten
    expect(places).to eq(record(visit).needs.map { |item| "site:#{item.key}" })
    get "/visits/#{visit.id}/ahead/nonsense"
    expect(last_response.status).to eq 404
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    get "/visits/#{visit.id}/ahead/measure"
    expect(last_response.status).to eq 403
    sign_out
    sign_in(make_account(make_clinic))
    get "/visits/#{visit.id}/ahead/measure"
    expect(last_response.status).to eq 404
  end

  it "leads after a sign-in to the page that somebody asked for, to no picture that a browser fetched by itself" do
    sign_out
    get "/favicon.ico", {}, "HTTP_SEC_FETCH_DEST" => "image"
    sign_in(fitter)
    expect(last_response.headers["location"]).to end_with "/"
    sign_out
    get "/catalogue", {}, "HTTP_SEC_FETCH_DEST" => "document"
    sign_in(fitter)
    expect(last_response.headers["location"]).to end_with "/catalogue"
  end

  it "gives the worker its build and its files, to anybody, and asks for it again each time" do
    sign_out
    get "/worker.js"
    expect(last_response.headers).to include("cache-control" => "no-cache")
    told = JSON.parse(last_response.body[/self\.HANDRAIL = (\{.*?\});/, 1])
    expect(told["build"]).to eq Handrail::Web::Assets.build
    expect(told["shell"]).to include(Handrail::Web::Assets.path("handrail.js"))
    get told["page"]
    expect(last_response.body).to include("No line to the server")
  end

  it "keeps names out of titles and addresses" do
    patient = visit.fitting.patient
    stages =
      %w[order measure skin record book trail straps sheet].map do |stage|
        "/visits/#{visit.id}/#{stage}"
      end
    ["/patients/#{patient.id}", "/patients/#{patient.id}/orders/new", *stages].each do |path|
      get path
      title = last_response.body[%r{<title>(.*?)</title>}m, 1].to_s
      expect([path, title[/Quarrel|Wilma/]]).to eq [path, nil]
    end
    get "/"
    post "/patients/find", "q" => "Quarrel", "authenticity_token" => token
    expect(last_response.headers["location"]).to eq "/patients/found"
    get "/patients/found"
    expect(last_response.body).to include("Wilma Quarrel")
  end
end
