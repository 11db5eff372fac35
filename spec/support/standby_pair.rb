# frozen_string_literal: true

require "fileutils"
require "open3"
require "socket"
require "tmpdir"

# A PostgreSQL server of its own with a standby that follows it, made in seconds, for what can only be seen on two.
#
#   pair = StandbyPair.new.start
#   pair.writer_url, pair.reader_url    # of the database "handrail"
#   pair.hold                           # the standby takes in nothing more
#   pair.go_on
#   pair.kill_writer                    # kill -9
#   pair.door_url                       # leads to whoever writes, as HAProxy does in a group
#   pair.promote                        # the standby writes from now on, and the door leads there
#   pair.stop
class StandbyPair
  NAMES = %w[writer reader].freeze

  def initialize
    @bin = Dir["/usr/lib/postgresql/*/bin"].max
    @folder = Dir.mktmpdir("handrail-pair")
    FileUtils.chmod(0o755, @folder)
    @ports = NAMES.to_h { |name| [name, TCPServer.open("127.0.0.1", 0) { |free| free.addr[1] }] }
  end

  def start
    NAMES.each { |name| own(path(name)) }
    run(
      "initdb",
      "-D",
      path("writer"),
      "-U",
      "handrail",
      "-A",
      "trust",
      "-E",
      "UTF8",
      "--locale=C.UTF-8",
      "-N"
    )
    up("writer")
    sql("writer", "CREATE DATABASE handrail", "postgres")
    run(
      "pg_basebackup",
      "-h",
      "127.0.0.1",
      "-p",
      @ports["writer"].to_s,
      "-U",
      "handrail",
      "-D",
      path("reader"),
      "-R",
      "-c",
      "fast"
    )
    up("reader")
    self
  end

  def writer_url = url("writer")
  def reader_url = url("reader")
  def hold = sql("reader", "SELECT pg_wal_replay_pause()")
  def go_on = sql("reader", "SELECT pg_wal_replay_resume()")
  def kill_writer = NAMES.first(1).each { |name| kill(name) }

  def door_url
    @door ||= TCPServer.new("127.0.0.1", 0)
    @leads ||= @ports["writer"]
    @doorkeeper ||= Thread.new { loop { let_in(@door.accept) } }
    "postgres://handrail@127.0.0.1:#{@door.addr[1]}/handrail"
  end

  def promote
    run("pg_ctl", "-D", path("reader"), "-w", "promote")
    @leads = @ports["reader"]
  end

  def stop
    @doorkeeper&.kill
    @door&.close
    NAMES.each { |name| kill(name) }
    FileUtils.rm_rf(@folder)
  end

  private

  # what comes in goes through, both ways, until one side ends
  def let_in(from)
    to = TCPSocket.new("127.0.0.1", @leads)
    [[from, to], [to, from]].each do |one, other|
      Thread.new do
        IO.copy_stream(one, other)
      rescue IOError, SystemCallError
        nil
      ensure
        [one, other].each(&:close)
      end
    end
  rescue SystemCallError
    from.close
  end

  def url(name) = "postgres://handrail@127.0.0.1:#{@ports[name]}/handrail"
  def path(name) = File.join(@folder, name)

  def own(path)
    FileUtils.mkdir_p(path, mode: 0o700)
    FileUtils.chown("postgres", nil, path) if Process.uid.zero?
  end

  def up(name)
    how =
      "-p #{@ports[name]} -c listen_addresses=127.0.0.1 -c unix_socket_directories='' -c fsync=off"
    log = File.join(path(name), "log")
    run("pg_ctl", "-D", path(name), "-w", "-t", "60", "-l", log, "-o", how, "start")
  end

  def kill(name)
    pid = File.read(File.join(path(name), "postmaster.pid")).to_i
    Process.kill(:KILL, pid)
  rescue Errno::ENOENT, Errno::ESRCH
    nil
  end

  def sql(name, text, database = "handrail")
    run(
      "psql",
      "-h",
      "127.0.0.1",
      "-p",
      @ports[name].to_s,
      "-U",
      "handrail",
      "-d",
      database,
      "-qAtc",
      text
    )
  end

  def run(command, *arguments)
    whole = [File.join(@bin, command), *arguments]
    whole = ["runuser", "-u", "postgres", "--", *whole] if Process.uid.zero?
    said, status = Open3.capture2e(*whole, chdir: "/")
    raise "#{command}: #{said}" unless status.success?

    said
  end
end
