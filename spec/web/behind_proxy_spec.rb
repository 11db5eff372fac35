# frozen_string_literal: true

require "web_helper"
require "net/http"
require "open3"
require "socket"
require "tmpdir"

# Handrail as docs/running.md sets it up: a process of its own behind Debian's Caddy, on loopback,
# with a certificate authority made for the occasion.
RSpec.describe "Behind a proxy with TLS" do
  def free_port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }

  def wait_for(what)
    200.times do
      if begin
           yield
         rescue SystemCallError, OpenSSL::SSL::SSLError
           false
         end
        return
      end

      sleep 0.1
    end
    raise "#{what} did not come up: #{File.read(@log)}"
  end

  def start_handrail
    env = {
      "PORT" => @port.to_s,
      "HANDRAIL_ADDRESS" => "http://127.0.0.1:#{@port}",
      "HANDRAIL_PROXY" => "127.0.0.1",
      "HANDRAIL_LOG" => @requests,
      "RACK_ENV" => "test",
      "COVERAGE" => "no"
    }
    @handrail =
      spawn(
        env,
        "bundle",
        "exec",
        "puma",
        "--bind",
        "tcp://127.0.0.1:#{@port}",
        "--no-config",
        "config.ru",
        :chdir => Handrail::ROOT,
        %i[out err] => [@log, "a"],
        :pgroup => true
      )
  end

  def handrail_up = wait_for("Handrail") { TCPSocket.open("127.0.0.1", @port).close || true }

  def stop(pid)
    Process.kill("TERM", pid)
    Process.wait(pid)
  end

  around do |example|
    Dir.mktmpdir("handrail-proxy") do |folder|
      @folder = folder
      @log = File.join(folder, "log")
      @requests = File.join(folder, "requests")
      @port = free_port
      @tls = free_port
      start_handrail
      site =
        File
          .read(File.join(Handrail::ROOT, "deploy", "Caddyfile"))
          .sub("clinic.example {", "https://localhost:#{@tls} {\n\ttls internal")
          .sub("127.0.0.1:8470", "127.0.0.1:#{@port}")
      File.write(
        File.join(folder, "Caddyfile"),
        "{\n\tadmin off\n\tauto_https disable_redirects\n\tskip_install_trust\n}\n#{site}"
      )
      caddy =
        spawn(
          { "XDG_DATA_HOME" => folder, "XDG_CONFIG_HOME" => folder, "HOME" => folder },
          "caddy",
          "run",
          "--adapter",
          "caddyfile",
          "--config",
          File.join(folder, "Caddyfile"),
          %i[out err] => [@log, "a"]
        )
      handrail_up
      wait_for("Caddy") do
        File.exist?(authority) && http { |line| line.get("/login").code == "200" }
      end
      example.run
    ensure
      [caddy, @handrail].compact.each { |pid| stop(pid) }
    end
  end

  def authority = File.join(@folder, "caddy", "pki", "authorities", "local", "root.crt")

  # A connection from another address of this machine than the proxy's own.
  def http(&block)
    line = Net::HTTP.new("localhost", @tls)
    line.use_ssl = true
    line.ca_file = authority
    line.local_host = "127.0.0.2"
    line.read_timeout = 40
    line.start(&block)
  end

  def cookie(answer) = answer["set-cookie"][/\A[^;]+/]

  # Signs in; returns the answer and the session's cookie.
  def enter(line)
    page = line.get("/login")
    form = {
      "login" => "maren@heronquay.example",
      "password" => Fixtures::PASSWORD,
      "authenticity_token" => page.body[/authenticity_token" value="([^"]+)"/, 1]
    }
    answer =
      line.post(
        "/login",
        URI.encode_www_form(form),
        "cookie" => cookie(page),
        "x-forwarded-for" => "203.0.113.8"
      )
    [answer, cookie(answer)]
  end

  it "signs in with a cookie for TLS alone, knows real addresses, refuses what is too large, outlives a restart" do
    http do |line|
      answer, session = enter(line)
      expect([answer.code, answer["location"]]).to eq %w[302 /]
      expect(answer["set-cookie"]).to match(/secure/i).and match(/httponly/i).and match(
                    /samesite=lax/i
                  )
      expect(answer["strict-transport-security"]).to include("max-age")
      expect(line.get("/", "cookie" => session).body).to include("Maren Okonjo")
      # what a stranger says of itself is not believed: neither by Caddy nor by Handrail
      expect(Handrail::Store.db[:sign_ins].order(:id).last[:address]).to eq "127.0.0.2"
      expect(File.readlines(@requests).map { |row| JSON.parse(row)["address"] }.uniq).to eq [
           "127.0.0.2"
         ]
      expect(File.read(@requests)).not_to include("maren@")
    end
    # its length is enough to refuse it by
    large =
      http do |line|
        request = Net::HTTP::Post.new("/login", "content-length" => "9000000")
        request.body_stream = StringIO.new("x")
        line.request(request)
      end
    expect([large.code, large.body]).to match ["413", /too large.*Nothing was changed/]
    session = http { |line| enter(line).last }
    stop(@handrail)
    held = Thread.new { http { |line| line.get("/", "cookie" => session) } }
    start_handrail
    expect([held.value.code, held.value.body]).to match ["200", /Maren Okonjo/]
  end
end
