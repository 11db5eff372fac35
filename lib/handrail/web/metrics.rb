# frozen_string_literal: true

require "fileutils"
require "prometheus/client"
require "prometheus/client/data_stores/direct_file_store"
require "prometheus/client/formats/text"

module Handrail
  module Web
    # /metrics, in the text that Prometheus reads, for this machine alone, or for who knows HANDRAIL_METRICS_TOKEN: how
    # long the pages take, what goes wrong, whether the database has connections left, how old the last backup is. It
    # names pages by what they are, never by whose: /visits/N/measure.
    class Metrics
      PATH = "/metrics"
      # seconds: what a person feels begins at a tenth
      BUCKETS = [0.005, 0.01, 0.02, 0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10].freeze
      # pages by their first word; every other is a stranger's guess
      KNOWN = %w[
        patients
        visits
        catalogue
        week
        live
        line
        tapes
        report
        handbook
        devices
        join
        set-up
        people
        me
        calendar
        settings
        login
        logout
        health
        ready
        find
        built
        fonts
      ].freeze
      # no more than so many pages are told apart
      MOST = 150
      # seconds after which a process says again what it holds itself
      OWN = 5

      # Before the app is made: what each of several processes counts is kept in files of a folder, and whoever is asked
      # adds up.
      def self.begin(folder)
        FileUtils.mkdir_p(folder)
        Prometheus::Client.config.data_store =
          Prometheus::Client::DataStores::DirectFileStore.new(dir: folder)
      end

      # How a gauge of several processes is added up: :sum or :max.
      def self.adding(how)
        shared =
          Prometheus::Client.config.data_store.is_a?(
            Prometheus::Client::DataStores::DirectFileStore
          )
        shared ? { aggregation: how } : {}
      end

      def initialize(
        app,
        registry: Prometheus::Client::Registry.new,
        token: ENV.fetch("HANDRAIL_METRICS_TOKEN", nil)
      )
        @app = app
        @registry = registry
        @token = token
        @seconds =
          registry.histogram(
            :handrail_request_seconds,
            docstring: "How long answers took",
            labels: %i[page method],
            buckets: BUCKETS
          )
        @answers =
          registry.counter(
            :handrail_answers_total,
            docstring: "Answers by status",
            labels: %i[status]
          )
        @pages = Set.new
        @state = State.new(registry)
      end

      def call(env)
        return told(env) if env["PATH_INFO"] == PATH

        started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
        status, headers, body = @app.call(env)
        noted(env, status, Process.clock_gettime(Process::CLOCK_MONOTONIC) - started)
        [status, headers, body]
      end

      private

      def noted(env, status, seconds)
        labels = {
          page: page(env["PATH_INFO"]),
          method: env["REQUEST_METHOD"] == "GET" ? "GET" : "POST"
        }
        # a page that listens is open as long as it is looked at
        @seconds.observe(seconds, labels: labels) unless labels[:page] == "/live"
        @answers.increment(labels: { status: status })
        @state.own
      end

      # /visits/412/measure is /visits/N/measure; what nobody serves is "other"
      def page(path)
        words = path.to_s.split("/").drop(1).first(4)
        return "/" if words.empty?
        return "other" unless KNOWN.include?(words.first)

        named =
          "/#{words.map { |word| word.match?(/\A[a-z][a-z_.-]{0,24}\z/) ? word : "N" }.join("/")}"
        return named if @pages.include?(named)
        return "other" if @pages.size >= MOST

        @pages = @pages.dup.add(named)
        named
      end

      def told(env)
        unless may?(env)
          return 404, { "content-type" => "text/plain" }, ["There is nothing here.\n"]
        end

        @state.look
        text = Prometheus::Client::Formats::Text.marshal(@registry)
        [
          200,
          {
            "content-type" => Prometheus::Client::Formats::Text::CONTENT_TYPE,
            "cache-control" => "no-store"
          },
          [text]
        ]
      end

      def may?(env)
        given = env["HTTP_AUTHORIZATION"].to_s.delete_prefix("Bearer ")
        return Rack::Utils.secure_compare(given, @token) if @token && !given.empty?

        Health::NEAR.include?(Rack::Request.new(env).ip)
      end

      # What is looked up when somebody asks.
      class State
        def initialize(registry)
          gauge = ->(name, says, how = :max) do
            registry.gauge(
              :"handrail_#{name}",
              docstring: says,
              store_settings: Metrics.adding(how)
            )
          end
          @owned = 0
          @up = gauge["database_up", "Whether the database answers"]
          @schema = gauge["schema", "The newest migration that ran"]
          @behind = gauge["schema_behind", "Migrations that have not run here"]
          @used = gauge["connections_used", "Connections to the database that are in use", :sum]
          @most = gauge["connections_most", "Connections to the database that there may be", :sum]
          @boards = gauge["boards_listening", "Open pages that listen for entries", :sum]
          @failed = gauge["sign_ins_failed_hour", "Tries to sign in that failed within an hour"]
          @standby =
            gauge[
              "standby_behind_bytes",
              "How far the standby that is read from is behind, in bytes of the log; -1 where there is none"
            ]
          @archive =
            gauge[
              "archive_age_seconds",
              "How old what is not in the archive of the log yet may be; 0 where all is there, -1 where none is kept"
            ]
          @lost = gauge["archive_failed_total", "Pieces of the log that could not be archived"]
          @backup =
            gauge[
              "backup_age_seconds",
              "How old the newest backup in var/backups is; -1 where there is none"
            ]
        end

        def look
          own(nil)
          @backup.set(backup_age)
          of_database
        end

        # What this process holds, said once in a while. now - seconds on a clock that only goes forward.
        def own(now = Process.clock_gettime(Process::CLOCK_MONOTONIC))
          return if now && now - @owned < OWN

          @owned = now || 0
          @most.set(Store.db.pool.max_size)
          @used.set(Store.db.pool.size)
          @boards.set(Live::CROWD.size)
        end

        private

        def of_database
          schema = Store.schema_version.to_i
          @schema.set(schema)
          @behind.set(Store.newest_schema - schema)
          since = Store.now - 3600
          failed = Store.db[:sign_ins].where(what: %w[wrong_password unknown wrong_code held_back])
          @failed.set(failed.where { at > since }.count)
          @standby.set(Store::Standby.behind || -1)
          archive
          @up.set(1)
        rescue Sequel::Error
          @up.set(0)
        end

        def archive
          told = Store::Archive.told
          @archive.set(told.age || -1)
          @lost.set(told.failed)
        end

        def backup_age
          newest =
            Dir[File.join(ENV.fetch("HANDRAIL_BACKUPS", File.join(ROOT, "var", "backups")), "*")]
              .filter_map { |path| File.mtime(path) if File.file?(path) }
              .max
          newest ? (Store.now - newest).round : -1
        end
      end
      private_constant :State
    end
  end
end
