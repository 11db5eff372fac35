# frozen_string_literal: true

module Handrail
  # A frozen value with named members, the shape of every object in the core.
  #
  #   Band = Value.new(:min, :max) do
  #     def width = max - min
  #   end
  #   Band[min: 1, max: 2].width # => 1
  #
  # A missing member is nil, an unknown one raises ArgumentError. Values with equal members are
  # equal.
  module Value
    # Freezes the struct once it is filled.
    module Frozen
      def initialize(**members)
        super
        freeze
      end

      # The same value with some members replaced.
      def with(**changes) = self.class.new(**to_h, **changes)
    end

    def self.new(*members, &body)
      Struct.new(*members, keyword_init: true) do
        prepend Frozen

        class_eval(&body) if body
      end
    end
  end
end
