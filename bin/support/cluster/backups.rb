# frozen_string_literal: true

require "fileutils"
require "json"
require "time"

module Handrail
  module Group
    # Backups by pgBackRest, with the archive of the log between them: to any second since the oldest one. Photos and
    # papers are rows of the database, and so in them.
    class Backups
      def initialize(places, parts, nodes, keeper)
        @places = places
        @parts = parts
        @nodes = nodes
        @keeper = keeper
      end

      # Prepares the archive for the node that writes.
      def prepare = run(@nodes.leader, "stanza-create")

      # kind - "full", "incr" or "diff". What was backed up is looked at afterwards, file by file.
      def make(kind = "incr")
        leader = @nodes.leader or
          raise Handrail::Error, "There is no node that writes: nothing was backed up."
        run(leader, "backup", "--type=#{kind}")
        run(leader, "verify")
        list.last
      end

      # What there is, the oldest first: Hashes with "label", "type", "at", "size"
      def list
        found = JSON.parse(run("pg-1", "info", "--output=json"))
        found
          .first
          .to_h
          .fetch("backup", [])
          .map do |one|
            {
              "label" => one["label"],
              "type" => one["type"],
              "at" => Time.at(one.dig("timestamp", "stop")).utc,
              "size" => one.dig("info", "size")
            }
          end
      end

      # Brings the database back as it stood at a time, from backups and archive alone; both nodes are down. What lay in
      # the nodes' folders is kept beside them. to - a Time, or nil for all that was archived.
      def bring_back(to)
        Places::NODES.each { |name| aside(name) }
        target =
          (
            if to
              [
                "--type=time",
                "--target=#{to.utc.strftime("%Y-%m-%d %H:%M:%S.%6N+00")}",
                "--target-action=promote"
              ]
            else
              []
            end
          )
        @places.folder("pg-1", "data")
        run("pg-1", "restore", *target)
        recover
        @nodes.forget
      end

      private

      # once, by itself, until it has come to the end
      def recover
        log = File.join(@places.folder("pg-1"), "recovery.log")
        how =
          "-p #{@places.port("pg-1")} -c listen_addresses=127.0.0.1 " \
            "-c unix_socket_directories=#{@places.folder("pg-1", "run")} -c max_connections=120 -c hot_standby=on"
        data = File.join(@places.folder("pg-1"), "data")
        control = File.join(@parts.bin, "pg_ctl")
        @nodes.as("pg-1", control, "-D", data, "-w", "-t", "600", "-l", log, "-o", how, "start")
        600.times do
          break if recovered?

          sleep 0.5
        end
        @nodes.as("pg-1", control, "-D", data, "-w", "-m", "fast", "stop")
      rescue Handrail::Error => e
        raise Handrail::Error,
              "#{e.message}\n#{File.read(log).lines.last(5).join if File.exist?(log)}"
      end

      def recovered?
        @nodes.as(
          "pg-1",
          File.join(@parts.bin, "psql"),
          "-h",
          @places.folder("pg-1", "run"),
          "-p",
          @places.port("pg-1").to_s,
          "-U",
          "handrail",
          "-d",
          "postgres",
          "-Atc",
          "SELECT pg_is_in_recovery()"
        ).strip == "f"
      end

      def aside(name)
        data = File.join(@places.root, name, "data")
        return unless File.directory?(data)

        FileUtils.rm_rf("#{data}-before")
        FileUtils.mv(data, "#{data}-before")
      end

      def run(node, command, *more)
        settings = File.join(@places.folder(node), "pgbackrest.conf")
        @nodes.as(
          node,
          "pgbackrest",
          "--config=#{settings}",
          "--stanza=#{Parts::STANZA}",
          *more,
          command
        )
      end
    end
  end
end
