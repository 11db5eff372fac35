# frozen_string_literal: true

require "puma"
require "puma/server"
require "socket"

# The program in a process of its own, made from this one in a moment: it can be killed in the middle of
# whatever it does, and started again at the same address.
#
#   server = ServerToKill.new
#   server.port
#   server.kill      # kill -9
#   server.start     # does nothing where it stands
class ServerToKill
  attr_reader :port

  def initialize
    @port = TCPServer.open("127.0.0.1", 0) { |free| free.addr[1] }
  end

  def start
    return if @pid

    # a connection belongs to one process
    Handrail::Store.db.disconnect
    @pid = fork { serve }
    400.times { up? ? break : sleep(0.02) }
  end

  def kill
    return unless @pid

    Process.kill(:KILL, @pid)
    Process.wait(@pid)
    @pid = nil
  end

  private

  def serve
    server = Puma::Server.new(Handrail::Web.app, nil, min_threads: 1, max_threads: 4)
    server.add_tcp_listener("127.0.0.1", port)
    server.run.join
  ensure
    exit!
  end

  def up?
    TCPSocket.new("127.0.0.1", port).close
    true
  rescue SystemCallError
    false
  end
end
