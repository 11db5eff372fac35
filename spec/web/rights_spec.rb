# frozen_string_literal: true

require "web_helper"

RSpec.describe "Who may open and write what", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:people) { %w[fitter senior front_desk].to_h { |role| [role, make_account(clinic, role)] } }
  let!(:visit) { fitted_visit(clinic, people["fitter"]) }
  let!(:patient) { visit.fitting.patient }

  let(:pages) do
    {
      "/" => %w[fitter senior front_desk],
      "/patients" => %w[fitter senior front_desk],
      "/patients/new" => %w[fitter senior front_desk],
      "/patients/bring" => %w[fitter senior front_desk],
      "/patients/#{patient.id}" => %w[fitter senior front_desk],
      "/patients/#{patient.id}/edit" => %w[fitter senior front_desk],
      "/visits/#{visit.id}/book" => %w[fitter senior front_desk],
      "/patients/#{patient.id}/orders/new" => %w[fitter senior],
      "/visits/#{visit.id}/order" => %w[fitter senior],
      "/visits/#{visit.id}/measure" => %w[fitter senior],
      "/visits/#{visit.id}/size" => %w[fitter senior],
      "/visits/#{visit.id}/fit" => %w[fitter senior],
      "/visits/#{visit.id}/teach" => %w[fitter senior],
      "/visits/#{visit.id}/hand-over" => %w[fitter senior],
      "/visits/#{visit.id}/recheck" => %w[fitter senior],
      "/visits/#{visit.id}/record" => %w[fitter senior],
      "/visits/#{visit.id}/sheet" => %w[fitter senior],
      "/visits/#{visit.id}/referral" => %w[fitter senior],
      "/visits/#{visit.id}/computed" => %w[fitter senior],
      "/visits/#{visit.id}/fits" => %w[fitter senior],
      "/catalogue" => %w[fitter senior front_desk],
      "/catalogue/new" => %w[senior],
      "/catalogue/families" => %w[fitter senior],
      "/catalogue/families/kafo.yml" => %w[fitter senior],
      "/catalogue/#{visit.fitting.product_id}" => %w[fitter senior front_desk],
      "/catalogue/#{visit.fitting.product_id}/chart" => %w[senior],
      "/catalogue/#{visit.fitting.product_id}/coverage" => %w[fitter senior],
      "/catalogue/#{visit.fitting.product_id}/chart.csv" => %w[fitter senior front_desk],
      "/handbook" => %w[fitter senior front_desk],
      "/handbook/sources" => %w[fitter senior front_desk],
      "/handbook/sites/calf_widest" => %w[fitter senior front_desk],
      "/people" => %w[senior],
      "/settings" => %w[senior],
      "/me" => %w[fitter senior front_desk],
      "/tapes" => %w[fitter senior],
      "/visits/#{visit.id}/trail" => %w[senior]
    }
  end

  it "opens each page to those who may, and tells the others why not" do
    people.each do |role, account|
      sign_out
      sign_in(account)
      pages.each do |path, allowed|
        get path
        expect([path, role, last_response.status]).to eq [
             path,
             role,
             allowed.include?(role) ? 200 : 403
           ]
      end
      expect(text).to include("not yours to open") unless role == "senior"
    end
  end

  it "lets nobody in who is not signed in, and keeps a fragment's typed text by not answering with a page" do
    pages.each_key do |path|
      get path
      expect([path, last_response.status, last_response.headers["location"]]).to eq [
           path,
           302,
           "/login"
         ]
    end
    get "/visits/#{visit.id}/measure", {}, "HTTP_HX_REQUEST" => "true"
    expect(last_response.status).to eq 401
  end

  it "knows nothing of another clinic's patients and visits" do
    stranger = make_account(make_clinic, "senior")
    sign_in(stranger)
    pages
      .keys
      .grep(/\d/)
      .each do |path|
        get path
        expect([path, last_response.status]).to eq [path, 404]
      end
    get "/patients?q=#{patient.family_name}"
    expect(text).to include("Nobody of that name")
    send_form(
      "/visits/#{visit.id}/readings",
      from: "/patients/new",
      site: CoreHelpers::CALF,
      side: "left",
      value: "36",
      unit: "cm"
    )
    expect(last_response.status).to eq 404
  end

  it "lets the front desk write no reading, and only a senior override" do
    sign_in(people["front_desk"])
    send_form(
      "/visits/#{visit.id}/readings",
      from: "/patients/new",
      site: CoreHelpers::CALF,
      side: "left",
      value: "36",
      unit: "cm"
    )
    expect(last_response.status).to eq 403
    sign_out
    sign_in(people["fitter"])
    send_form(
      "/visits/#{visit.id}/override",
      from: "/visits/#{visit.id}/hand-over",
      reason: "because I say so"
    )
    expect([last_response.status, text]).to match [403, /for seniors/]
    sign_out
    sign_in(people["senior"])
    send_form(
      "/visits/#{visit.id}/override",
      from: "/visits/#{visit.id}/hand-over",
      reason: "carer comes on Friday"
    )
    get "/visits/#{visit.id}/hand-over"
    expect(text).to match(/Senior's word, Senior Spec.*carer comes on Friday/)
  end

  it "refuses a form without the session's token" do
    sign_in(people["fitter"])
    post "/patients", "given_name" => "Eve"
    expect([last_response.status, text]).to match [403, /grown old/]
  end

  it "leads whoever signs in with the token of another session to that page anew" do
    post "/login", "login" => people["fitter"].email, "password" => Fixtures::PASSWORD
    expect([last_response.status, last_response["location"]]).to match [303, %r{/login\?old=yes\z}]
    follow_redirect!
    expect(text).to include "That page had grown old, and nobody was signed in."
    expect(last_request.env["rack.session"]["account_id"]).to be_nil
  end

  describe "signing in" do
    let(:fitter) { people["fitter"] }

    def tries =
      Handrail::Store.db[:sign_ins].where(account_id: fitter.id).order(:id).select_map(:what)

    # the counts begin at whole minutes, quarters of an hour and days
    def at_a_whole_day(seconds = 0)
      allow(Time).to receive(:now).and_return(
        Time.at((((@day ||= Time.now.to_i / 86_400) + 1) * 86_400) + seconds)
      )
    end

    it "holds back after five wrong passwords for a minute, and longer after more" do
      at_a_whole_day
      5.times { sign_in(fitter, password: "wrong") }
      sign_in(fitter)
      expect([last_response.status, last_response.headers["retry-after"].to_i]).to match [
              429,
              be_between(1, 60)
            ]
      expect(text).to match(/next one is taken in \d+ seconds/)
      at_a_whole_day(61)
      6.times { sign_in(fitter, password: "wrong") }
      expect(last_response.headers["retry-after"].to_i).to be > 60
      expect(tries.count("held_back")).to eq 2
    end

    it "shuts nobody out: the same account signs in from another address, and a right password begins anew" do
      at_a_whole_day
      6.times { sign_in(fitter, password: "wrong") }
      get "/login", {}, "REMOTE_ADDR" => "198.51.100.9"
      post "/login",
           {
             "login" => fitter.email,
             "password" => Fixtures::PASSWORD,
             "authenticity_token" => token
           },
           "REMOTE_ADDR" => "198.51.100.9"
      expect([last_response.status, last_response.headers["location"]]).to eq [302, "/"]
      clear_cookies
      at_a_whole_day(61)
      sign_in(fitter)
      4.times { clear_cookies && sign_in(fitter, password: "wrong") }
      clear_cookies
      sign_in(fitter)
      expect(last_response.status).to eq 302
    end

    it "counts no form that nobody is signed in for, and no colleague's slips against the others" do
      at_a_whole_day
      get "/login"
      unsigned = { "own_password" => "x", "current" => "x", "authenticity_token" => token }
      620.times { post "/me/password", unsigned }
      sign_in(fitter)
      expect([last_response.status, last_response.headers["location"]]).to eq [302, "/"]
      # 40 wrong confirmations of one who is signed in hold back that account alone
      7.times do
        send_form("/me/password", from: "/me", current: "wrong", password: "x", again: "x")
      end
      clear_cookies
      sign_in(make_account(clinic))
      expect(last_response.status).to eq 302
    end

    it "forgets no tries at a restart or in a flood, and counts an IPv6 network as one" do
      at_a_whole_day
      from = ->(ip, login) do
        get "/login", {}, "REMOTE_ADDR" => ip
        form = { "login" => login, "password" => "wrong", "authenticity_token" => token }
        post("/login", form, "REMOTE_ADDR" => ip).status
      end
      5.times { |i| from.call("2001:db8:1:2::#{i}", fitter.email) }
      # the counts of many others, and another process
      Handrail::Store.db[:tries].multi_insert(
        Array.new(2000) { |i| { key: "flood #{i}", count: 1, ends_at: Time.now + 60 } }
      )
      allow(Rack::Attack.cache).to receive(:store).and_return(Handrail::Store::Tries.new)
      expect(from.call("2001:db8:1:2:ffff::9", fitter.email)).to eq 429
      expect(from.call("2001:db8:1:3::1", fitter.email)).not_to eq 429
    end

    it "counts wrong passwords of one account together, on whichever visit they are tried" do
      at_a_whole_day
      sign_in(fitter)
      get "/me"
      form = { "own_password" => "wrong", "authenticity_token" => token }
      answers = Array.new(7) { |i| post("/visits/#{i + 1}/override", form).status }
      expect(answers.last).to eq 429
    end

    it "believes nobody's word about where it comes from, unless the proxy is named" do
      6.times do |n|
        header "X-Forwarded-For", "203.0.113.#{n}"
        sign_in(fitter, password: "wrong")
      end
      expect(last_response.status).to eq 429
      heard = []
      inner = ->(env) { (heard << Rack::Request.new(env).ip) && [200, {}, []] }
      behind = Handrail::Web::Peer.new(inner, proxies: ["127.0.0.1"])
      behind.call("REMOTE_ADDR" => "127.0.0.1", "HTTP_X_FORWARDED_FOR" => "203.0.113.7")
      behind.call("REMOTE_ADDR" => "198.51.100.1", "HTTP_X_FORWARDED_FOR" => "203.0.113.7")
      expect(heard).to eq %w[203.0.113.7 198.51.100.1]
    ensure
      Handrail::Web::Peer.new(nil)
    end

    it "logs every try, and of somebody unknown nothing that was typed" do
      sign_in(fitter, password: "wrong")
      sign_in(fitter)
      expect(tries).to eq %w[wrong_password signed_in]
      clear_cookies
      before = Handrail::Store.db[:sign_ins].max(:id)
      get "/login"
      post "/login",
           "login" => "my-secret-password",
           "password" => "x",
           "authenticity_token" => token
      row = Handrail::Store.db[:sign_ins].where(Sequel[:id] > before).first
      expect(row.values_at(:what, :account_id, :clinic_id)).to eq ["unknown", nil, nil]
      expect(row.to_s).not_to include("secret")
      expect { Handrail::Store.db[:sign_ins].where(id: row[:id]).delete }.to raise_error(
        Sequel::DatabaseError
      )
    end

    it "ends a session that lies idle, or that was signed out elsewhere" do
      sign_in(fitter)
      allow(Time).to receive(:now).and_return(Time.now + Handrail::Web::SignIn::IDLE_SECONDS + 5)
      get "/"
      expect(last_response.headers["location"]).to eq "/login"
      RSpec::Mocks.space.proxy_for(Time).reset
      sign_in(fitter)
      Handrail::Store.db[:account_active_session_keys].where(account_id: fitter.id).delete
      get "/"
      expect(last_response.status).to eq 302
    end

    it "goes on to the page that was asked for, and nowhere else" do
      get "/visits/#{visit.id}/measure"
      sign_in(fitter)
      expect(last_response.headers["location"]).to eq "/visits/#{visit.id}/measure"
    end
  end

  it "sends strict headers, a cookie out of scripts' reach, and nothing from elsewhere" do
    get "/login"
    expect(last_response.headers).to include(
      "content-security-policy" => /default-src 'none'; script-src 'self'; style-src 'self'/,
      "x-frame-options" => "DENY"
    )
    expect(last_response.headers["set-cookie"].to_s).to match(/httponly/i).and match(
            /samesite=lax/i
          )
    get "/login", {}, "HTTPS" => "on", "rack.url_scheme" => "https"
    expect(last_response.headers["set-cookie"].to_s).to match(/secure/i)
    sign_in(people["senior"])
    pages.each_key do |path|
      get path
      expect(last_response.body).not_to match(%r{(src|href)="(https?:)?//}), path
      expect(last_response.body).not_to match(%r{ style="| on\w+="|<script>}), path
    end
  end
end
