# frozen_string_literal: true

module Handrail
  module Instruments
    # What devices sent lately, by their names: by it a device is noticed that counts from the beginning again, and one
    # whose clock is off. It belongs to one process and forgets; that nothing is taken twice is held where it is kept
    # (Store::Commands::FromDevice).
    #
    #   presses = Presses.new
    #   presses.seen("HT-7", 12, 1_796_027_263) # => :new
    #   presses.seen("HT-7", 12, 1_796_027_264) # => :again, the same press
    #   presses.seen("HT-7", 1, 1_796_027_300)  # => :restarted, or a second device of that name
    #   presses.seen("HT-7", 1, 1_796_027_390)  # => :clock_off, one press at two moments
    class Presses
      # how far two tellings of one press may lie apart, in seconds: an age is whole seconds, and a page takes a moment
      NEAR = 5
      MOST = 200

      def initialize
        @lock = Mutex.new
        @last = {}
      end

      # name - of the device; number - of its message; moment - when its button was pressed, in seconds since 1970
      def seen(name, number, moment)
        @lock.synchronize do
          before = @last.delete(name)
          @last.shift if @last.size >= MOST
          @last[name] = [number, moment]
          told(before, number, moment)
        end
      end

      # Forgets them all.
      def clear = @lock.synchronize { @last.clear }

      private

      def told(before, number, moment)
        return :new if before.nil? || number > before.first
        return moment > before.last + NEAR ? :restarted : :new if number < before.first

        (moment - before.last).abs <= NEAR ? :again : :clock_off
      end
    end
  end
end
