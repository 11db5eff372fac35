# frozen_string_literal: true

require "json"
require "net/http"
require "open3"

module Handrail
  module Group
    # The two nodes of the database, as Patroni tells of them.
    class Nodes
      # name; role - leader, sync_standby, replica; state; lag - bytes, nil where it is not known; timeline
      Node = Value.new(:name, :role, :state, :lag, :timeline)

      def initialize(places, parts)
        @places = places
        @parts = parts
      end

      # Nodes, as whichever of them answers tells.
      def all
        Places::NODES.each do |name|
          found = ask(name, "/cluster") or next
          return(
            JSON
              .parse(found)
              .fetch("members", [])
              .map do |one|
                Node[
                  name: one["name"],
                  role: one["role"],
                  state: one["state"],
                  lag: one["lag"].is_a?(Integer) ? one["lag"] : nil,
                  timeline: one["timeline"]
                ]
              end
          )
        end
        []
      end

      # The name of the node that writes, or nil.
      def leader = all.find { |one| one.role == "leader" && one.state == "running" }&.name
      def other(name) = (Places::NODES - [name]).first

      # Whether one writes and the other has all of it, before it is acknowledged.
      def in_step?
        found = all
        found.any? { |one| one.role == "leader" && one.state == "running" } &&
          found.any? { |one| one.role == "sync_standby" && one.lag.to_i.zero? }
      end

      # patronictl, as the part's own account. Returns what it says.
      def control(*words)
        settings = File.join(@places.folder("pg-1"), "patroni.yml")
        as("pg-1", "patronictl", "-c", settings, *words)
      end

      # Hands the lease over. to - the name of the node that writes from then on.
      def switch(to)
        control("switchover", Parts::SCOPE, "--master", other(to), "--candidate", to, "--force")
      end

      # Forgets in etcd who wrote; the nodes are down.
      def forget
        doors = Places::ETCD.map { |one| "http://127.0.0.1:#{@places.port(one)}" }.join(",")
        Open3.capture2e(
          { "ETCDCTL_API" => "2" },
          "etcdctl",
          "--endpoints=#{doors}",
          "rm",
          "--recursive",
          "/service/#{Parts::SCOPE}"
        ).first
      end

      # Runs a program as the account of a part. Returns what it says; raises where it fails.
      def as(part, *words, fine: [0])
        who = @places.account(part)
        words = ["runuser", "-u", who, "--", *words] if who
        said, status =
          Open3.capture2e({ "HOME" => @places.folder(part) }, *words, chdir: @places.folder(part))
        return said if fine.include?(status.exitstatus)

        raise Handrail::Error,
              "#{words.find { |one| one.match?(/patroni|pg|etcd/) }}: #{said[-800..] || said}"
      end

      private

      def ask(name, path)
        Net::HTTP.start(
          "127.0.0.1",
          @places.port("#{name}-rest"),
          open_timeout: 1,
          read_timeout: 2
        ) { |http| http.get(path).body }
      rescue SystemCallError, IOError, Timeout::Error
        nil
      end
    end
  end
end
