# frozen_string_literal: true

require "yaml"
require_relative "patroni"

module Handrail
  module Group
    # What each part is told: its settings in its own folder, and the line that runs it. Existing engines throughout;
    # what is set here is what the group needs of them, with the reason.
    class Parts
      include Patroni

      SCOPE = "handrail"
      STANZA = "handrail"

      def initialize(places)
        @places = places
        @bin = Dir["/usr/lib/postgresql/*/bin"].max or
          raise Handrail::Error, "The PostgreSQL server is not installed."
      end

      attr_reader :bin

      # part => the line that runs it
      def lines
        Places::PARTS.to_h { |part| [part, public_send(part[/\A[a-z]+/], part)] }
      end

      def etcd(name)
        peers =
          Places::ETCD
            .map { |one| "#{one}=http://127.0.0.1:#{@places.port("#{one}-peer")}" }
            .join(",")
        client = "http://127.0.0.1:#{@places.port(name)}"
        peer = "http://127.0.0.1:#{@places.port("#{name}-peer")}"
        words = {
          "name" => name,
          "data-dir" => @places.folder(name, "data"),
          "listen-client-urls" => client,
          "advertise-client-urls" => client,
          "listen-peer-urls" => peer,
          "initial-advertise-peer-urls" => peer,
          "initial-cluster" => peers,
          "initial-cluster-token" => SCOPE,
          # three members on one busy machine: slower hearts than on machines of their own
          "heartbeat-interval" => "250",
          "election-timeout" => "2500",
          "enable-v2" => "true"
        }
        "etcd #{words.map { |key, value| "--#{key}=#{value}" }.join(" ")}"
      end

      # Between each node and etcd, so that a drill can cut one node off; on machines of their own there is a network.
      def wire(name)
        members =
          Places::ETCD.map { |one| "  server #{one} 127.0.0.1:#{@places.port(one)} check inter 1s" }
        doors =
          Places::NODES.map do |node|
            "listen #{node}\n  bind 127.0.0.1:#{@places.port("#{node}-etcd")}\n#{members.join("\n")}\n"
          end
        haproxy(name, doors)
      end

      # A node of the database under Patroni: who holds the lease writes, the other follows and has every commit before
      # it is acknowledged (synchronous_mode). 20 s is Patroni's shortest lease; a server process that dies alone fails
      # over at once (primary_start_timeout 0).
      def pg(name)
        settings = @places.write(name, "patroni.yml", YAML.dump(patroni(name)))
        @places.folder(name, "run")
        backrest(name)
        "patroni #{settings}"
      end

      # One door to whoever writes, one to who follows and is not far behind.
      def proxy(name)
        haproxy(
          name,
          [
            door("writer", "/primary", "on-marked-down shutdown-sessions"),
            door("reader", "/replica?lag=16MB", "on-marked-down shutdown-sessions")
          ]
        )
      end

      def app(name)
        "env #{surroundings(name).map { |key, value| "#{key}='#{value}'" }.join(" ")} " \
          "bundle exec puma --silent -C #{File.join(ROOT, "config", "puma.rb")}"
      end

      # Two servers: whoever is ready is asked, what could not be delivered is tried at the other one.
      def front(name)
        to = Places::APPS.map { |one| "127.0.0.1:#{@places.port(one)}" }.join(" ")
        file = @places.write(name, "Caddyfile", <<~CADDY)
          {
            admin off
            auto_https off
          }
          http://127.0.0.1:#{@places.port("front")} {
            bind 127.0.0.1
            request_body {
              max_size 8MB
            }
            reverse_proxy #{to} {
              lb_policy least_conn
              lb_try_duration 8s
              lb_try_interval 200ms
              fail_duration 2s
              health_uri /ready
              health_interval 1s
              health_timeout 3s
              flush_interval -1
            }
          }
        CADDY
        own = @places.folder(name)
        "env HOME=#{own} XDG_DATA_HOME=#{own} caddy run --config #{file} --adapter caddyfile"
      end

      # What a server of Handrail is told.
      def surroundings(name)
        {
          "DATABASE_URL" => @places.url("writer"),
          "HANDRAIL_READER_URL" => @places.url("reader"),
          "HANDRAIL_ADDRESS" => "http://127.0.0.1:#{@places.port(name)}",
          "HANDRAIL_SERVED" => @places.folder(name),
          "HANDRAIL_WORKERS" => "1",
          "MALLOC_ARENA_MAX" => "2",
          "HANDRAIL_PROXY" => "127.0.0.1",
          "HANDRAIL_BACKUPS" => File.join(@places.root, "backup", "backup", STANZA),
          "SESSION_SECRET" => @places.secret("session"),
          "HOME" => @places.folder(name)
        }
      end

      # Settings of pgBackRest for a node. Returns their path.
      def backrest(name)
        %w[backup].each { |one| @places.folder(one) }
        @places.write(name, "pgbackrest.conf", <<~INI)
          [global]
          repo1-path=#{@places.folder("backup")}
          repo1-retention-full=2
          start-fast=y
          compress-type=lz4
          log-level-console=warn
          log-level-file=info
          log-path=#{@places.folder(name, "backrest")}
          lock-path=#{@places.folder(name, "backrest", "lock")}
          spool-path=#{@places.folder(name, "backrest", "spool")}
          [#{STANZA}]
          pg1-path=#{File.join(@places.folder(name), "data")}
          pg1-port=#{@places.port(name)}
          pg1-socket-path=#{@places.folder(name, "run")}
          pg1-user=handrail
          pg1-database=postgres
        INI
      end

      private

      def haproxy(name, doors)
        socket = File.join(@places.folder(name), "admin.sock")
        file = @places.write(name, "haproxy.cfg", <<~CONFIG)
          global
            maxconn 600
            stats socket #{socket} mode 600 level admin
          defaults
            mode tcp
            timeout connect 2s
            timeout client 1h
            timeout server 1h
            timeout check 2s
            option clitcpka
          #{doors.join("\n")}
        CONFIG
        "haproxy -db -f #{file}"
      end

      def door(name, asked, more)
        nodes =
          Places::NODES.map do |node|
            "  server #{node} 127.0.0.1:#{@places.port(node)} check port #{@places.port("#{node}-rest")}"
          end
        <<~CONFIG
          listen #{name}
            bind 127.0.0.1:#{@places.port(name)}
            option httpchk OPTIONS #{asked}
            http-check expect status 200
            default-server inter 1s fall 2 rise 1 #{more}
          #{nodes.join("\n")}
        CONFIG
      end
    end
  end
end
