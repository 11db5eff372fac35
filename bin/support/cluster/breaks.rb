# frozen_string_literal: true

require "etc"
require "fileutils"
require "socket"

module Handrail
  module Group
    # The ways in which a Drill breaks a group, one a method. Each returns what is to be done once it was counted, or
    # nil.
    module Breaks
      private

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
        [keeper.pid("app-1"), *children(keeper.pid("app-1"))].each do |pid|
          Process.kill(:KILL, pid)
        end
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
        system(
          "mount",
          "-t",
          "tmpfs",
          "-o",
          "size=#{size}m,mode=0700,uid=#{Etc.getpwnam("postgres").uid}",
          "tmpfs",
          data
        )
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
        [
          "front",
          *Places::APPS,
          "proxy",
          *Places::ETCD,
          nodes.other(nodes.leader),
          nodes.leader
        ].each do |part|
          keeper.again(part)
          # the one that is left answers until this one is ready
          quiet do
            @group.step(part, 90) { -> { !Places::APPS.include?(part) || @group.ready?(part) } }
          end
          sleep 1
        end
        nil
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
        below =
          Dir["/proc/#{pid}/task/*/children"].flat_map { |path| File.read(path).split.map(&:to_i) }
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
