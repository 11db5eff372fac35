# frozen_string_literal: true

require "socket"

module Handrail
  module Instruments
    # Our end of the wire. Every call is a connection of its own, with a deadline: a device that is
    # lost, slow or talks nonsense never holds the page up.
    class Client
      # seconds until a device counts as lost
      PATIENCE = 1.5

      def initialize(kind, host, port, presses: Presses.new)
        @presses = presses
        @kind = kind
        @host = host
        @port = port
      end

      # The newest Reading that was not acknowledged yet. within - how many seconds old it may be: what
      # was pressed before the page that asks was opened may be another wearer's. Raises Silent where
      # there is none.
      def newest(within: nil)
        reading =
          talk do |socket, name|
            say(socket, "READ")
            Wire.reading(line(socket), @kind, name)
          end
        raise Silent, none unless reading
        raise Silent, too_old(reading) unless within.nil? || reading.age <= within

        told = @presses.seen(*reading.press)
        raise Silent, clock_off if told == :clock_off

        reading.with(restarted: told == :restarted)
      end

      # Tells the device that a message is kept; one that is lost by now is told nothing.
      def acknowledge(message)
        talk do |socket, _|
          say(socket, "ACK #{message[/:(\d+)/, 1]}")
          line(socket)
        end
      rescue Silent
        nil
      end

      # What the sensor reads now is nothing from here on. Raises Silent.
      def zero
        talk do |socket, _|
          say(socket, "ZERO")
          answer = line(socket)
          raise Silent, "The sensor could not be zeroed: #{answer[0, 60]}" unless answer == "OK"
        end
      end

      # A line that only the stand-ins know; returns their answer. Raises Silent.
      def command(text)
        talk do |socket, _|
          say(socket, text)
          line(socket)
        end
      end

      private

      def none = "Nothing was sent from the #{@kind} yet. Press its button, then ask again."

      def clock_off =
        "The #{@kind} says of one press two different moments: its clock is off, or it was switched off between. " \
          "Nothing was taken. Read again, press its button, then ask again."

      def too_old(reading)
        "What waits in the #{@kind} (#{reading.value} #{reading.unit}) was read before this page was " \
          "opened. Read again, press its button, then ask again."
      end

      def talk
        @until = Process.clock_gettime(Process::CLOCK_MONOTONIC) + PATIENCE
        @heard = "".b
        socket = Socket.tcp(@host, @port, connect_timeout: PATIENCE)
        yield socket, Wire.name(line(socket), @kind)
      rescue SystemCallError, IOError, SocketError
        raise Silent, lost
      ensure
        socket&.close
      end

      def say(socket, text) = socket.write("#{text}\n")

      # one line, never longer than a message may be and never later than the deadline; what came
      # with it waits for the next
      def line(socket)
        until @heard.include?("\n") || @heard.bytesize > Wire::LONGEST
          left = @until - Process.clock_gettime(Process::CLOCK_MONOTONIC)
          raise Silent, lost unless left.positive? && socket.wait_readable(left)

          @heard << socket.read_nonblock(512)
        end
        text, rest = @heard.split("\n", 2)
        @heard = rest.to_s
        if text.ascii_only? && text.bytesize <= Wire::LONGEST
          return text.force_encoding(Encoding::UTF_8)
        end

        raise Silent, "The #{@kind} sent something that can not be read. Nothing was taken."
      end

      def lost = "The #{@kind} does not answer. Type the reading; nothing is lost."
    end
  end
end
