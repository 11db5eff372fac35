# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A value that a device sent: its source and the number of its message, of which each is taken
      # once in a clinic. A device that was restarted counts from one again: a message of the same number is another
      # one where its button was pressed at another moment. Shared by readings and checks.
      module FromDevice
        # name and number, and the second in which the button was pressed (Instruments::Reading)
        MESSAGE = /\A(?<own>[A-Za-z0-9-]{1,20}:\d{1,9})(?:@(?<pressed>\d{9,11}))?\z/
        # how far two tellings of one press may lie apart, in seconds: a device says its age in whole ones
        NEAR = 5

        def self.included(base)
          base.class_eval do
            input :source, :one_of, of: ["typed", *Instruments::KINDS.keys], default: "typed"
            input :device_message, :line, most: 60, from: "message"
            input :sent_text, :line, most: 60, from: "sent"
          end
        end

        # What to say where another entry took the same message in the same moment.
        def doubled(_error = nil)
          Unacceptable.new("value", t(:one_taken_already_press, source: source))
        end

        private

        # the columns; raises Unacceptable for a message that was taken already
        def sent(visit, table)
          # another figure was typed over what was sent: then it is typed
          return {} unless from_device?

          found = MESSAGE.match(device_message) or unacceptable("value", t(:no_message_device_type))
          raise doubled if taken?(visit, table, found[:own], found[:pressed]&.to_i)

          { source: source, message: device_message }
        end

        # whether this very press is kept already: two that take it at once wait for one another
        def taken?(visit, table, own, pressed)
          Store.db.get(
            Sequel.lit("pg_advisory_xact_lock(hashtext(?))", "#{visit.clinic.id}:#{own}")
          )
          like = Sequel.|({ message: own }, Sequel.like(:message, "#{own}@%"))
          before = Store.db[table].where(clinic_id: visit.clinic.id).where(like)
          before
            .select_map(%i[message at])
            .any? do |message, at|
              told = MESSAGE.match(message)&.[](:pressed)&.to_i
              told && pressed ? (told - pressed).abs <= NEAR : pressed.nil? || pressed <= at.to_i
            end
        end

        def from_device? = source != "typed" && !device_message.nil? && value == sent_text
        def sent_said = from_device? ? t(:from_the, source: source) : ""
      end
    end
  end
end
