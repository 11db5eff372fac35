# frozen_string_literal: true

# A group on this machine's loopback: see bin/cluster.

require "etc"
require "net/http"
require "optparse"
require "sequel"
require "time"
require_relative "../../lib/handrail"
%w[places parts keeper nodes backups restoring].each { |name| require_relative "cluster/#{name}" }

module Handrail
  # The group as a whole.
  module Group
    # The commands of bin/cluster.
    class Command
      include Restoring

      def self.run(arguments)
        name, *rest = arguments
        new.public_send(name, *rest)
      rescue ArgumentError, OptionParser::ParseError => e
        warn e.message
        exit 2
      rescue Handrail::Error => e
        warn e.message
        exit 1
      end

      def initialize
        @places = Places.new
        @parts = Parts.new(@places)
        @keeper = Keeper.new(@places)
        @nodes = Nodes.new(@places, @parts)
        @backups = Backups.new(@places, @parts, @nodes, @keeper)
        @began = now
      end

      attr_reader :places, :parts, :keeper, :nodes, :backups

      def start
        keeper.begin(parts.lines)
        step("three members of etcd") { keeper.up(*Places::ETCD, "wire") }
        step("two nodes of the database", 180) do
          keeper.up(*Places::NODES)
          -> { nodes.in_step? }
        end
        keeper.up("proxy")
        step("the database", 60) { -> { database? } }
        bring_up_to_date
        first_backup unless places.made?
        places.made!
        serve
        tell
      end

      def stop
        keeper.down("front", *Places::APPS)
        keeper.down("proxy")
        keeper.down(*Places::NODES, seconds: 60)
        keeper.down("wire", *Places::ETCD)
        keeper.end
        puts "The group is stopped. Nothing was deleted; bin/cluster start begins where it ended."
      end

      def status
        Places::PARTS.each do |part|
          puts format("%-8s %-26s %s", part, ports_of(part), state_of(part))
        end
        nodes.all.each do |node|
          puts format(
                 "%-8s %-14s %s, timeline %s, behind %s",
                 node.name,
                 node.role,
                 node.state,
                 node.timeline,
                 node.lag || "-"
               )
        end
        backups.list.each do |one|
          puts format(
                 "backup   %-14s %s, %.1f MB",
                 one["type"],
                 one["at"].strftime("%F %T UTC"),
                 one["size"] / 1e6
               )
        end
      end

      # bin/handrail on the group's database
      def run(*words)
        exec(
          { "DATABASE_URL" => places.url("writer"), "RACK_ENV" => "production" },
          RbConfig.ruby,
          File.join(ROOT, "bin", "support", "handrail.rb"),
          *words
        )
      end

      def backup(kind = "incr")
        raise ArgumentError, "backup takes full, or nothing" unless %w[full incr].include?(kind)

        made = backups.make(kind)
        size = (made["size"] / 1e6).round(1)
        puts "Backed up and looked at: #{made["label"]}, #{made["type"]}, #{size} MB, #{seconds} s"
      end

      def switch
        to = nodes.other(nodes.leader)
        began = now
        puts nodes.switch(to).lines.grep(/Success|fail/i)
        step("#{to} to write", 60) { -> { nodes.leader == to && database? } }
        puts format("%s writes, after %.1f s", to, now - began)
      end

      # one server after the other; the one that is left answers meanwhile
      def roll
        bring_up_to_date
        Places::APPS.each do |app|
          keeper.again(app)
          step("#{app} to be ready", 90) { -> { ready?(app) } }
        end
      end

      def drill(*words)
        require_relative "cluster/drill"
        exit(Drill.new(self, words).run)
      end

      def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
      def seconds = (now - @began).round
      def ready?(part) = answers?(part, "/ready")

      # Whether somebody can write by the proxy.
      def database?
        Sequel.connect(
          places.url("writer", role: "owner"),
          connect_timeout: 2,
          max_connections: 1
        ) { |db| db.get(Sequel.function(:pg_is_in_recovery)) == false }
      rescue Sequel::Error
        made = make_database if nodes.leader
        made && retry
        false
      end

      # Runs a block, and what it returns (a lambda) until it says yes.
      def step(what, most = 60)
        from = now
        done = yield
        return unless done.respond_to?(:call)

        until done.call
          if now - from > most
            raise Handrail::Error,
                  "#{what}: not within #{most} s. The logs: #{places.root}/*/logs/current"
          end

          sleep 0.2
        end
        puts format("%4d s  %s", seconds, what) if @said != what
        @said = what
      end

      private

      # true where it was made now
      def make_database
        Sequel.connect(places.node_url(nodes.leader, "postgres"), max_connections: 1) do |db|
          return false if db[:pg_database].where(datname: "handrail").any?

          db.run("CREATE DATABASE handrail")
          true
        end
      rescue Sequel::Error
        false
      end

      def bring_up_to_date
        env = {
          "DATABASE_URL" => places.url("writer", role: "owner"),
          "HANDRAIL_ROLE" => "handrail_server",
          "HANDRAIL_ROLE_PASSWORD" => places.secret("server")
        }
        system(env, RbConfig.ruby, File.join(ROOT, "bin", "support", "prepare.rb")) or
          raise Handrail::Error, "The tables could not be brought up to date."
      end

      def first_backup
        backups.prepare
        backups.make("full")
        puts format("%4d s  the first backup, looked at", seconds)
      end

      def serve
        keeper.up(*Places::APPS, "front")
        step("two servers behind one door", 120) do
          -> { Places::APPS.all? { |app| ready?(app) } && ready?("front") }
        end
      end

      def answers?(part, path)
        Net::HTTP.start("127.0.0.1", places.port(part), open_timeout: 1, read_timeout: 3) do |http|
          http.get(path).code == "200"
        end
      rescue SystemCallError, IOError, Timeout::Error
        false
      end

      def tell
        puts "The group serves at #{places.address} (after #{seconds} s)"
        signs = File.join(ROOT, "var", "sign-ins")
        puts File.read(signs) if File.exist?(signs)
        puts "bin/cluster status says who is who; bin/cluster stop stops all of it."
      end

      def ports_of(part)
        own = Places::PORTS.select { |name| name == part || name.start_with?("#{part}-") }
        own = %w[writer reader] if part == "proxy"
        own.map { |name| places.port(name) }.join(" ")
      end

      def state_of(part)
        age = keeper.age(part)
        age ? "runs for #{age} s (#{keeper.pid(part)})" : "is down"
      end
    end
  end
end

$stdout.sync = true
Handrail::Group::Command.run(ARGV)
