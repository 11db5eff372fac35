# frozen_string_literal: true

module Handrail
  module Instruments
    # The lines that go over the wire, and what they may say. ASCII, one line a message, at most LONGEST
    # characters: a device that sends anything else has sent nothing.
    #
    #   device: HELLO tape HT-7              once, on connecting
    #   host:   READ                          what was read last and not yet acknowledged
    #   device: VALUE 12 37.3 cm age=4 battery=80   number, value, unit, seconds since it was pressed
    #           NONE                          nothing waits
    #   host:   ACK 12                        it is kept; neither it nor one before it is sent again
    #   host:   ZERO                          (sensor) what it reads now is nothing
    #   device: OK, or ERROR words
    module Wire
      LONGEST = 120
      VALUE =
        /\AVALUE\s(?<number>\d{1,9})\s(?<value>\d{1,5}(?:\.\d{1,3})?)\s(?<unit>[A-Za-z]{1,5})
         \sage=(?<age>\d{1,6})(?:\sbattery=(?<battery>\d{1,3}))?\z/x
      HELLO = /\AHELLO (?<kind>[a-z_]{1,20}) (?<name>[A-Za-z0-9-]{1,20})\z/

      class << self
        # A Reading from a line, nil for NONE. name - of the device; now - seconds since 1970. Raises Silent for what
        # is none of both.
        def reading(line, kind, name, now: Time.now.to_i)
          return if line == "NONE"

          found = VALUE.match(line)
          known = found && KINDS.fetch(kind).units.key?(found[:unit])
          unless known
            raise Silent, "The #{kind} sent something that can not be read. Nothing was taken."
          end

          Reading[
            kind: kind,
            value: found[:value],
            unit: found[:unit],
            message: "#{name}:#{found[:number].to_i}@#{now - found[:age].to_i}",
            age: found[:age].to_i,
            battery: found[:battery]&.to_i
          ]
        end

        # The device's name from its first line. Raises Silent.
        def name(line, kind)
          found = HELLO.match(line)
          return found[:name] if found && found[:kind] == kind

          raise Silent, "What answers there is no #{kind}. Type the reading."
        end
      end
    end
  end
end
