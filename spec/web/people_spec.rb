# frozen_string_literal: true

require "web_helper"

RSpec.describe "People and their accounts", :rolled_back do
  store = Handrail::Store

  let(:clinic) { make_clinic }
  let!(:senior) { make_account(clinic, "senior") }
  let!(:fitter) { make_account(clinic) }
  let(:password) { "three gulls on a wall" }

  def link_shown = last_response.body[%r{value="http://[^/]+(/join/[^"]+)"}, 1]

  def invite(email = "new-#{SecureRandom.hex(3)}@spec.example", role: "fitter")
    send_form("/people/invite", from: "/people", email: email, role: role)
    link_shown
  end

  def join(path, **fields)
    sign_out
    get path
    post path,
         {
           "name" => "Ada Quill",
           "password" => password,
           "again" => password,
           "authenticity_token" => (@sent = token)
         }.merge(fields.transform_keys(&:to_s))
  end

  it "ends one's own other sign-ins from one's own page, keeps this one, and notes it" do
    sign_in(fitter)
    sign_out
    sign_in(fitter)
    rows = store.db[:account_active_session_keys].where(account_id: fitter.id)
    expect(rows.count).to eq 2
    2.times do
      send_form("/me/sessions", from: "/me")
      expect(last_response.status).to eq 303
    end
    expect(rows.count).to eq 1
    get "/me"
    expect(last_response.status).to eq 200
    noted = store.db[:account_events].where(account_id: fitter.id, what: "sessions_ended")
    expect(noted.select_map(:detail)).to eq ["1"]
  end

  it "takes someone from the invitation to the first sign-in" do
    sign_in(senior)
    path = invite("ada@spec-#{clinic.id}.example")
    expect(text).to include("It is shown this once and works once")
    get "/people"
    expect(last_response.body).not_to include(path)
    expect(text).to include("Invited and not here yet: ada@spec-#{clinic.id}.example (fitter)")
    join(path)
    expect(text).to include("That is done, Ada Quill")
    sign_in(store::Account.first(email: "ada@spec-#{clinic.id}.example"), password: password)
    get "/"
    expect(text).to include("Ada Quill , fitter")
  end

  it "takes no sign into a name that turns the way it is read" do
    ["\u202Erolyat", "Ada\u2066"].each do |name|
      expect { make_patient(clinic, fitter, given_name: name) }.to raise_error(
        store::Faults,
        /turns the way|given_name/
      )
    end
    # a mark within a word of Arabic or Hebrew stays
    expect(
      make_patient(clinic, fitter, given_name: "\u05E8\u05D5\u05EA\u200F").given_name.size
    ).to eq 4
    sign_in(fitter)
    send_form("/me/name", from: "/me", name: "Ada \u202EQuill")
    expect([last_response.status, text]).to match [422, /Write your name as it stands/]
  end

  it "puts no address into a link that the request alone names" do
    sign_in(senior)
    header "Host", "evil.example"
    expect(invite).to start_with "/join/"
    expect(last_response.body).not_to include("evil.example")
    send_form("/me/calendar", from: "/me")
    expect(last_response.body).to include("/calendar/")
    expect(last_response.body).not_to include("evil.example")
    header "Host", "localhost:8470"
    invite
    expect(last_response.body).to include("http://localhost:8470/join/")
    ENV["HANDRAIL_PUBLIC"] = "https://fitting.example/"
    invite
    expect(last_response.body).to include('value="https://fitting.example/join/')
  ensure
    ENV.delete("HANDRAIL_PUBLIC")
  end

  it "keeps the name, says what is wrong, and shows no password again" do
    sign_in(senior)
    path = invite
    join(path, name: "Ada <b>Quill", password: "short", again: "other")
    expect(last_response.status).to eq 422
    expect(text).to include("at least 12 characters", "not the same")
    expect(last_response.body).to include('value="Ada &lt;b&gt;Quill"')
    expect(last_response.body).not_to include('value="short"')
    join(path)
    expect(last_response.status).to eq 200
    get path
    expect([last_response.status, text]).to match [410, /no longer works/]
  end

  it "does once what is sent again after its answer was lost, and takes nobody else's word for it" do
    sign_in(senior)
    path = invite("twice@spec-#{clinic.id}.example")
    join(path)
    fields = {
      "name" => "Ada Quill",
      "password" => password,
      "again" => password,
      "authenticity_token" => @sent
    }
    post path, fields
    expect(text).to include("That is done, Ada Quill")
    expect(store::Account.where(email: "twice@spec-#{clinic.id}.example").count).to eq 1
    post path, { **fields, "password" => "another word at all", "again" => "another word at all" }
    expect([last_response.status, text]).to match [410, /no longer works/]
    allow(store).to receive(:now).and_return(Time.now + store::People::AGAIN + 60)
    expect(post(path, fields).status).to eq 410
  end

  it "opens no page but its own without a sign-in" do
    [
      "/join/",
      "/join/short",
      "/join/../people",
      "/set-up/",
      "/join/#{"x" * 43}/../../patients",
      "/joinery",
      "/people",
      "/me"
    ].each do |path|
      get path
      expect([302, 404, 410, 400]).to include(last_response.status),
      "#{path} gave #{last_response.status}"
    end
    get "/join/#{"x" * 43}"
    expect(last_response.status).to eq 410
    post "/join/#{"x" * 43}", "name" => "A", "password" => password, "again" => password
    expect(last_response.status).to eq 403 # no token of a session
  end

  it "signs nobody in by the case of their e-mail" do
    get "/login"
    post "/login",
         "login" => "  #{fitter.email.upcase} ",
         "password" => Fixtures::PASSWORD,
         "authenticity_token" => token
    get "/me"
    expect(text).to include(fitter.email)
  end

  it "does not tell at sign-in who has an account, neither in words nor by the time it takes" do
    attempt =
      lambda do |email|
        get "/login"
        tried do
          post "/login",
               "login" => email,
               "password" => "not this one",
               "authenticity_token" => token
        end
      end
    known = attempt[make_account(clinic).email]
    said = text
    expect([attempt["nobody@spec.example"], known]).to eq [1, 1]
    expect(text.sub("nobody@spec.example", "")).to eq said.sub(/fitter-\h+@spec.example/, "")
  end

  # how often a password was tried while a block ran
  def tried
    count = 0
    allow(Argon2::Password).to receive(:verify_password).and_wrap_original do |original, *args|
      count += 1
      original.call(*args)
    end
    yield
    count
  end

  it "reads a password to its end, and keeps one of before anew as it signs in" do
    long = "harbour wall " * 8
    fitter.update(password_hash: BCrypt::Password.create(long, cost: BCrypt::Engine::MIN_COST).to_s)
    sign_in(fitter, password: long)
    expect(fitter.refresh.password_hash).to start_with "$argon2id$"
    sign_out
    sign_in(fitter, password: "#{long[..-2]}x")
    expect(last_response).not_to be_redirect
    sign_in(fitter, password: long)
    expect(last_response).to be_redirect
  end

  it "ends a closed account's session at once" do
    sign_in(fitter)
    get "/"
    expect(last_response.status).to eq 200
    Handrail::Store::Desk.new(clinic, senior).run(
      Handrail::Store::Commands::CloseAccount.new("person" => fitter.id)
    )
    get "/"
    expect(last_response.status).to eq 302
    sign_in(fitter)
    get "/"
    expect(last_response.status).to eq 302
  end

  it "says so where the last senior would go" do
    sign_in(senior)
    send_form("/people/#{senior.id}/close", from: "/people")
    expect([last_response.status, text]).to match [
            422,
            /only senior. Make someone else a senior first/
          ]
    send_form("/people/#{fitter.id}/role", from: "/people", role: "senior")
    send_form("/people/#{senior.id}/role", from: "/people", role: "fitter")
    expect(senior.refresh.role).to eq "fitter"
    get "/people"
    expect(last_response.status).to eq 403
  end

  it "is for seniors: a fitter and the front desk are refused each of it" do
    [fitter, make_account(clinic, "front_desk")].each do |account|
      sign_out
      sign_in(account)
      get "/people"
      expect(last_response.status).to eq 403
      %W[
        /people/invite
        /people/#{senior.id}/role
        /people/#{senior.id}/close
        /people/#{senior.id}/reset
      ].each do |path|
        send_form(path, from: "/me", email: "x@spec.example", role: "senior")
        expect([path, account.role, last_response.status]).to eq [path, account.role, 403]
      end
    end
    expect(store::Account.where(clinic_id: clinic.id, role: "senior").select_map(:id)).to eq [
         senior.id
       ]
  end

  it "changes one's own password and says what is wrong with another" do
    sign_in(fitter)
    send_form("/me/password", from: "/me", current: "wrong", password: "short", again: "x")
    expect([last_response.status, text]).to match [422, /not your password of now/]
    send_form(
      "/me/password",
      from: "/me",
      current: Fixtures::PASSWORD,
      password: password,
      again: password
    )
    expect(last_response.status).to eq 303
    get "/me"
    expect(last_response.status).to eq 200
    sign_out
    sign_in(fitter, password: password)
    get "/me"
    expect(last_response.status).to eq 200
  end

  it "sets up a clinic from a link, with everything typed kept when it is refused" do
    path = "/set-up/#{store::SetUp.link}"
    get path
    fields = {
      "name" => "Gull Row <Orthotics>",
      "place" => "Gull Row",
      "time_zone" => "Europe/London",
      "tape" => "cm 1 mm",
      "person" => "Ida Marsh",
      "email" => "ida-#{clinic.id}@gullrow.example",
      "families" => %w[kafo],
      "authenticity_token" => token
    }
    post path, { **fields, "password" => "short", "again" => "short" }
    expect(last_response.status).to eq 422
    expect(last_response.body).to include('value="Gull Row &lt;Orthotics&gt;"', 'value="kafo"')
    expect(last_response.body).to match(/value="kafo"\s+checked/)
    post path, { **fields, "password" => password, "again" => password }
    expect(text).to include("That is done, Ida Marsh")
    post path, { **fields, "password" => password, "again" => password }
    expect(text).to include("That is done, Ida Marsh")
    expect(store::Clinic.where(name: "Gull Row <Orthotics>").count).to eq 1
    # a link that was used tries nobody else's password
    own = { "email" => fitter.email, "password" => Fixtures::PASSWORD }
    post path, { **fields, **own, "again" => Fixtures::PASSWORD }
    expect(last_response.status).to eq 410
    post path, { **fields, "password" => "another word at all", "again" => "another word at all" }
    expect(last_response.status).to eq 410
    sign_in(store::Account.first(email: "ida-#{clinic.id}@gullrow.example"), password: password)
    get "/"
    expect(text).to include("A new clinic. In this order it goes fastest", "Add the first product")
    expect(text).not_to include("Demo clinic")
    get path
    expect(last_response.status).to eq 410
  end

  describe "settings" do
    def fields(**changes)
      {
        name: "Gull Row",
        place: "Gull Row",
        address: "2 Quay",
        phone: "44",
        time_zone: "Europe/Dublin",
        tape: "in 1/8"
      }.merge(changes)
    end

    # as the page sends it: what it has seen of the settings comes with it
    def submit(**changes)
      get "/settings"
      hidden = last_response.body.scan(/<input type="hidden" name="(\w+)" value="([^"]*)"/).to_h
      post "/settings", hidden.merge(fields(**changes).transform_keys(&:to_s))
    end

    before { sign_in(senior) }

    it "change what stands on papers, and say in an entry from what to what" do
      submit
      expect(clinic.refresh).to have_attributes(
        name: "Gull Row",
        phone: "44",
        tape: "in 1/8",
        families: nil
      )
      said = store.db[:entries].where(clinic_id: clinic.id, command: "change_settings").get(:said)
      expect(said).to include("tape “cm 1 mm” to “in 1/8”", "place “Elsewhere” to “Gull Row”")
    end

    it "keep what was typed when it is refused" do
      submit(time_zone: "Moon/Crater", name: "")
      expect(last_response.status).to eq 422
      expect(last_response.body).to include(
        'value="Moon/Crater"',
        "like Europe/London",
        'value="2 Quay"'
      )
      expect(clinic.refresh.place).to eq "Elsewhere"
    end

    it "name only seniors of this clinic whose word counts, and keep what was typed" do
      elsewhere = make_account(make_clinic, "senior")
      [fitter.email, elsewhere.email, "nobody"].each do |whom|
        submit("choices[word_teach]": "#{senior.email}, #{whom}")
        expect([last_response.status, text]).to match [422, /No senior here signs in as #{whom}/]
        expect(last_response.body).to include("#{senior.email}, #{whom}</textarea>")
        expect(clinic.refresh.choices_made["word_teach"]).to eq ""
      end
      submit("choices[word_teach]": "x" * 1500)
      expect(text).to include("Shorten it to at most 1000 characters.")
      submit("choices[word_teach]": senior.email)
      expect(clinic.refresh.choices_made["word_teach"]).to eq senior.email
    end

    it "tell of another senior's change, and keep neither silently" do
      get "/settings"
      hidden = last_response.body.scan(/<input type="hidden" name="(\w+)" value="([^"]*)"/).to_h
      clinic.update(phone: "999")
      post "/settings", hidden.merge(fields.transform_keys(&:to_s))
      expect([last_response.status, text]).to match [409, /Another senior changed these/]
      expect(clinic.refresh.phone).to eq "999"
      hidden = last_response.body.scan(/<input type="hidden" name="(\w+)" value="([^"]*)"/).to_h
      post "/settings", hidden.merge(fields.transform_keys(&:to_s))
      expect(clinic.refresh.phone).to eq "44"
    end

    it "offer in an order only what is fitted here, and leave running fittings alone" do
      visit = make_visit(clinic, fitter)
      patient = visit.fitting.patient
      submit(families: %w[kafo])
      get "/patients/#{patient.id}/orders/new"
      get "/patients/#{patient.id}/orders/new?family=" if last_response.status != 200
      expect(Handrail::Web::OrderPage.new(clinic.refresh, patient).families.map(&:key)).to eq %w[
           kafo
         ]
      get "/visits/#{visit.id}/order"
      expect(last_response.status).to eq 200
      expect(text).to include("knee unloader")
    end
  end

  it "marks the demo clinic on its pages" do
    sign_in(
      store::Account.first(clinic_id: DEMO.id, role: "senior"),
      password: Handrail::HeronQuay::PASSWORD
    )
    get "/catalogue"
    expect(text).to match(/demo\s+clinic: nobody here is real/)
  end
end
