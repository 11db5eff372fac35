# frozen_string_literal: true

module Handrail
  module Group
    # What Patroni is told of a node. Part of Parts, which has `bin` and the places.
    module Patroni
      private

      def patroni(name)
        rest = "127.0.0.1:#{@places.port("#{name}-rest")}"
        {
          "scope" => Parts::SCOPE,
          "name" => name,
          "restapi" => {
            "listen" => rest,
            "connect_address" => rest
          },
          # The wire in its place is all that it knows of etcd. Its second API: by it a node renews its lease only
          # where it still has it (compare and swap). By the third, Patroni 3.0 writes its name over another's when it
          # wakes up after a pause, and what was acknowledged meanwhile is lost (drill --only pause shows it).
          "etcd" => {
            "use_proxies" => true,
            "hosts" => ["127.0.0.1:#{@places.port("#{name}-etcd")}"]
          },
          "bootstrap" => {
            "dcs" => dcs,
            "initdb" => [{ "encoding" => "UTF8" }, { "locale" => "C.UTF-8" }, "data-checksums"]
          },
          "postgresql" => server(name)
        }
      end

      def dcs
        {
          "ttl" => 20,
          "loop_wait" => 3,
          "retry_timeout" => 5,
          "maximum_lag_on_failover" => 1_048_576,
          "synchronous_mode" => true,
          "primary_start_timeout" => 0,
          "postgresql" => {
            "use_pg_rewind" => true,
            "parameters" => {
              "wal_level" => "replica",
              "hot_standby" => "on",
              "max_connections" => 120,
              "wal_keep_size" => "512MB",
              # a standby that says nothing is given up before people notice
              "wal_sender_timeout" => "5s",
              "wal_receiver_timeout" => "5s",
              "archive_mode" => "on",
              "archive_timeout" => "60s"
            }
          }
        }
      end

      def server(name)
        settings = File.join(@places.folder(name), "pgbackrest.conf")
        own = "pgbackrest --config=#{settings} --stanza=#{Parts::STANZA}"
        {
          "listen" => "127.0.0.1:#{@places.port(name)}",
          "connect_address" => "127.0.0.1:#{@places.port(name)}",
          "data_dir" => File.join(@places.folder(name), "data"),
          "bin_dir" => bin,
          "pgpass" => File.join(@places.folder(name), "pgpass"),
          "authentication" => {
            "superuser" => {
              "username" => "handrail",
              "password" => @places.secret("owner")
            },
            "replication" => {
              "username" => "handrail_replication",
              "password" => @places.secret("replication")
            }
          },
          "pg_hba" => [
            "local all all trust",
            "host all all 127.0.0.1/32 scram-sha-256",
            "host replication handrail_replication 127.0.0.1/32 scram-sha-256"
          ],
          "parameters" => {
            "unix_socket_directories" => File.join(@places.folder(name), "run"),
            "password_encryption" => "scram-sha-256",
            "archive_command" => "#{own} archive-push \"%p\""
          },
          "recovery_conf" => {
            "restore_command" => "#{own} archive-get %f \"%p\""
          }
        }
      end
    end
  end
end
