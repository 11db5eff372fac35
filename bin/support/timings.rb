# frozen_string_literal: true

# Times the pages at the server, in process and without a browser: bin/handrail timings [rounds]
# Prints for each page the median, the slowest of nineteen in twenty (p95), the median as a multiple of a bare page
# with one query through the same stack, how many queries it takes, and the median over HTTP with all that stands around
# a page (session, sign-in, compression, headers; of the demo alone), on the database in DATABASE_URL.

require "logger"
require "rack"
require_relative "../../lib/handrail"
require_relative "over_http"

module Handrail
  # Pages of a clinic, asked for again and again as a signed-in fitter, in the same process.
  class Timings
    # A page with one query by primary key and a small template: what the server itself takes.
    class Bare < Web::Base
      template(:bare) { <<~ERB }
        <!doctype html>
        <html lang="en">
        <head><title><%= row.name %></title></head>
        <body>
          <h1><%= row.name %></h1>
          <p><%= row.place %>, <%= row.phone %></p>
        </body>
        </html>
      ERB

      get("/") { erb :bare, layout: false, locals: { row: Store::Clinic[clinic.id] } }
    end

    # Counts what is sent to the database.
    class Counter < Logger
      attr_reader :count

      def initialize
        super(File::NULL)
        @count = 0
      end

      def add(*) = @count += 1
    end

    def initialize(rounds)
      @rounds = rounds
      @account = Store::Account.where(role: "fitter").order(:id).first or
        abort "There is no clinic yet. Run " \
                "bin/start first."
      map = {
        "/" => Web::Board,
        "/patients" => Web::Patients,
        "/visits" => Web::Visits,
        "/catalogue" => Web::Catalogue,
        "/tapes" => Web::Tapes,
        "/report" => Web::Report,
        "/week" => Web::Week,
        "/bare" => Bare
      }
      @app = Web::ErrorPages.new(Rack::URLMap.new(map))
    end

    def run
      asked = { "bare page" => "/bare/" }.merge(pages).transform_values { |path| -> { ask(path) } }
      asked["one reading"] = -> { take_reading }
      times = rounds(asked)
      bare = median(times["bare page"])
      over = over_http
      puts format(
             "%-14s %9s %9s %8s %8s %9s %9s %7s",
             "page",
             "median ms",
             "p95 ms",
             "x bare",
             "queries",
             "http ms",
             "around ms",
             "status"
           )
      asked.each do |name, asking|
        all = times[name]
        puts format(
               "%-14s %9.1f %9.1f %8.1f %8d %9s %9s %7d",
               name,
               median(all),
               all[(all.size * 0.95).floor],
               median(all) / bare,
               queries(asking),
               *(over[name] || %w[- -]),
               @status
             )
      end
      all = searched
      puts format(
             "find, %d askings of ten kinds: median %.1f ms, p95 %.1f ms",
             all.size,
             median(all),
             all[(all.size * 0.95).floor]
           )
    end

    private

    # what is typed for somebody by whoever looks for them, in turn
    KINDS = [
      :family_name.to_proc,
      ->(one) { one.family_name[0, 3] },
      ->(one) { one.family_name.sub(/[aeiou]/, "x") },
      ->(one) { one.born_on.strftime("%-d.%-m.%Y") },
      ->(one) { one.born_on.strftime("%d/%m/%Y") },
      ->(one) { "#{one.given_name} #{one.family_name}" },
      ->(one) { "#{one.family_name} #{one.born_on.year}" },
      :record_number.to_proc,
      ->(one) { one.phone.to_s.empty? ? one.given_name : one.phone },
      ->(one) { one.family_name.upcase }
    ].freeze
    private_constant :KINDS

    # milliseconds of sixty askings for sixty people, five times each, sorted
    def searched
      people = Store::Patient.where(clinic_id: @account.clinic_id).exclude(family_name: nil)
      last = people.max(:id)
      dice = Random.new(7)
      found =
        Array.new(60) do
          people.where { id >= dice.rand(last) + 1 }.order(:id).first || people.first
        end
      paths =
        found.each_with_index.map do |one, i|
          "/find?q=#{URI.encode_www_form_component(KINDS[i % KINDS.size].call(one))}"
        end
      rounds(paths.to_h { |path| [path, -> { ask(path) }] }, 5).values.flatten.sort
    end

    def pages
      most = ->(table) do
        Store.db[table]
          .where(clinic_id: @account.clinic_id)
          .group_and_count(:visit_id)
          .order(Sequel.desc(:count), :visit_id)
          .first
          .fetch(:visit_id)
      end
      measured = most[:readings]
      fitted = most[:check_results]
      patient = Store::Visit[fitted].fitting.patient
      recheck =
        Store::Visit.where(clinic_id: @account.clinic_id, purpose: "recheck").order(:id).last&.id ||
          fitted
      {
        "board" => "/",
        "measure" => "/visits/#{measured}/measure",
        "size" => "/visits/#{measured}/size",
        "fit" => "/visits/#{fitted}/fit",
        "recheck" => "/visits/#{recheck}/recheck",
        "record" => "/visits/#{fitted}/record",
        "patient" => "/patients/#{patient.id}",
        "find" => "/find?q=#{patient.family_name[0, 4]}",
        "catalogue" => "/catalogue/",
        "coverage" => "/catalogue/#{charted}/coverage",
        "report" => "/report/",
        "week" => "/week/"
      }
    end

    # the product by a chart that was fitted most
    def charted
      Store.db[:fitting_outcomes]
        .where(clinic_id: @account.clinic_id)
        .exclude(revision_id: nil)
        .group_and_count(:product_id)
        .reverse(:count)
        .first
        .fetch(:product_id)
    end

    # form - what is posted as htmx posts it, else the page is got
    def ask(path, form = nil)
      how = form ? { :method => "POST", :params => form, "HTTP_HX_REQUEST" => "true" } : {}
      env =
        Rack::MockRequest.env_for(
          path,
          "rack.session" => {
            "csrf" => SecureRandom.base64(32)
          },
          **how
        )
      env["handrail.account"] = @account
      @status, _, body = @app.call(env)
      body.each(&:bytesize)
    end

    # A reading sent as the bench sends it, and taken back again: the answer is the whole bench anew, with its figure
    # drawn anew, since another value is read each time.
    def take_reading
      form =
        reading.slice(:site, :side, :posture).merge(
          unit: "cm",
          value: format("%.1f", (reading[:value_mm] + next_off) / 10),
          entry_key: SecureRandom.uuid
        )
      Store
        .db
        .transaction(rollback: :always) { ask("/visits/#{reading[:visit_id]}/readings", form) }
    end

    # so many mm off the last reading: each from -10 to 10 once, before one comes again
    def next_off
      @off = ((@off || 0) + 8) % 21
      @off - 10
    end

    # the last girth of a leg that was read once, at a visit at which another may be taken: the figure that takes
    # longest to draw, and a second reading moves it
    def reading
      @reading ||=
        Store.db[:readings]
          .where(clinic_id: @account.clinic_id, visit_id: open_visits, site: girths_of_legs)
          .exclude(visit_id: asked_back)
          .group(:visit_id, :site, :side)
          .having { count.function.* =~ 1 }
          .reverse { max(:id) }
          .get { max(:id) }
          .then { |id| Store.db[:readings][id: id] }
    end

    # visits at which a reading waits to be answered: another one would be refused
    def asked_back
      Store.db[:readings]
        .where(answered_at: nil, struck_at: nil)
        .exclude(question: nil)
        .select(:visit_id)
    end

    def girths_of_legs =
      Anatomy::Vocabulary
        .default
        .select { |site| site.figure == "leg" && site.kind == "girth" }
        .map(&:key)

    def open_visits
      Store.db[:visits].where(
        clinic_id: @account.clinic_id,
        purpose: "first",
        closed_at: nil
      ).select(:id)
    end

    # name => median milliseconds over HTTP, as a text
    # page => [milliseconds over HTTP, those of them that are neither the page's nor of the asking], as texts. Each
    # is asked for in the same rounds within the process, over HTTP, and, beside all of them, nothing is.
    def over_http
      http = OverHTTP.begin(@account) or return {}
      nothing = OverHTTP.nothing
      asked = { "" => -> { nothing.get("/") } }
      pages.each do |name, path|
        asked[[name, :page]] = -> { ask(path) }
        asked[[name, :http]] = -> { http.get(path) }
      end
      all = rounds(asked).transform_values { |times| median(times) }
      pages.keys.to_h do |name|
        there = all[[name, :http]]
        [name, [there, there - all[[name, :page]] - all[""]].map { |one| format("%.1f", one) }]
      end
    ensure
      http&.end
      nothing&.end
    end

    # name => milliseconds, sorted. Every round asks for every page once, so that what else the machine does meets
    # all of them alike.
    def rounds(asked, times = @rounds)
      asked.each_value { |asking| 3.times { asking.call } }
      all = Array.new(times) { asked.transform_values { |asking| time(&asking) } }
      asked.keys.to_h { |name| [name, all.map { |round| round[name] }.sort] }
    end

    def time
      started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      yield
      (Process.clock_gettime(Process::CLOCK_MONOTONIC) - started) * 1000
    end

    def median(sorted) = sorted[sorted.size / 2]

    def queries(asking)
      Store.db.loggers << (counter = Counter.new)
      asking.call
      counter.count
    ensure
      Store.db.loggers.delete(counter)
    end
  end
end

Handrail::Timings.new(Integer(ARGV.first || 30)).run
