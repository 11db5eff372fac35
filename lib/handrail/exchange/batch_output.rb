# frozen_string_literal: true

require "csv"
require "json"
require "tempfile"

module Handrail
  module Exchange
    # Printing the rows of a command as CSV or JSON: all of them are set aside until the last one is
    # made, so that a fault that is found late leaves nothing half printed.
    class BatchOutput
      # columns - names in order; numbers - those whose values are numbers in JSON; format - "csv"
      # or "json"
      def initialize(columns, numbers:, format:)
        @columns = columns
        @numbers = numbers
        @format = format
      end

      # Yields something that takes rows with <<, Arrays of texts or nil in the order of the
      # columns; prints them after.
      def print(out, &block)
        Tempfile.create("handrail-rows") do |aside|
          @format == "json" ? json(aside, &block) : csv(aside, &block)
          aside.flush
          aside.rewind
          IO.copy_stream(aside, out)
        end
      end

      private

      def csv(aside)
        rows = CSV.new(aside)
        rows << @columns
        yield rows
      end

      def json(aside)
        lines = Lines.new(aside, @columns, @numbers)
        yield lines
        aside << (lines.none? ? "[]\n" : "\n]\n")
      end

      # takes rows and writes them as objects of one array
      class Lines
        def initialize(aside, columns, numbers)
          @aside = aside
          @columns = columns
          @numbers = numbers
          @lead = "[\n"
        end

        def none? = @lead == "[\n"

        def <<(row)
          object =
            @columns
              .zip(row)
              .to_h { |name, text| [name, @numbers.include?(name) ? number(text) : text.to_s] }
          @aside << @lead << object.to_json
          @lead = ",\n"
          self
        end

        private

        def number(text)
          return if text.nil? || text.empty?

          text.match?(/\A-?\d+\z/) ? text.to_i : text.to_f
        end
      end
      private_constant :Lines
    end
  end
end
