# frozen_string_literal: true

require "web_helper"
require "rotp"

# One-time codes and the password asked for again. Codes are those of RFC 6238, made here by the gem
# rotp.
RSpec.describe "Signing in with one-time codes" do
  let(:clinic) { make_clinic }
  let(:account) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }

  def hidden(name) = last_response.body[/name="#{name}" value="([^"]+)"/, 1]

  # Switches codes on; returns what makes them.
  def switch_on(whom)
    sign_in(whom)
    get "/otp-setup"
    key = hidden("otp_secret")
    post "/otp-setup",
         "otp_secret" => key,
         "otp_raw_secret" => hidden("otp_raw_secret"),
         "password" => Fixtures::PASSWORD,
         "otp" => ROTP::TOTP.new(key).now,
         "authenticity_token" => token
    expect(last_response.headers["location"]).to end_with("/recovery-codes")
    ROTP::TOTP.new(key)
  end

  def give(path, field, code)
    get path
    post path, field => code, "authenticity_token" => token
  end

  # the same code is not taken twice, so that who looks over the shoulder has nothing
  def later(seconds) = allow(Time).to receive(:now).and_return(Time.now + seconds)

  it "lets nobody further with the password alone, and in with the code, to the page that was asked for" do
    codes = switch_on(account)
    sign_out
    get "/patients"
    sign_in(account)
    get "/patients"
    expect(last_response.headers["location"]).to eq "/otp-auth"
    give("/otp-auth", "otp", "000000")
    expect(text).to include("not the code")
    Handrail::Store.db[:account_otp_keys].update(last_use: Time.now - 120)
    give("/otp-auth", "otp", codes.now)
    expect(last_response.headers["location"]).to eq "/patients"
    get "/patients"
    expect(last_response.status).to eq 200
    expect(
      Handrail::Store.db[:sign_ins].where(account_id: account.id).select_map(:what)
    ).to include("wrong_code")
  end

  it "answers a fragment with words, and writes nothing, before the code was given" do
    switch_on(account)
    sign_out
    sign_in(account)
    post "/patients",
         { "authenticity_token" => get("/otp-auth") && token, "given_name" => "Eve" },
         "HTTP_HX_REQUEST" => "true"
    expect(last_response.status).to eq 401
  end

  it "takes each way back in once" do
    switch_on(account)
    get "/recovery-codes"
    post "/recovery-codes", "password" => Fixtures::PASSWORD, "authenticity_token" => token
    ways = last_response.body.scan(%r{<code>([^<]+)</code>}).flatten
    expect(ways.size).to eq 10
    [302, 422].each_with_index do |_, turn|
      sign_out
      sign_in(account)
      give("/recovery-auth", "recovery-code", ways.first)
      get "/"
      expect(last_response.headers["location"]).to eq(turn.zero? ? nil : "/otp-auth")
    end
  end

  it "is asked of everyone where the clinic wants it, before anything else" do
    clinic.update(codes_required: true)
    sign_in(account)
    get "/"
    expect(last_response.headers["location"]).to eq "/otp-setup"
    get "/otp-setup"
    expect(text).not_to include("Not now")
  end

  it "is taken off by a senior when the telephone is lost, and the sessions end" do
    switch_on(account)
    Handrail::Store.db[:account_active_session_keys].insert(
      account_id: account.id,
      session_id: "elsewhere"
    )
    sign_out
    sign_in(senior)
    get "/people"
    post "/people/#{account.id}/codes",
         "authenticity_token" => token,
         "entry_key" => SecureRandom.uuid
    expect(Handrail::Store::People.codes?(account)).to be false
    expect(
      Handrail::Store.db[:account_active_session_keys].where(account_id: account.id)
    ).to be_empty
    sign_out
    sign_in(account)
    get "/"
    expect(last_response.status).to eq 200
  end

  describe "the password, once more" do
    let(:colleague) { make_account(clinic) }

    def close(**more)
      get "/people"
      post "/people/#{colleague.id}/close",
           "authenticity_token" => token,
           "entry_key" => SecureRandom.uuid,
           **more
    end

    it "is not asked for within ten minutes, and after that before anything is done to an account" do
      sign_in(senior)
      later(601)
      close
      expect([last_response.status, text]).to match [422, /more than ten minutes/]
      close("own_password" => "wrong")
      expect(text).to include("This is not your password")
      expect(colleague.refresh.open?).to be true
      close("own_password" => Fixtures::PASSWORD)
      expect(colleague.refresh.open?).to be false
      expect(
        Handrail::Store.db[:sign_ins].where(account_id: senior.id).select_map(:what)
      ).to include("not_confirmed", "confirmed")
    end

    it "is asked for before a senior's word, which keeps the reason that was typed" do
      visit = fitted_visit(clinic, senior)
      sign_in(senior)
      later(601)
      path = "/visits/#{visit.id}/override"
      from = "/visits/#{visit.id}/hand-over"
      send_form(path, from: from, reason: "carer comes on Friday", stage: "hand_over")
      expect([last_response.status, last_response.body]).to match [
              422,
              /value="carer comes on Friday"/
            ]
      expect(record(visit).overrides).to be_empty
      send_form(
        path,
        from: from,
        reason: "carer comes on Friday",
        stage: "hand_over",
        own_password: Fixtures::PASSWORD
      )
      expect(record(visit).overrides.size).to eq 1
    end

    it "can not be guessed: after five wrong ones the next waits" do
      sign_in(senior)
      later(601)
      6.times { close("own_password" => "wrong") }
      expect(last_response.status).to eq 429
    end
  end

  it "changes one's own name and keys, and says what is wrong with them" do
    sign_in(account)
    send_form("/me/name", from: "/me", name: "Wilma Quill")
    expect(account.refresh.name).to eq "Wilma Quill"
    send_form("/me/name", from: "/me", name: " ")
    expect(last_response.status).to eq 422
    send_form("/me/keys", from: "/me", keys: { "unit" => "s" })
    expect(text).to include("is also for")
    send_form("/me/keys", from: "/me", keys: { "unit" => "1" })
    expect(text).to include("figures begin a reading")
    send_form("/me/keys", from: "/me", keys: { "unit" => "e" })
    expect(Handrail::Store::Keys.of(account.refresh)).to include("unit" => "e", "side" => "s")
    # what a pedal sends has a name of its own, however it is typed; other keys are letters
    send_form("/me/keys", from: "/me", keys: { "pedal" => "pageup", "yes" => "f7", "unit" => "E" })
    expect(Handrail::Store::Keys.of(account.refresh)).to include(
      "pedal" => "PageUp",
      "yes" => "F7",
      "unit" => "e"
    )
    send_form("/me/keys", from: "/me", keys: { "unit" => "F7" })
    expect(text).to include("figures begin a reading")
    get "/"
    expect(CGI.unescapeHTML(last_response.body[/data-keys="([^"]+)"/, 1])).to include('"unit":"e"')
  end

  it "answers /health to this machine alone, and says there whether the database answers" do
    get "/health"
    expect(JSON.parse(last_response.body)).to include("database" => "answers")
    get "/health", {}, "REMOTE_ADDR" => "198.51.100.4"
    expect(last_response.status).to eq 302
  end

  it "logs a request as one line of JSON, without what was typed and without a link's token" do
    Dir.mktmpdir do |folder|
      file = File.join(folder, "log")
      inner = ->(_) { [200, {}, []] }
      log = Handrail::Web::RequestLog.new(inner, to: file)
      %w[/patients?q=Quarrel /join/abcdefghijklmnopqrstuvwxyz].each do |path|
        log.call(Rack::MockRequest.env_for(path))
      end
      lines = File.readlines(file).map { |line| JSON.parse(line) }
      expect(lines.map { |line| line["path"] }).to eq %w[/patients /join/…]
      expect(File.read(file)).not_to match(/Quarrel|abcdef/)
      expect(File.stat(file).mode & 0o777).to eq 0o600
    end
  end
end
