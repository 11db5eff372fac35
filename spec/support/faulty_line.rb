# frozen_string_literal: true

require "socket"

# A line between a browser and the server that fails as lines do. It stands before the server under a port of
# its own; what it does is set, and holds for every request that comes from then on:
#
#   line = FaultyLine.new(port)
#   line.is(:down)                      # nothing gets through, as where a cable is pulled
#   line.is(:drops_answers, only: /readings/)
#   line.is(:good)
#
#   down           no connection
#   drops_requests the connection is made; the request is read and thrown away
#   drops_answers  the server does what was asked; its answer is thrown away
#   cuts           the answer ends in its middle
#   delays         each answer comes after `seconds`
#   hangs          nothing comes back, nor is the connection closed
#   foreign        another program answers in the server's place, with a page of its own
class FaultyLine
  FOREIGN =
    "HTTP/1.1 200 OK\r\ncontent-type: text/html\r\ncontent-length: 53\r\nconnection: close\r\n\r\n" \
      "<html><main><p>Welcome to the hotel</p></main></html>".b.freeze

  attr_reader :port, :how

  def initialize(to)
    @to = to
    @how = :good
    @only = //
    @seconds = 0
    @server = TCPServer.new("127.0.0.1", 0)
    @port = @server.addr[1]
    @thread = Thread.new { loop { Thread.new(@server.accept) { |client| carry(client) } } }
    @thread.report_on_exception = false
  end

  def url = "http://127.0.0.1:#{port}"

  # only - paths that it holds for; others get through
  def is(how, only: //, seconds: 1)
    @only = only
    @seconds = seconds
    @how = how
  end

  def close
    @thread.kill
    @server.close
  end

  private

  def carry(client)
    head = read_head(client) or return
    body = client.read(head[/^content-length: (\d+)/i, 1].to_i)
    how = head.lines.first.to_s.match?(@only) ? @how : :good
    return if %i[down drops_requests].include?(how)
    return client.write(FOREIGN) if how == :foreign
    return sleep(30) if how == :hangs

    pass(
      client,
      "#{head.sub(/^connection: .*\r\n/i, "").chomp("\r\n")}connection: close\r\n\r\n#{body}",
      how
    )
  rescue SystemCallError, IOError
    nil
  ensure
    client.close unless client.closed?
  end

  def read_head(client)
    head = +""
    head << client.readpartial(16_384) until head.include?("\r\n\r\n")
    at = head.index("\r\n\r\n") + 4
    client.ungetbyte(head.byteslice(at..))
    head.byteslice(0, at)
  rescue EOFError
    nil
  end

  def pass(client, request, how)
    server = TCPSocket.new("127.0.0.1", @to)
    server.write(request)
    return server.read(1) && nil if how == :drops_answers

    sleep(@seconds) if how == :delays
    if how == :cuts
      whole = server.read
      client.write(whole.byteslice(0, whole.bytesize / 2))
    else
      IO.copy_stream(server, client)
    end
  ensure
    server&.close
  end
end

# The browser reaches the server over `line`.
RSpec.shared_context "with a faulty line" do
  let(:line) { FaultyLine.new(page.server.port) }

  around do |example|
    Capybara.app_host = line.url
    example.run
  ensure
    Capybara.app_host = nil
    line.close
  end
end
