# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A value that a device sent: its source and the number of its message, of which each is taken
      # once in a clinic. Shared by readings and checks.
      module FromDevice
        MESSAGE = /\A[A-Za-z0-9-]{1,20}:\d{1,9}\z/

        def self.included(base)
          base.class_eval do
            input :source, :one_of, of: %w[typed tape sensor], default: "typed"
            input :device_message, :line, most: 60, from: "message"
            input :sent_text, :line, most: 60, from: "sent"
          end
        end

        # What to say where another entry took the same message in the same moment.
        def doubled(_error = nil)
          Unacceptable.new(
            "value",
            "That one was taken already. Press the button of the #{source} again."
          )
        end

        private

        # the columns; raises Unacceptable for a message that was taken already
        def sent(visit, table)
          # another figure was typed over what was sent: then it is typed
          return {} unless from_device?

          unless MESSAGE.match?(device_message)
            unacceptable("value", "That is no message of a device. Type the reading.")
          end
          taken = Store.db[table].where(clinic_id: visit.clinic.id, message: device_message)
          raise doubled if taken.any?

          { source: source, message: device_message }
        end

        def from_device? = source != "typed" && !device_message.nil? && value == sent_text
        def sent_said = from_device? ? ", from the #{source}" : ""
      end
    end
  end
end
