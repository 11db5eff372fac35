# frozen_string_literal: true

# People who work at the running demo, over HTTP:
#   bin/handrail load [--seconds 120] [--people 40] [--think 3] [--boards 0] [--mix FILE] [--address A] [--seed N]
#
# Each signs in as an account of their own and does what a day does: looks at the board, finds somebody, opens the
# wearer and the bench, takes a reading and strikes it out, looks at fit, recheck, record and week; between two things
# they think. Prints for each page how often it was asked, median, p95 and p99 in ms, and errors; then what was served a
# second, and what the server's processes held in memory at the start and the end. With --boards N so many open boards
# listen (server-sent events), and how soon they are told of an entry is said.
#
# It writes into the demo clinic, and nowhere else: accounts load-1 to load-N, readings that are struck out again, and
# with --boards a note every few seconds.

require "json"
require "net/http"
require "optparse"
require "securerandom"
require "yaml"
require_relative "../../lib/handrail"

module Handrail
  # The people, their day and what it took.
  class Load
    # what is done, and how often beside the others
    MIX = {
      "board" => 18,
      "find" => 14,
      "patient" => 14,
      "bench" => 20,
      "reading" => 10,
      "fit" => 8,
      "recheck" => 6,
      "record" => 6,
      "week" => 4
    }.freeze
    USAGE =
      "bin/handrail load [--seconds 120] [--people 40] [--think 3] [--boards 0] [--mix FILE] [--address A] [--seed N]"
    PASSWORD = "forty-people-on-the-quay"
    CALM = {
      seconds: 120,
      people: 40,
      think: 3.0,
      boards: 0,
      address: "http://127.0.0.1:8470",
      seed: 1
    }.freeze
    SHARES = [0.5, 0.95, 0.99].freeze
    # the most pages of one account that listen, see Web::Live
    LISTENING = Web::Live::MOST

    def self.run(arguments)
      given = CALM.dup
      OptionParser
        .new(USAGE) do |o|
          o.on("--seconds N", Integer) { |n| given[:seconds] = n }
          o.on("--people N", Integer) { |n| given[:people] = n }
          o.on("--think SECONDS", Float) { |n| given[:think] = n }
          o.on("--boards N", Integer) { |n| given[:boards] = n }
          o.on("--mix FILE", "YAML: #{MIX.keys.join(", ")}, each with how often") do |path|
            given[:mix] = YAML.safe_load_file(path)
          end
          o.on("--address ADDRESS") { |text| given[:address] = text }
          o.on("--seed N", Integer) { |n| given[:seed] = n }
        end
        .parse!(arguments)
      new(**given).run
    rescue OptionParser::ParseError => e
      warn e.message
      exit 2
    end

    def initialize(seconds:, people:, think:, boards:, address:, seed:, mix: MIX)
      @seconds = seconds
      @think = think
      @boards = boards
      @address = URI(address)
      @mix = MIX.keys.to_h { |name| [name, Integer(mix.fetch(name, 0))] }
      @clinic = Store::Clinic.first(demo: true) or
        abort "There is no demo clinic here: load works in no other."
      @accounts = accounts([people, (boards / LISTENING.to_f).ceil].max).first([people, 1].max)
      @places = looked_up
      @seed = seed
      @times = Hash.new { |all, name| all[name] = [] }
      @errors = Hash.new(0)
      @lock = Mutex.new
    end

    def run
      before = memory
      people =
        @accounts.each_with_index.map do |account, i|
          Person.new(self, account, i, Random.new(@seed + i))
        end
      people.each(&:sign_in)
      # the visit of the boards is nobody else's: what is told of it was written for them
      own = @places[:open].first
      @places[:open] -= [own] if @boards.positive?
      boards = Boards.new(people, @boards, @address, own, @accounts.first)
      @until = now + @seconds
      people.map { |person| Thread.new { short_turns && person.work } }.each(&:join)
      boards.close
      print(before, boards)
    end

    attr_reader :address, :places, :think, :mix

    def over? = now >= @until
    def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

    # how long an answer took, by the page; what is no answer of ours is an error
    def time(name)
      from = now
      answer = yield
      took = (now - from) * 1000
      good = answer.is_a?(Net::HTTPSuccess) || answer.is_a?(Net::HTTPRedirection)
      @lock.synchronize { good ? @times[name] << took : @errors["#{name} #{answer.code}"] += 1 }
      answer
    rescue SystemCallError, IOError, Timeout::Error => e
      @lock.synchronize { @errors["#{name} #{e.class}"] += 1 }
      nil
    end

    private

    # who reads an answer does not make the others wait for theirs, which would be counted as the server's time
    def short_turns = Thread.current.priority = -3

    # fitters of the demo clinic who do nothing but this
    def accounts(count)
      hash = nil
      (1..count).map do |number|
        email = "load-#{number}@heronquay.example"
        Store::Account.first(clinic_id: @clinic.id, email: email) ||
          Store::Account.create(
            clinic_id: @clinic.id,
            email: email,
            name: "Load #{number}",
            role: "fitter",
            status_id: 2,
            password_hash: hash ||= Store::People.hash(PASSWORD)
          )
      end
    end

    # where there is something to look at: ids by the kind of page
    def looked_up
      visits = Store.db[:visits].where(clinic_id: @clinic.id, practice: false)
      ids = ->(table) do
        Store.db[table].where(clinic_id: @clinic.id).distinct.limit(400).select_map(:visit_id)
      end
      {
        open:
          visits
            .where(id: ids[:readings], closed_at: nil, called_off_at: nil)
            .limit(400)
            .select_map(:id),
        read: ids[:readings],
        fitted: ids[:check_results],
        rechecks:
          visits.where(purpose: "recheck").exclude(opened_at: nil).limit(400).select_map(:id),
        patients:
          Store.db[:patients]
            .where(clinic_id: @clinic.id)
            .limit(2000)
            .select_map(%i[id family_name])
      }
    end

    # process id => MiB that it holds
    def memory
      served = ENV.fetch("HANDRAIL_SERVED", File.join(ROOT, "var", "server"))
      pid = File.read(File.join(served, "pid")).to_i
      [pid, *children(pid)].filter_map { |one| (held = resident(one)) && [one, held] }.to_h
    rescue Errno::ENOENT
      {}
    end

    def children(pid) =
      Dir["/proc/#{pid}/task/*/children"].flat_map { |path| File.read(path).split.map(&:to_i) }

    def resident(pid)
      File.read("/proc/#{pid}/status")[/VmRSS:\s+(\d+)/, 1].to_i / 1024
    rescue Errno::ENOENT
      nil
    end

    def share(all, part) = all.sort[[(all.size * part).ceil - 1, 0].max]

    def print(before, boards)
      puts "page          asked   p50 ms   p95 ms   p99 ms"
      @times.sort.each do |name, all|
        puts format(
               "%-10s %8d %8.1f %8.1f %8.1f",
               name,
               all.size,
               *SHARES.map { |part| share(all, part) }
             )
      end
      asked = @times.values.sum(&:size)
      puts format(
             "%d people, %d s: %.1f answers a second, %d errors",
             @accounts.size,
             @seconds,
             asked / @seconds.to_f,
             @errors.values.sum
           )
      @errors.sort.each { |what, count| puts "  #{what}: #{count}" }
      after = memory
      after.each do |pid, held|
        puts "process #{pid}: #{before[pid] || "-"} MiB at the start, #{held} MiB at the end"
      end
      puts boards.told if @boards.positive?
    end

    # Somebody with a browser's ways: a connection that is kept, a cookie, the hidden fields of a page sent back.
    class Person
      def initialize(load, account, number, random)
        @load = load
        @account = account
        @random = random
        @cookie = nil
        uri = load.address
        @http = Net::HTTP.new(uri.host, uri.port)
        # from an address of their own, as people at a clinic's machines are: else they would be slowed as one
        @http.local_host = "127.1.#{number / 200}.#{(number % 200) + 1}" if uri.host == "127.0.0.1"
        @http.keep_alive_timeout = 60
        @http.start
      end

      attr_reader :cookie

      def sign_in
        token = field(get("/login"), "authenticity_token")
        form = { "login" => @account.email, "password" => PASSWORD, "authenticity_token" => token }
        answer = post("/login", form)
        unless answer.is_a?(Net::HTTPRedirection)
          abort "#{@account.email} can not sign in: #{answer.code}"
        end
        # as a browser goes on: the session then knows what it need not ask again
        get("/")
      end

      def work
        # not all at once
        sleep(@random.rand * @load.think)
        until @load.over?
          public_send(chosen)
          # as long as people do: many short, a few long
          sleep([-@load.think * Math.log(1 - @random.rand), @load.think * 4].min)
        end
      end

      def board = timed("board") { get("/") }
      def week = timed("week") { get("/week/") }
      def patient = timed("patient") { get("/patients/#{some(:patients).first}") }
      def bench = timed("bench") { get("/visits/#{some(:read)}/measure") }
      def fit = timed("fit") { get("/visits/#{some(:fitted)}/fit") }
      def record = timed("record") { get("/visits/#{some(:fitted)}/record") }
      def recheck = timed("recheck") { get("/visits/#{some(:rechecks)}/recheck") }

      def find
        name = some(:patients).last.to_s
        timed("find") { get("/find?q=#{URI.encode_www_form_component(name[0, 4])}") }
      end

      # a reading is taken on the bench as a browser sends it; what is not taken by the rules of the visit is no error
      # of the server's
      def reading
        id = some(:open)
        page = get("/visits/#{id}/measure")
        return unless page.is_a?(Net::HTTPSuccess) && (site = field(page, "site"))

        hidden =
          %w[authenticity_token seen page entry_key site at stage]
            .to_h { |name| [name, field(page, name)] }
            .compact
        answer =
          @load.time("reading") do
            softened(
              post(
                "/visits/#{id}/readings",
                hidden.merge("value" => "36.5", "side" => "left"),
                htmx: true
              )
            )
          end
        strike(id) if answer
        site
      end

      def get(path) = keep(@http.request(with_cookie(Net::HTTP::Get.new(path))))

      def post(path, fields, htmx: false)
        request = with_cookie(Net::HTTP::Post.new(path))
        request["HX-Request"] = "true" if htmx
        request.set_form_data(fields)
        keep(@http.request(request))
      end

      private

      def timed(name, &) = @load.time(name, &)
      def some(kind) = @load.places.fetch(kind).then { |all| all[@random.rand(all.size)] }

      def chosen
        place = @random.rand(@load.mix.values.sum)
        @load.mix.find { |_, weight| (place -= weight).negative? }.first
      end

      # 409 and 422 are answers of the visit: held back, moved meanwhile
      def softened(answer) =
        %w[409 422].include?(answer.code) ? Net::HTTPOK.new("1.1", "200", "held back") : answer

      # the last reading of theirs, so that the demo stays as it is
      def strike(id)
        row =
          Store.db[:readings]
            .where(visit_id: id, by: @account.id, struck_at: nil)
            .reverse(:id)
            .get(:id) or return
        page = get("/visits/#{id}/measure")
        hidden =
          %w[authenticity_token seen page entry_key]
            .to_h { |name| [name, field(page, name)] }
            .compact
        post(
          "/visits/#{id}/readings/#{row}/strike",
          hidden.merge("reason" => "tape slipped"),
          htmx: true
        )
      end

      def field(page, name) =
        page.body[/name="#{name}" value="([^"]*)"/, 1]&.then { |text| CGI.unescapeHTML(text) }

      def with_cookie(request)
        request["Cookie"] = @cookie if @cookie
        request
      end

      def keep(answer)
        fresh = answer.get_fields("set-cookie").to_a.map { |one| one[/\A[^;]+/] }
        @cookie = fresh.join("; ") if fresh.any?
        answer
      end
    end

    # Open boards that listen, and how soon they hear of an entry: a note is written every few seconds, and every board
    # notes when it is told.
    class Boards
      EVERY = 5

      def initialize(people, count, address, visit, account)
        @visit = visit
        @account = account
        @heard = []
        began = now
        @lock = Mutex.new
        @here = 0
        @sockets = (0...count).map { |i| listening(people[i % people.size], address) }
        sleep(0.05) until @lock.synchronize { @here } >= count || now - began > 60
        @writing = Thread.new { write } if count.positive?
      end

      def told
        last = @heard.reject(&:empty?)
        missed = (@heard.size * @sockets.size) - @heard.sum(&:size)
        slowest = last.map(&:max).max.to_f * 1000
        format(
          "%d boards were told %d times: half of them within %.0f ms, the last one within %.0f ms, %d tellings missed",
          @sockets.size,
          @heard.size,
          last.flatten.sort[last.flatten.size / 2].to_f * 1000,
          slowest,
          missed
        )
      end

      def close
        @writing&.kill
        sleep(1)
        @sockets.each(&:close)
      end

      private

      def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

      def write
        loop do
          sleep(EVERY)
          @lock.synchronize do
            @from = now
            @heard << []
          end
          Store::Ledger.new(@visit, @account).run(Store::Commands::AddNote.new("text" => "load"))
        end
      end

      def listening(person, address)
        socket = TCPSocket.new(address.host, address.port)
        socket.write(
          "GET /live HTTP/1.1\r\nHost: #{address.host}:#{address.port}\r\nCookie: #{person.cookie}\r\n" \
            "Accept: text/event-stream\r\n\r\n"
        )
        Thread.new do
          while (line = socket.gets)
            @lock.synchronize { @here += 1 } if line.start_with?(": here")
            next unless line.start_with?("data:") && line.match?(/"visit":#{@visit}\b/)

            @lock.synchronize { @heard.last&.push(now - @from) }
          end
        rescue IOError, SystemCallError
          nil
        end
        socket
      end
    end
  end
end

Handrail::Load.run(ARGV)
