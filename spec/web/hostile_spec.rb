# frozen_string_literal: true

require "web_helper"

# Nonsense sent to every route by everyone who can sign in: refused in words, never an error of the
# server.
RSpec.describe "Hostile requests", :rolled_back do
  mounts = {
    "" => Handrail::Web::Board,
    "/patients" => Handrail::Web::Patients,
    "/visits" => Handrail::Web::Visits,
    "/catalogue" => Handrail::Web::Catalogue,
    "/tapes" => Handrail::Web::Tapes,
    "/week" => Handrail::Web::Week,
    "/report" => Handrail::Web::Report
  }
  routes =
    mounts
      .flat_map do |mount, controller|
        %w[GET POST].flat_map do |verb|
          controller
            .routes
            .fetch(verb, [])
            .map { |pattern, *| [verb, mount + pattern.to_s.delete("?")] }
        end
      end
      .uniq

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:visit) { fitted_visit(clinic, fitter) }
  let(:ids) do
    {
      "visits" => visit.id,
      "patients" => visit.fitting.patient_id,
      "catalogue" => visit.fitting.product_id
    }
  end

  # always the same in the tests; as many as wanted, by the run's seed: HANDRAIL_HOSTILE=20000
  many = ENV.fetch("HANDRAIL_HOSTILE", "3000").to_i
  random = Random.new(many == 3000 ? 20_261_125 : RSpec.configuration.seed)
  values = [
    "",
    " ",
    "0",
    "-1",
    "99999999999999999999",
    "1e400",
    "NaN",
    "\u0000",
    "\xFF\xFE",
    "½",
    "'" * 80,
    "9" * 5_000,
    "1 ft " * 300,
    "<script>",
    "=cmd()",
    "../../etc/passwd",
    "left",
    "medial",
    "good",
    "2026-02-30",
    "25:61",
    "2026-11-25",
    "cm",
    "parsec",
    "calf_15_below_mid_patella",
    "37",
    "yes",
    "on",
    ["a"],
    ["a", ["b"]],
    { "a" => "b" },
    { "a" => { "b" => ["c"] } },
    nil,
    "data:image/png;base64,AAAA",
    "{}",
    "[]",
    "x" * 20_000,
    "größe",
    "عربى",
    "🦵"
  ]
  names = %w[
    site
    side
    value
    unit
    posture
    tension
    reason
    row
    check
    outcome
    place
    corrects
    step
    problem
    remedy
    note
    settings
    size
    why
    serial
    lot
    typed
    stock
    product_id
    family
    fields
    fields[indication]
    prescriber
    prescribed_on
    patient
    day
    time
    account
    identity
    stops
    care
    pressures
    text
    shown
    who
    unaided
    mistakes
    start_hours
    signed_name
    signature
    field
    answer
    days
    record_number
    given_name
    family_name
    born_on
    owner
    species
    name
    maker
    options
    chart
    rows
    edit
    dated
    tie_rule
    primary
    count
    supplier
    file
    id
    q
    at
    from
    entry_key
    seen
    page
    login
    password
    state
    offer
    take
    key
    done
    why_not
    agreed_by
  ]

  it "answers #{many} of them over every route and role without an error of its own" do
    found = []
    sent = 0
    [
      fitter,
      make_account(clinic, "senior"),
      make_account(clinic, "front_desk"),
      nil
    ].each do |account|
      sign_out
      sign_in(account) if account
      get "/patients"
      held = token
      (many / 4.0 / routes.size).ceil.times do
        routes.each do |verb, route|
          id =
            if random.rand < 0.7
              ids[route[%r{\A/(\w+)}, 1]]
            else
              ["0", "-1", "9" * 30, "x", "%00", "%FF", "1;drop"].sample(random: random)
            end
          path =
            route
              .gsub(/:\w+/) do |name|
                name == ":id" ? id.to_s : %w[size fit left nonsense %FF].sample(random: random)
              end
              .sub(/\*|\(.*/, "")
          fields =
            names
              .sample(random.rand(1..12), random: random)
              .to_h { |name| [name, values.sample(random: random)] }
          fields["authenticity_token"] = held if held && random.rand < 0.95
          verb == "GET" ? get(path, fields) : post(path, fields)
          sent += 1
          if last_response.status >= 500
            found << [account&.role, verb, path, fields, last_response.status]
          end
        rescue URI::InvalidURIError,
               Encoding::CompatibilityError,
               ArgumentError,
               Rack::QueryParser::ParameterTypeError
          # what the client itself can not write down as a request
          next
        end
      end
    end
    expect(
      found.map { |role, verb, path, fields, _| [role, verb, path, fields.inspect[0, 1500]] }
    ).to be_empty
    expect(sent).to be >= many * 5 / 6
  end

  it "answers what once broke it: names of files, roles, ends and streams that nobody foresaw" do
    visit = handed_over_visit(clinic, fitter)
    sign_in(make_account(clinic, "senior"))
    get "/settings"
    file =
      Rack::Test::UploadedFile.new(StringIO.new("x"), "text/plain", original_filename: "n" * 5000)
    post "/settings/closed-days", "authenticity_token" => token, "calendar" => file
    expect(last_response.status).to be < 500
    post "/settings/closed-days", "authenticity_token" => token, "calendar[tempfile]" => "x"
    expect(last_response.status).to be < 500
    post "/people/#{fitter.id}/role", "authenticity_token" => token, "role" => "x" * 50
    expect(last_response.status).to eq 422
    # ended from a page that has not seen that somebody wrote
    run(visit, fitter, :AddNote, text: "fetched")
    get "/visits/#{visit.id}/record"
    form =
      last_response
        .body
        .scan(/name="(seen|page|entry_key)" value="([^"]*)"/)
        .to_h
        .merge("authenticity_token" => token, "seen" => "1", "page" => "0" * 16)
    post "/visits/#{visit.id}/end", form.merge("why" => "healed, no device")
    expect(last_response.status).to eq 409
    # a visit that was called off
    planned = record(visit).visits.last
    run(visit, fitter, :EndFitting, why: "healed, no device")
    %w[measure order fit record recheck skin].each do |page|
      get "/visits/#{planned.id}/#{page}"
      expect([page, last_response.status < 500]).to eq [page, true]
    end
    post "/visits/#{planned.id}/notes",
         "authenticity_token" => token,
         "text" => "x",
         "entry_key" => SecureRandom.uuid
    expect(last_response.status).to be < 500
  end

  it "takes no token from an address, and leads nobody from the sign-in to a stream or a file" do
    sign_in(fitter)
    visit = make_visit(clinic, fitter)
    get "/visits/#{visit.id}/order"
    post "/visits/#{visit.id}/notes?authenticity_token=#{Rack::Utils.escape(token)}", "text" => "x"
    expect(last_response.status).to eq 403
    %w[/live /live/state /report.csv /find?q=a].each do |path|
      sign_out
      get path
      get "/login"
      post "/login",
           "login" => fitter.email,
           "password" => Fixtures::PASSWORD,
           "authenticity_token" => token
      expect([path, last_response.headers["location"]]).to eq [path, "/"]
    end
  end

  it "keeps out what is too large or broken before it is read" do
    sign_in(fitter)
    post "/patients", "x" * 700_000, "CONTENT_TYPE" => "application/x-www-form-urlencoded"
    expect(last_response.status).to eq 413
    post "/patients", "--x\r\nbroken", "CONTENT_TYPE" => "multipart/form-data; boundary=#{"y" * 90}"
    expect(last_response.status).to eq 400
    post "/patients", "a[b][c]" * 200, "CONTENT_TYPE" => "application/x-www-form-urlencoded"
    expect(last_response.status).to be_between(400, 422)
    get "/patients?q=%FF%FE"
    expect([last_response.status, text]).to match [400, /Heron|Handrail|can not be read/]
    get "/patients/#{"9" * 40}"
    expect(last_response.status).to eq 404
  end
end
