# frozen_string_literal: true

module Handrail
  module Instruments
    # What devices sent lately, by their names: by it a device is noticed that counts from the beginning again, and one
    # whose clock is off. That nothing is taken twice is held where it is kept (Store::Commands::FromDevice).
    #
    #   presses = Presses.new
    #   presses.seen("HT-7", 12, 1_796_027_263) # => :new
    #   presses.seen("HT-7", 12, 1_796_027_264) # => :again, the same press
    #   presses.seen("HT-7", 1, 1_796_027_300)  # => :restarted, or a second device of that name
    #   presses.seen("HT-7", 1, 1_796_027_390)  # => :clock_off, one press at two moments
    class Presses
      # how far two tellings of one press may lie apart, in seconds: an age is whole seconds, and a page takes a moment
      NEAR = 5

      # kept - what remembers them, with `swap(name, [number, moment])`, which returns what was there; this process
      # alone where nothing else is given (the server's keep them together, see Store::DevicePresses).
      def initialize(kept = Remembered.new)
        @kept = kept
      end

      # name - of the device; number - of its message; moment - when its button was pressed, in seconds since 1970
      def seen(name, number, moment)
        told(@kept.swap(name, [number, moment]), number, moment)
      end

      # The last of each, in this process.
      class Remembered
        MOST = 200

        def initialize
          @lock = Mutex.new
          @last = {}
        end

        def swap(name, told)
          @lock.synchronize do
            before = @last.delete(name)
            @last.shift if @last.size >= MOST
            @last[name] = told
            before
          end
        end
      end

      private

      def told(before, number, moment)
        return :new if before.nil? || number > before.first
        return moment > before.last + NEAR ? :restarted : :new if number < before.first

        (moment - before.last).abs <= NEAR ? :again : :clock_off
      end
    end
  end
end
