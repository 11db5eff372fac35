# frozen_string_literal: true

require_relative "at_work"

module Handrail
  module Group
    # What breaks, while people work, in an order that a seed fixes; and what it cost: how long nothing could be written
    # or read, what was tried in vain, what of the acknowledged was lost or doubled (nothing may be), how long until two
    # nodes are in step again. Status 0 where it kept to its aims.
    class Drill
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
        raise ArgumentError, "There is no #{@only}. There are: #{STEPS.keys.join(", ")}, destroy" if @only && @only != "destroy" && !STEPS.key?(@only)
      end

      def run
        raise Handrail::Error, "The group does not run: bin/cluster start" unless nodes.in_step?

        @work = AtWork.new(@group.places.address, @group.places.url("writer", role: "owner")).begin
        puts head
        good = steps.map { |name| step(name) }
        good << destroyed unless @short || (@only && @only != "destroy")
        @work.end
        acknowledged, lost, doubled = @work.counted
        puts "#{acknowledged} acknowledged entries, #{lost} lost, #{doubled} doubled"
        good.all? && lost.zero? && doubled.zero?
      end

      private

      def nodes = @group.nodes
      def keeper = @group.keeper

      def steps
        return STEPS.keys & [@only] if @only

        own = STEPS.select { |_, (_, _, short)| short || !@short }.keys
        own.shuffle(random: Random.new(@seed))
      end

      def head
        format(
          "%-58s %9s %9s %7s %7s %6s %8s %5s",
          "what breaks",
          "no write",
          "no read",
          "writes",
          "reads",
          "kept",
          "in step",
          "aim"
        )
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

      def break_switch
        nodes.switch(nodes.other(nodes.leader))
        nil
      end

      def break_server
        Process.kill(:KILL, postmaster(nodes.leader))
        sleep 1
        nil
      end

      # it stays away for half a minute
      def break_node
        node = nodes.leader
        keeper.down(node, seconds: 0)
        kill_all(node, :KILL)
        sleep 30
        keeper.up(node)
        nil
      end

      def break_app
        [keeper.pid("app-1"), *children(keeper.pid("app-1"))].each { |pid| Process.kill(:KILL, pid) }
        sleep 2
        nil
      end

      def break_proxy
        Process.kill(:KILL, keeper.pid("proxy"))
        sleep 2
        nil
      end

      def break_pause
        node = nodes.leader
        kill_all(node, :STOP)
        sleep 40
        kill_all(node, :CONT)
        nil
      end

      def break_cut
        node = nodes.leader
        wire("disable frontend #{node}")
        wire("shutdown sessions server #{node}/etcd-1")
        Places::ETCD.each { |one| wire("shutdown sessions server #{node}/#{one}") }
        sleep 40
        wire("enable frontend #{node}")
        nil
      end

      # the standby on a disk of its own that is a little larger than it is; only root can make one
      def break_disk
        return puts("(filling a disk needs root: left out)") unless Process.uid.zero?

        node = nodes.other(nodes.leader)
        data = File.join(@group.places.root, node, "data")
        keeper.down(node, seconds: 30)
        FileUtils.mv(data, "#{data}-aside")
        FileUtils.mkdir_p(data, mode: 0o700)
        size = `du -sm #{data}-aside`.to_i + 700
        system("mount", "-t", "tmpfs", "-o", "size=#{size}m,mode=0700,uid=#{Etc.getpwnam("postgres").uid}", "tmpfs", data)
        keeper.up(node)
        120.times { nodes.in_step? ? break : sleep(0.5) }
        fill = File.join(data, "fill")
        system("dd", "if=/dev/zero", "of=#{fill}", "bs=1M", %i[out err] => File::NULL)
        sleep 20
        FileUtils.rm_f(fill)
        -> { off_small_disk(node, data) }
      end

      def off_small_disk(node, data)
        keeper.down(node, seconds: 30)
        system("umount", data)
        FileUtils.rm_rf(data)
        FileUtils.mv("#{data}-aside", data)
        keeper.up(node)
        240.times { nodes.in_step? ? break : sleep(0.5) }
      end

      def break_roll
        quiet { @group.roll }
        nil
      end

      def break_all
        ["front", *Places::APPS, "proxy", *Places::ETCD, nodes.other(nodes.leader), nodes.leader].each do |part|
          keeper.again(part)
          sleep 1
        end
        nil
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
        Sequel.connect(@group.places.node_url(nodes.leader), max_connections: 1) { |db| db.get(Sequel.function(:pg_switch_wal)) }
        sleep 3
        from = @work.now
        Places::NODES.each do |node|
          keeper.down(node, seconds: 0)
          kill_all(node, :KILL)
          FileUtils.rm_rf(File.join(@group.places.root, node, "data"))
        end
        quiet { @group.restore("--to", moment.iso8601(6)) }
        after = @work.count_until(moment + 3600)
        puts format("both nodes destroyed, brought back to %s in %.0f s: %d notes then, %d now", moment.strftime("%T.%3N"), @work.now - from, before, after)
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

      def postmaster(node) =
        File.read(File.join(@group.places.root, node, "data", "postmaster.pid")).to_i

      # Patroni and every process of its server
      def kill_all(node, signal)
        own = [keeper.pid(node)].compact
        begin
          server = postmaster(node)
          own += [server, *children(server)]
        rescue Errno::ENOENT
          nil
        end
        own.each do |pid|
          Process.kill(signal, pid)
        rescue Errno::ESRCH
          nil
        end
      end

      def children(pid)
        below = Dir["/proc/#{pid}/task/*/children"].flat_map { |path| File.read(path).split.map(&:to_i) }
        below + below.flat_map { |one| children(one) }
      rescue Errno::ENOENT
        []
      end

      def wire(command)
        UNIXSocket.open(File.join(@group.places.root, "wire", "admin.sock")) do |socket|
          socket.puts(command)
          socket.read
        end
      end
    end
  end
end
