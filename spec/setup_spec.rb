# frozen_string_literal: true

require "spec_helper"
require "English"
require "net/http"
require "open3"
require "socket"
require "timeout"
require "tmpdir"

# The start command's parts, run by the shell on a project folder of their own.
RSpec.describe "Getting a machine ready" do
  around do |example|
    Dir.mktmpdir("handrail-setup") do |folder|
      @here = folder
      FileUtils.mkdir_p(File.join(folder, "bin"))
      FileUtils.cp_r(File.join(Handrail::ROOT, "bin", "support"), File.join(folder, "bin"))
      FileUtils.cp(%w[Gemfile Gemfile.lock].map { |name| File.join(Handrail::ROOT, name) }, folder)
      example.run
      shell(
        'cluster=$(readlink -f "$var/postgres"); pgbin=$(postgres_bin); ' \
          '[ ! -d "$cluster/data" ] || ' \
          'as_postgres "$pgbin/pg_ctl" -D "$cluster/data" -m immediate stop; ' \
          'case "$cluster" in /var/lib/handrail/*) rm -rf "$cluster" ;; esac'
      )
    end
  end

  # Runs commands with setup.sh's functions. Returns [output, success].
  def shell(commands, env = {})
    env = { "DATABASE_URL" => nil, "here" => @here }.merge(env)
    output, status =
      Open3.capture2e(
        env,
        "bash",
        "-c",
        ". \"$here/bin/support/setup.sh\"; mkdir -p \"$var\"; #{commands}",
        chdir: @here
      )
    [output, status.success?]
  end

  def sql(text) = %("$pgbin/psql" "$DATABASE_URL" -Atc "#{text}")

  it "says plainly that the disk is full, and changes nothing" do
    output, success = shell("check_disk; echo went on", "HANDRAIL_LEAST_FREE_KB" => "999999999999")
    expect([success, output]).to match [
            false,
            /can not start: the disk under .* is full: \d+ MB are free.*Nothing was changed/
          ]
    expect(output).not_to include("went on")
  end

  it "says what is wrong with an address of the database that is none" do
    %w[nonsense xy://a/b postgres:// http://127.0.0.1/x].each do |url|
      output, status =
        Open3.capture2e(
          { "DATABASE_URL" => url, "RACK_ENV" => "production" },
          "bundle",
          "exec",
          "ruby",
          "bin/support/prepare.rb",
          chdir: Handrail::ROOT
        )
      expect([url, status.success?, output]).to match [
              url,
              false,
              /\AHandrail can not start: DATABASE_URL is no address/
            ]
    end
  end

  it "refuses a port that is none" do
    {
      "0" => /no port 0/,
      "99999" => /no port 99999/,
      "abc" => /“abc” is no port/,
      "-1" => /is no port/
    }.each do |port, words|
      output, status = Open3.capture2e(File.join(Handrail::ROOT, "bin", "start"), "--port", port)
      expect([port, status.success?, output]).to match [port, false, words]
    end
  end

  it "does not wait for a password that is lost" do
    output, success =
      shell("start_database x; rm \"$var/database.password\"; unset DATABASE_URL; start_database x")
    expect([success, output]).to match [false, /database.password, is missing/]
  end

  it "finds the next free port" do
    taken = TCPServer.new("127.0.0.1", 0)
    port = taken.addr[1]
    said = shell("port_taken #{port} && echo taken; free_port #{port}").first.split
    expect([said.first, said.last.to_i]).to match ["taken", be > port]
  ensure
    taken&.close
  end

  it "says which packages are missing where it may not install them" do
    output, success =
      shell(
        'id() { echo 1000; }; command() { [ "$2" != sudo ] && builtin command "$@"; }; ' \
          "postgres_bin() { :; }; install_packages"
      )
    expect([success, output]).to match [
            false,
            /this account can not install them. As root, run: apt-get install.* postgresql/
          ]
  end

  it "needs no network when the gems are there" do
    env = {
      "HANDRAIL_GEMS" => ENV.fetch("BUNDLE_PATH", nil),
      "http_proxy" => "http://127.0.0.1:1",
      "https_proxy" => "http://127.0.0.1:1"
    }
    expect(shell("install_gems && install_gems && cat \"$var/gems.stamp\"", env)).to match [
            /\d/,
            true
          ]
  end

  it "makes its own cluster, comes back after a kill with every saved value, and keeps a half-made one aside" do
    made, success =
      shell(
        "start_database one && #{sql("CREATE TABLE kept (n int); INSERT INTO kept VALUES (42)")}"
      )
    expect([success, made]).to match [true, /Making the database/]
    again, =
      shell("start_database one; #{sql("SELECT n FROM kept")}; #{sql("SHOW listen_addresses")}")
    expect(again.split).to eq %w[42 127.0.0.1]
    # a page that was damaged on the disk is noticed when it is read
    checked, = shell("start_database one; #{sql("SHOW data_checksums")}")
    expect(checked.strip).to eq "on"
    killed, =
      shell(
        "kill -9 $(as_postgres head -n 1 \"$(readlink -f \"$var/postgres\")/data/postmaster.pid\"); " \
          "sleep 0.3; start_database one; #{sql("SELECT n FROM kept")}"
      )
    expect(killed.strip.lines.last.strip).to eq "42"
    shell(
      'pgbin=$(postgres_bin); data="$(readlink -f "$var/postgres")/data"; ' \
        'as_postgres "$pgbin/pg_ctl" -D "$data" -m immediate -w stop; ' \
        'as_postgres rm "$data/global/pg_control"'
    )
    half, success = shell("start_database one && #{sql("SELECT 1")}; ls \"$var/postgres/\"")
    expect([success, half]).to match [true, /only half made. It is kept as .*half-made-\d+/]
    expect(half).to match(/^half-made-/)
  end

  it "keeps the database's password out of others' sight" do
    shell("start_database one")
    expect(File.stat(File.join(@here, "var", "database.password")).mode & 0o077).to eq 0
    refused, =
      shell(
        'start_database one; PGPASSWORD=wrong "$pgbin/psql" -h 127.0.0.1 -p "$pgport" -U handrail -d one -c "SELECT 1"'
      )
    expect(refused).to include("password authentication failed")
  end

  # The whole program, started twice at the same moment in a folder of its own.
  it "starts once when it is started twice at once, and never serves as root" do
    # what is under version control and served from
    %w[bin lib db demo knowledge config views public assets config.ru].each do |part|
      FileUtils.cp_r(File.join(Handrail::ROOT, part), @here)
    end
    FileUtils.chmod(0o755, @here) # the account that serves may enter
    port = TCPServer.open("127.0.0.1", 0) { |server| server.addr[1] }
    env = {
      "DATABASE_URL" => nil,
      "RACK_ENV" => nil,
      "HANDRAIL_TAPE" => "127.0.0.1:1",
      "HANDRAIL_GEMS" => ENV.fetch("BUNDLE_PATH")
    }
    logs = Array.new(2) { |n| File.join(@here, "start-#{n}.log") }
    starts =
      logs.map do |log|
        spawn(env, "bin/start", "--port", port.to_s, :chdir => @here, %i[out err] => log)
      end
    first = Timeout.timeout(180) { Process.wait }
    expect([$CHILD_STATUS.success?, starts]).to match [true, include(first)]
    second = (starts - [first]).first
    expect(File.read(logs[starts.index(first)])).to match(/already serving at .*:#{port}/)
    serves = within(300) { answers?(port) }
    expect(serves).to be(true), File.read(logs[starts.index(second)])
    reset, status = Open3.capture2e(env, "bin/start", "--reset-demo", "--yes", chdir: @here)
    expect([status.success?, reset]).to match [
            false,
            /is serving .*Stop it first.*nothing was changed/
          ]
    owner = File.stat("/proc/#{second}").uid
    expect(owner).to(Process.uid.zero? ? be_positive : eq(Process.uid))
    clinics, = shell("start_database handrail; #{sql("SELECT count(*) FROM clinics")}")
    expect(clinics.strip).to eq "1"
  ensure
    starts.to_a.each do |pid|
      Process.kill("TERM", pid)
      Process.wait(pid)
    rescue Errno::ESRCH, Errno::ECHILD
      next
    end
  end

  # Asks until it is so, for so many seconds.
  def within(seconds)
    ends = Process.clock_gettime(Process::CLOCK_MONOTONIC) + seconds
    until (so = yield)
      break if Process.clock_gettime(Process::CLOCK_MONOTONIC) > ends

      sleep 0.1
    end
    so
  end

  def answers?(port)
    Net::HTTP
      .start("127.0.0.1", port, open_timeout: 2, read_timeout: 10) { |http| http.get("/login") }
      .is_a?(Net::HTTPOK)
  rescue SystemCallError, Timeout::Error
    # who asks before the processes are there waits
    false
  end
end
