# frozen_string_literal: true

# How many machines so many clinics need, what fails first, how long a restore takes:
#   bin/handrail capacity [--clinics N]      1, 20, 200 and 2000 where none is named
#
# A model, fed with what was measured (bin/support/capacity.yml): requests arrive as people at work make them, each
# takes its CPU time of a core of the servers and of the database's, and waits as in a queue before so many cores
# (M/M/c, Erlang's formula C; A. K. Erlang 1917, as in any text on queues). What grows is counted in bytes a visit.

require "optparse"
require "yaml"

module Handrail
  # One size of a group.
  class Capacity
    FIGURES = YAML.safe_load_file(File.join(__dir__, "capacity.yml")).freeze
    SIZES = [1, 20, 200, 2000].freeze

    def self.run(arguments)
      clinics = SIZES
      OptionParser
        .new("bin/handrail capacity [--clinics N]") do |o|
          o.on("--clinics N", Integer) { |n| clinics = [n] }
        end
        .parse!(arguments)
      raise OptionParser::InvalidArgument, "--clinics takes 1 or more" if clinics.any? { |n| n < 1 }

      clinics.each { |n| puts new(n).told }
    rescue OptionParser::ParseError => e
      warn e.message
      exit 2
    end

    attr_reader :clinics

    def initialize(clinics, figures: FIGURES)
      @clinics = clinics
      @measured = figures.fetch("measured")
      @assumed = figures.fetch("assumed")
    end

    # Requests a second in the busiest hour.
    def requests = clinics * assumed("people_a_clinic") * assumed("at_once") / assumed("think")

    # Cores that the servers, and the database, need so as to be no busier than they may be.
    def app_cores = (requests * measured("app_ms") / 1000.0 / assumed("busy")).ceil.clamp(1, nil)
    def database_cores =
      (requests * measured("database_ms") / 1000.0 / assumed("busy")).ceil.clamp(1, nil)

    # Bytes of a year, of all that is kept, and of the log of a day.
    def bytes_a_year =
      clinics * assumed("visits_a_day") * assumed("days_a_year") * measured("visit_bytes")
    def bytes = bytes_a_year * assumed("years_kept")
    def log_a_day =
      clinics * assumed("visits_a_day") * measured("entries_a_visit") *
        measured("log_bytes_an_entry")

    # Clusters of the database: the most clinics of one are bounded by what fails first in it.
    def clusters = (clinics.to_f / most_clinics).ceil
    def most_clinics = limits.values.min

    # name => how many clinics one cluster holds by it.
    def limits
      @limits ||=
        begin
          one = self.class.new(1)
          {
            "the database's cores" =>
              (
                assumed("database_cores") * assumed("busy") /
                  (one.requests * measured("database_ms") / 1000.0)
              ).floor,
            "the time of a restore" =>
              (assumed("restore_hours") * 3600 * assumed("restore_bytes") / one.bytes).floor,
            "the database's disk" => (assumed("disk") / one.bytes).floor,
            "its connections" =>
              (
                assumed("connections") / assumed("connections_a_process") * assumed("busy") /
                  (one.requests * measured("app_ms") / 1000.0)
              ).floor
          }
        end
    end

    def first_to_fail = limits.min_by(&:last).first

    # Machines: two of the database a cluster and one that votes with them, servers of Handrail behind one door each;
    # one machine is enough for one clinic that can wait for a backup.
    def machines
      servers = [(app_cores.to_f / assumed("app_cores_a_machine")).ceil, 2].max
      [(clusters * 3) + servers, servers, clusters * 3]
    end

    # Hours until the largest cluster is back from backups.
    def restore_hours =
      (measured("restore_seconds") + (bytes / clusters.to_f / assumed("restore_bytes"))) / 3600.0

    # How long (ms) a request takes in the mean, where requests arrive so fast at so many cores that do all of it.
    def self.answer_ms(requests, cores, figures: FIGURES)
      whole = figures.dig("measured", "app_ms") + figures.dig("measured", "database_ms")
      load = requests * whole / 1000.0
      return Float::INFINITY if load >= cores

      whole + (erlang_c(load, cores) * whole / (cores - load))
    end

    # The share of requests that wait: load - cores kept busy; cores.
    def self.erlang_c(load, cores)
      top = (load**cores) / factorial(cores) * cores / (cores - load)
      top / (top + (0...cores).sum { |n| (load**n) / factorial(n) })
    end

    def self.factorial(number) = (1..number).inject(1, :*)

    # Answers a second of so many people who think so long (seconds) between two things, at so many cores: the rate at
    # which people and cores agree.
    def self.answers(people, think, cores)
      low = 0.0
      high =
        cores * 1000.0 /
          (FIGURES.dig("measured", "app_ms") + FIGURES.dig("measured", "database_ms"))
      60.times do
        middle = (low + high) / 2
        made = people / (think + (answer_ms(middle, cores) / 1000.0))
        made > middle ? low = middle : high = middle
      end
      low
    end

    def told
      all, servers, database = machines
      [
        "#{clinics} #{clinics == 1 ? "clinic" : "clinics"}: #{requests.round(1)} requests a second in the busiest hour",
        "  #{all} machines: #{servers} with Handrail (cores kept busy: #{app_cores}), #{database} for the database " \
          "(clusters: #{clusters})",
        "  #{gigabytes(bytes_a_year)} a year, #{gigabytes(bytes)} in #{assumed("years_kept")} years, " \
          "#{gigabytes(log_a_day)} of log a day",
        "  a restore takes #{format("%.1f", restore_hours)} h; one cluster holds #{most_clinics} clinics, " \
          "first to fail: #{first_to_fail}"
      ].join("\n")
    end

    private

    def measured(name) = @measured.fetch(name)
    def assumed(name) = @assumed.fetch(name)
    def gigabytes(bytes) = format(bytes < 1e9 ? "%.2f GB" : "%.0f GB", bytes / 1e9)
  end
end
