# frozen_string_literal: true

module Handrail
  module Families
    # Numbers as people type them: 6, 6.5, 6,5. Never octal, never without an end.
    #
    #   Number.read("010")  # => (10/1)
    #   Number.read("1e400") # => nil
    module Number
      FORM = /\A-?\d{1,9}(?:[.,]\d{1,6})?\z/

      # The exact number, or nil where the text is none.
      def self.read(text)
        text = text.to_s.strip
        Rational(text.tr(",", ".")) if text.match?(FORM)
      end

      # "6", "6.5"
      def self.print(number) = format("%g", number.to_f)
    end
  end
end
