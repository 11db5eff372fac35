# frozen_string_literal: true

# Times the pages at the server, in process and without a browser: bin/handrail timings [rounds]
# Prints the median and the slowest of so many answers for each page, in milliseconds, on the database in DATABASE_URL.

require "rack"
require_relative "../../lib/handrail"

module Handrail
  # Pages of the demo clinic, asked for again and again as a signed-in fitter.
  module Timings
    def self.run(rounds)
      account = Store::Account.first(role: "fitter") or abort "There is no clinic yet. Run bin/start first."
      mapped = Rack::URLMap.new("/" => Web::Board, "/patients" => Web::Patients, "/visits" => Web::Visits)
      app = Web::ErrorPages.new(mapped)
      puts "#{'page'.ljust(34)}  median ms slowest ms   status"
      pages(account).each { |name, path| puts format("%-34s %10.1f %10.1f %8d", name, *measure(app, account, path, rounds)) }
    end

    def self.pages(account)
      record = Store::VisitRecord.load(account.clinic, Store::Visit.where(clinic_id: account.clinic_id).order(:id).all)
      measured = record.max_by { |r| r.rows(:readings).size }.visit.id
      fitted = record.max_by { |r| r.rows(:check_results).size }.visit.id
      again = record.reverse.find { |r| r.recheck? && r.visit.planned_for }&.visit&.id || measured
      { "board" => "/", "bench, measure" => "/visits/#{measured}/measure", "bench, size" => "/visits/#{measured}/size",
        "bench, fit" => "/visits/#{fitted}/fit",
        "recheck" => "/visits/#{again}/recheck", "patient" => "/patients/#{record.last.patient.id}", "record" => "/visits/#{fitted}/record" }
    end

    def self.measure(app, account, path, rounds)
      status = nil
      times = Array.new(rounds + 3) do
        env = Rack::MockRequest.env_for(path, "rack.session" => { "csrf" => SecureRandom.base64(32) })
        env["handrail.account"] = account
        started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        status, _, body = app.call(env)
        body.each(&:bytesize)
        (Process.clock_gettime(Process::CLOCK_MONOTONIC) - started) * 1000
      end.drop(3).sort
      [times[times.size / 2], times.last, status]
    end
    private_class_method :pages, :measure
  end
end

Handrail::Timings.run(Integer(ARGV.first || 30))
