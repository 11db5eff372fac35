# frozen_string_literal: true

module Handrail
  module Group
    # How a group comes back from its backups. Part of Command.
    module Restoring
      def restore(*words)
        to = nil
        OptionParser.new { |o| o.on("--to TIME") { |text| to = text } }.parse!(words)
        unless to
          raise ArgumentError,
                "Say to when: bin/cluster restore --to \"2026-11-30 12:00:00+00\", or --to latest"
        end

        time = to == "latest" ? nil : Time.parse(to)
        quiet_down
        puts "Restoring #{time ? "to #{time.utc.strftime("%F %T.%3N UTC")}" : "all that was archived"}"
        backups.bring_back(time)
        both_nodes_again
        keeper.up("proxy")
        step("the database", 60) { -> { database? } }
        # a backup of the time that begins now
        backups.make("full")
        serve
        puts "Restored in #{seconds} s. What lay in the nodes before is kept in #{places.root}/pg-*/data-before."
      end

      private

      # nothing but etcd is left
      def quiet_down
        keeper.begin(parts.lines)
        finish_log
        keeper.down("front", *Places::APPS, "proxy")
        keeper.down(*Places::NODES, seconds: 60)
        keeper.up(*Places::ETCD, "wire")
        step("etcd", 60) { -> { etcd? } }
      end

      def both_nodes_again
        step("the node that writes", 120) do
          keeper.up("pg-1")
          -> { nodes.leader == "pg-1" }
        end
        step("the second node, made anew from it", 300) do
          keeper.up("pg-2")
          -> { nodes.in_step? }
        end
      end

      # what was written last goes into the archive before the nodes stop, where one of them still writes
      def finish_log
        leader = nodes.leader or return
        Sequel.connect(places.node_url(leader), max_connections: 1) do |db|
          db.get(Sequel.function(:pg_switch_wal))
        end
        sleep 2
      rescue Sequel::Error
        nil
      end

      def etcd? = Places::ETCD.count { |one| answers?(one, "/health") } >= 2
    end
  end
end
