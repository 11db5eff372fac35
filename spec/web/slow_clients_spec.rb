# frozen_string_literal: true

require "web_helper"
require "puma"
require "puma/server"
require "socket"

# Clients that ask for pages and never read them hold nobody else up.
RSpec.describe "Clients that never read" do
  page = "x" * 8_000_000

  def serve(app)
    server = Puma::Server.new(app, nil, min_threads: 1, max_threads: 16)
    port = server.add_tcp_listener("127.0.0.1", 0).addr[1]
    server.run
    yield port
  ensure
    server&.stop(true)
  end

  # a client that asks and never reads, with as little room of its own as there can be
  def ask_and_leave(port)
    socket = Socket.new(:INET, :STREAM)
    socket.setsockopt(Socket::SOL_SOCKET, Socket::SO_RCVBUF, 1024)
    socket.connect(Addrinfo.tcp("127.0.0.1", port))
    socket.write("GET / HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n")
    socket
  end

  def seconds
    started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    yield
    Process.clock_gettime(Process::CLOCK_MONOTONIC) - started
  end

  def first_answer(port)
    seconds do
      socket = TCPSocket.new("127.0.0.1", port)
      socket.write("GET / HTTP/1.1\r\nHost: x\r\nConnection: close\r\n\r\n")
      expect(socket.gets).to start_with "HTTP/1.1 200"
      socket.close
    end
  end

  around do |example|
    before = Puma::Const::WRITE_TIMEOUT
    Handrail::Web::Patience.set(1)
    example.run
    Handrail::Web::Patience.set(before)
  end

  it "hold a thread for a moment only: the next reader is answered soon" do
    app = ->(_env) { [200, { "content-type" => "text/plain" }, [page]] }
    serve(app) do |port|
      left = Array.new(30) { ask_and_leave(port) }
      sleep 0.3
      expect(first_answer(port)).to be < 5
      left.each(&:close)
    end
  end
end
