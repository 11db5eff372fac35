# frozen_string_literal: true

require "web_helper"
require "open3"
require "tmpdir"

# What whoever looks after a server sees of it.
RSpec.describe "Watching a server" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  def metrics(**env)
    get "/metrics", {}, env.transform_keys(&:to_s)
    last_response.body
  end

  # the figure of a line, by its name and labels
  def figure(text, name) = text[/^#{Regexp.escape(name)} (\S+)$/, 1]&.to_f

  it "tells how long pages take by what they are, never by whose, in the text that Prometheus reads" do
    sign_in(fitter)
    visit = make_visit(clinic, fitter)
    get "/visits/#{visit.id}/order"
    get "/patients/#{visit.fitting.patient_id}"
    get "/nobody/#{"x" * 40}/here"
    get "/visits/#{visit.id}/no-such-thing"
    text = metrics
    expect(last_response.headers["content-type"]).to start_with("text/plain")
    expect(
      figure(text, %(handrail_request_seconds_count{page="/visits/N/order",method="GET"}))
    ).to eq 1
    expect(figure(text, %(handrail_request_seconds_count{page="/patients/N",method="GET"}))).to eq 1
    expect(figure(text, %(handrail_request_seconds_count{page="other",method="GET"}))).to eq 1
    expect(text).not_to match(%r{#{visit.id}/|#{visit.fitting.patient.family_name}})
    expect(figure(text, "handrail_database_up")).to eq 1
    expect(figure(text, "handrail_schema_behind")).to eq 0
    expect(figure(text, "handrail_connections_most")).to be >= 1
    # every line is a comment or a figure (Prometheus text format 0.0.4)
    expect(text.lines.grep_v(/\A(#|[a-z_]+(\{[^}]*\})? [-+.\deInf]+$)/)).to eq []
  end

  it "is for this machine alone, or for who knows the token" do
    metrics(REMOTE_ADDR: "198.51.100.4")
    expect(last_response.status).to eq 404
    inner = ->(_) { [200, {}, []] }
    asked = ->(word) do
      app = Handrail::Web::Metrics.new(inner, token: "quay-token")
      env =
        Rack::MockRequest.env_for(
          "/metrics",
          "REMOTE_ADDR" => "198.51.100.4",
          "HTTP_AUTHORIZATION" => "Bearer #{word}"
        )
      app.call(env).first
    end
    expect([asked["quay-token"], asked["wrong"], asked[""]]).to eq [200, 404, 404]
  end

  it "tells no more kinds of pages than there are, whoever asks for what" do
    app = Handrail::Web::Metrics.new(->(_) { [404, {}, []] })
    500.times do |i|
      app.call(
        Rack::MockRequest.env_for("/visits/#{i}/page-#{("a".ord + (i % 26)).chr * (1 + (i / 26))}")
      )
    end
    text = app.call(Rack::MockRequest.env_for("/metrics", "REMOTE_ADDR" => "127.0.0.1")).last.first
    expect(text.scan(/_count\{page="([^"]+)"/).flatten.uniq.size).to be <=
      Handrail::Web::Metrics::MOST + 1
  end

  it "is ready where the database answers and every migration has run, and says nothing else" do
    get "/ready", {}, "REMOTE_ADDR" => "198.51.100.4"
    expect([last_response.status, last_response.body]).to eq [200, "ready\n"]
    allow(Handrail::Store).to receive(:newest_schema).and_return(9999)
    get "/ready"
    expect([last_response.status, last_response.body]).to eq [503, "not ready\n"]
    allow(Handrail::Store).to receive(:schema_version).and_raise(Sequel::DatabaseConnectionError)
    get "/ready"
    expect(last_response.status).to eq 503
  end

  it "names each request alike in its answer, its line of the log, and the page that says that it broke" do
    sign_in(fitter)
    path = File.join(Dir.mktmpdir, "log")
    broken = Handrail::Web::ErrorPages.new(->(_) { raise "it broke" })
    stack = Handrail::Web::RequestId.new(Handrail::Web::RequestLog.new(broken, to: path))
    status, headers, body =
      stack.call(Rack::MockRequest.env_for("/visits/4/fit", "rack.errors" => StringIO.new))
    id = headers["x-request-id"]
    expect([status, id]).to match [500, /\A[a-z0-9]{10}\z/]
    expect(body.first).to include(id)
    expect(JSON.parse(File.read(path))["id"]).to eq id
    get "/"
    expect(last_response.headers["x-request-id"]).not_to eq id
  end

  it "has rules whose every figure is one that is told, and whose every alert names its mend" do
    rules =
      YAML.safe_load_file(File.join(Handrail::ROOT, "deploy", "alerts.yml"))[
        "groups"
      ].flat_map { |one| one["rules"] }
    text = metrics
    rules.each do |rule|
      figures = rule["expr"].scan(/handrail_[a-z_]+/).map { |name| name.delete_suffix("_bucket") }
      expect([rule["alert"], figures.reject { |name| text.include?("# TYPE #{name} ") }]).to eq [
           rule["alert"],
           []
         ]
      expect(rule["annotations"].keys).to contain_exactly("summary", "mend")
    end
    expect(rules.size).to be >= 8
  end
end
