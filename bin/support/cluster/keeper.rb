# frozen_string_literal: true

require "fileutils"
require "open3"

module Handrail
  module Group
    # Keeps the parts running by runit (runsvdir), which starts a part again a second after it ended, and writes what it
    # prints into its folder, logs/current.
    #
    #   keeper.begin(lines)
    #   keeper.up("proxy")
    #   keeper.down("proxy")     # stays down until it is told to come up
    class Keeper
      def initialize(places)
        @places = places
        @service = File.join(places.root, "service")
      end

      # lines - part => what runs it. Every part is down until it is told to come up.
      def begin(lines)
        FileUtils.mkdir_p(@service)
        lines.each { |part, line| install(part, line) }
        return if running?

        FileUtils.rm_rf(Dir[File.join(@service, "*", "**", "supervise")])
        pid = spawn("runsvdir", "-P", @service, %i[in out err] => File::NULL, :pgroup => true)
        Process.detach(pid)
        File.write(pid_file, pid)
        wait_for_runsv(lines.keys)
      end

      def running?
        pid = File.read(pid_file).to_i
        File.read("/proc/#{pid}/cmdline").start_with?("runsvdir")
      rescue Errno::ENOENT
        false
      end

      def up(*parts) = parts.each { |part| sv("up", part) }
      # seconds - how long it may take to end by itself
      def down(*parts, seconds: 30) =
        parts.each { |part| sv("-w", seconds.to_s, "force-stop", part) }
      def again(part) = sv("-w", "40", "restart", part)

      # The process of a part, or nil.
      def pid(part)
        pid = File.read(File.join(@service, part, "supervise", "pid")).to_i
        pid if pid.positive?
      rescue Errno::ENOENT
        nil
      end

      # How long (seconds) a part runs already, nil where it is down.
      def age(part)
        found, = Open3.capture2e("sv", "status", path(part))
        found[/\Arun: .*?\) (\d+)s/, 1]&.to_i
      end

      # Ends everything.
      def end
        Process.kill(:HUP, File.read(pid_file).to_i)
        FileUtils.rm_f(pid_file)
      rescue Errno::ENOENT, Errno::ESRCH
        nil
      end

      private

      def pid_file = File.join(@places.root, "runsvdir.pid")
      def path(part) = File.join(@service, part)
      def sv(*words) = Open3.capture2e("sv", *words[0..-2], path(words.last))

      def install(part, line)
        who = @places.account(part)
        as = who ? "chpst -u #{who} " : ""
        logs = @places.folder(part, "logs")
        script("#{part}/run", "cd #{@places.folder(part)} && exec 2>&1 #{as}#{line}")
        script("#{part}/log/run", "exec #{as}svlogd -tt #{logs}")
        FileUtils.touch(File.join(path(part), "down"))
      end

      def script(name, line)
        file = File.join(@service, name)
        FileUtils.mkdir_p(File.dirname(file))
        # secrets stand in it
        File.write(file, "#!/bin/sh\n#{line}\n", perm: 0o700)
        File.chmod(0o700, file)
      end

      def wait_for_runsv(parts)
        100.times do
          break if parts.all? { |part| File.exist?(File.join(path(part), "supervise", "ok")) }

          sleep 0.1
        end
      end
    end
  end
end
