# frozen_string_literal: true

require_relative "at_work"
require_relative "breaks"

module Handrail
  module Group
    # What breaks, while people work, in an order that a seed fixes; and what it cost: how long nothing could be written
    # or read, what was tried in vain, what of the acknowledged was lost or doubled (nothing may be), how long until two
    # nodes are in step again. Status 0 where it kept to its aims.
    class Drill
      include Breaks

      # name => [what, aim: the most seconds without a write, whether it belongs to the short form]
      STEPS = {
        "switch" => ["the other node writes, as planned", 6, true],
        "server" => ["kill -9 the server process that writes", 12, true],
        "node" => ["kill -9 the node that writes, whole", 25, true],
        "app" => ["kill -9 a server of Handrail", 6, true],
        "proxy" => ["kill -9 HAProxy", 6, true],
        "pause" => ["stop the node that writes for 40 s (SIGSTOP)", 45, false],
        "cut" => ["cut the node that writes off from etcd for 40 s", 45, false],
        "disk" => ["fill the disk of the standby", 25, false],
        "roll" => ["another state of the program, one server after the other", 6, false],
        "all" => ["restart all of it, part by part", 40, false]
      }.freeze
      # seconds: before and after each, and until two nodes have to be in step again
      CALM = 3
      # the status where something acknowledged was lost or doubled; 1 where an aim was missed
      LOST = 4
      IN_STEP = 180

      def initialize(command, words)
        @group = command
        @seed = 1
        OptionParser
          .new do |o|
            o.on("--short") { @short = true }
            o.on("--seed N", Integer) { |n| @seed = n }
            o.on("--only NAME") { |name| @only = name }
          end
          .parse!(words)
        if @only && @only != "destroy" && !STEPS.key?(@only)
          raise ArgumentError, "There is no #{@only}. There are: #{STEPS.keys.join(", ")}, destroy"
        end
      end

      def run
        wait_in_step
        @work = AtWork.new(@group.places.address, @group.places.url("writer", role: "owner")).begin
        puts head
        good = steps.map { |name| step(name) }
        good << destroyed unless @short || (@only && @only != "destroy")
        @work.end
        acknowledged, lost, doubled = @work.counted
        puts "#{acknowledged} acknowledged entries, #{lost} lost, #{doubled} doubled"
        return LOST unless lost.zero? && doubled.zero?

        good.all? ? 0 : 1
      end

      private

      # what was written last is still on its way to the second node, now and then
      def wait_in_step
        60.times { nodes.in_step? ? return : sleep(0.5) }
        raise Handrail::Error, "The group does not run: bin/cluster start"
      end

      def nodes = @group.nodes
      def keeper = @group.keeper

      def steps
        return STEPS.keys & [@only] if @only

        own = STEPS.select { |_, (_, _, short)| short || !@short }.keys
        own.shuffle(random: Random.new(@seed))
      end

      def head
        "#{"what breaks".ljust(60)} no write   no read  writes   reads   kept  in step   aim"
      end

      def step(name)
        what, aim, = STEPS.fetch(name)
        sleep CALM
        from = @work.now
        after = send(:"break_#{name}")
        mended = @work.now
        # in step, and writing again
        until nodes.in_step? && @work.wrote_since?(mended)
          break if @work.now - mended > IN_STEP

          sleep 0.3
        end
        again = @work.now - mended
        sleep CALM
        after&.call
        told(what, from, @work.now, again, aim)
      end

      def told(what, from, to, again, aim)
        seen = @work.seen(from, to)
        good = seen.quiet <= aim && again < IN_STEP
        puts format(
               "%-58s %7.1f s %7.1f s %7d %7d %6d %6.1f s %5s",
               what,
               seen.quiet,
               seen.unread,
               seen.failed,
               seen.unanswered,
               seen.acknowledged,
               again,
               good ? "kept" : "#{aim} s"
             )
        $stdout.flush
        good
      end

      # Both nodes and their folders are gone: brought back to the second from backups and archive.
      def destroyed
        quiet { @group.backup }
        sleep 5
        moment = Time.now.utc
        before = @work.count_until(moment)
        sleep 2
        @work.end
        # what was written until then is in the archive once the piece of the log is full, or a minute old
        Sequel.connect(@group.places.node_url(nodes.leader), max_connections: 1) do |db|
          db.get(Sequel.function(:pg_switch_wal))
        end
        sleep 3
        from = @work.now
        Places::NODES.each do |node|
          keeper.down(node, seconds: 0)
          kill_all(node, :KILL)
          FileUtils.rm_rf(File.join(@group.places.root, node, "data"))
        end
        quiet { @group.restore("--to", moment.iso8601(6)) }
        after = @work.count_until(moment + 3600)
        puts format(
               "both nodes destroyed, brought back to %s in %.0f s: %d notes then, %d now",
               moment.strftime("%T.%3N"),
               @work.now - from,
               before,
               after
             )
        @work.forget_after(moment)
        before == after
      end

      def quiet
        said = $stdout
        $stdout = StringIO.new
        yield
      ensure
        $stdout = said
      end
    end
  end
end
