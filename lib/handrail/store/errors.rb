# frozen_string_literal: true

module Handrail
  module Store
    # Something that was sent is not kept. Every kind is told in the same way on every page: what
    # happened, what was kept, what to do next. visit - the Handrail::Visit as it stood under the
    # lock, where there is one.
    class NotKept < Handrail::Error
      attr_accessor :visit
    end

    # Someone else wrote on the same thing meanwhile. events - what they did, oldest first, each
    # with said, by and at.
    class Stale < NotKept
      attr_reader :events

      def initialize(events)
        @events = events
        super("This changed while your page was open. Nothing of yours is lost.")
      end
    end

    # The work may not go on. blocks - Handrail::Fitting::Blocks, as data.
    class Refused < NotKept
      attr_reader :blocks

      def initialize(blocks)
        @blocks = Array(blocks)
        super(
          "Held back by #{
            @blocks
              .map { |block| [block.code, block.side, block.subject].compact.join(" ") }
              .join(", ")
          }."
        )
      end
    end

    # The visit is closed: it takes corrections and notes, nothing else.
    class Closed < NotKept
      def initialize =
        super("This visit is closed. What was written stays; add a correction instead.")
    end

    # The same entry key came with other values: one of the two is a mistake, and neither is guessed
    # at.
    class Conflict < NotKept
      def initialize
        super(
          "The same entry was sent before with other values. The first one is kept; look at it, then enter " \
            "yours anew."
        )
      end

      # As Faults says it: of no field, but of the whole form.
      def fields = { "form" => message }
    end

    # This account may not do that.
    class NotAllowed < NotKept
    end

    # Something typed can not be taken. fields - name => what to do about it.
    class Faults < NotKept
      attr_reader :fields

      def initialize(fields)
        @fields = fields
        super(fields.values.join(" "))
      end

      # The first field at fault.
      def field = fields.keys.first
    end

    # One field can not be taken.
    class Unacceptable < Faults
      def initialize(field, message) = super({ field.to_s => message })
    end
  end
end
