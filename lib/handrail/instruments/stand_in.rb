# frozen_string_literal: true

require "socket"

module Handrail
  module Instruments
    # A device that is not there: it speaks the wire as a real one would, with noise, a battery that
    # runs down, drop-outs and nonsense on demand. Beside the wire's own lines it knows:
    #
    #   PRESS 373.4        its button is pressed on a true value, in mm or mmHg
    #   UNIT in            what it sends from now on (tape)
    #   BATTERY 8          percent
    #   DROP 2             the next two connections are dropped
    #   GARBLE 1           the next answer is nonsense
    #   LATE 90            the next press was so many seconds ago
    #   REPEAT             sends the last message once more, under its old number
    class StandIn
      attr_reader :port

      # kind - a key of KINDS; port - 0 for any that is free; seed - of the noise
      def initialize(kind, port: 0, seed: Random.new_seed, name: nil)
        @kind = kind
        @units = KINDS.fetch(kind).units
        @behaves = KINDS.fetch(kind).stand_in
        @name = name || @behaves["name"]
        @server = TCPServer.new("127.0.0.1", port)
        @port = @server.addr[1]
        @random = Random.new(seed)
        @unit = @behaves["unit"]
        @battery = 90
        @waiting = []
        @number = 0
        @offset = 0.0
        @drop = @garble = @late = 0
        @lock = Mutex.new
      end

      # Serves until it is stopped.
      def run
        loop { Thread.new(@server.accept) { |socket| serve(socket) } }
      rescue IOError, Errno::EBADF
        nil
      end

      def start = tap { @thread = Thread.new { run } }

      def stop
        @server.close
        @thread&.join(1)
      end

      private

      def serve(socket)
        return if @lock.synchronize { (@drop -= 1) >= 0 }

        socket.write("HELLO #{@kind} #{@name}\n")
        while (line = socket.gets)
          answer = @lock.synchronize { answered(line.chomp) }
          socket.write("#{answer}\n")
        end
      rescue SystemCallError, IOError
        nil
      ensure
        socket.close
      end

      # the order to talk nonsense is itself answered in plain words
      def answered(line)
        garbling = @garble.positive?
        answer = heard(line)
        garbling ? garbled(answer) : answer
      end

      def garbled(answer)
        @garble -= 1
        "V\xFF\x00LUE ~~ #{answer.reverse}".b
      end

      # what a line asks for: word => method, with what stands behind it
      HEARD = {
        "READ" => :message,
        "ACK" => :acknowledged,
        "ZERO" => :zeroed,
        "PRESS" => :pressed,
        "REPEAT" => :repeated,
        "UNIT" => :unit_set,
        "BATTERY" => :battery_set,
        "DROP" => :dropping,
        "GARBLE" => :garbling,
        "LATE" => :lateness_set
      }.freeze
      private_constant :HEARD

      def heard(line)
        word, value = line.split(" ", 2)
        HEARD.key?(word) ? send(HEARD[word], *value) : "ERROR unknown"
      rescue ArgumentError, TypeError
        "ERROR value"
      end

      def unit_set(unit) = (@unit = unit) && "OK"
      def battery_set(percent) = (@battery = Integer(percent)) && "OK"
      def dropping(times) = (@drop = Integer(times)) && "OK"
      def garbling(times) = (@garble = Integer(times)) && "OK"

      def lateness_set(seconds) = (@late = Integer(seconds)) && "OK"
      def now = Process.clock_gettime(Process::CLOCK_MONOTONIC)

      def message
        number, value, at = @waiting.last
        number ? "VALUE #{number} #{value} age=#{(now - at).floor} battery=#{@battery}" : "NONE"
      end

      def acknowledged(number)
        @waiting.reject! { |own, _| own <= number.to_i }
        "OK"
      end

      def zeroed
        return "ERROR a #{@kind} has no zero" unless KINDS.fetch(@kind).zeroed

        @offset = 0.0
        "OK"
      end

      def pressed(text)
        truth = Float(text)
        return "ERROR battery empty" if @battery <= 0

        @number += 1
        @offset += @behaves["drift"]
        @last = [@number, written(truth + noise + @offset), now - @late]
        @late = 0
        @waiting << @last
        "OK"
      end

      def repeated
        @waiting << @last if @last
        "OK"
      end

      # the sum of twelve uniform numbers less six is near to normal
      def noise = @behaves["noise"] * (Array.new(12) { @random.rand }.sum - 6)

      def written(truth)
        decimals = @behaves.dig("decimals", @unit) || 1
        "#{format("%.#{decimals}f", [truth.to_f / @units.fetch(@unit, 1), 0].max)} #{@unit}"
      end
    end
  end
end
