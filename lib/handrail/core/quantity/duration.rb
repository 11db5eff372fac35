# frozen_string_literal: true

module Handrail
  module Quantity
    # An exact span of time in seconds.
    #
    #   Duration.parse("10 min").seconds # => (600/1)
    #   Duration.parse("90 s").to_s      # => "1.5 min"
    class Duration
      include Comparable

      # What was typed is no span of time; the message shows a form that is accepted.
      class Unreadable < Quantity::Unreadable
      end

      SECONDS = { "s" => 1, "sec" => 1, "min" => 60, "h" => 3600 }.freeze
      FORM = /\A(?<number>\d{1,4}(?:[.,]\d{1,3})?)\s*(?<unit>s|sec|min|h)?\z/i
      EXAMPLE = "Write it like 10 min, 90 s or 2 h."

      attr_reader :seconds

      # Without a unit minutes are meant. Returns a Duration; raises Unreadable.
      def self.parse(text)
        match = FORM.match(text.to_s[0, 40].strip) or
          raise Unreadable, "“#{text.to_s.strip[0, 20]}” can not be read as a time. #{EXAMPLE}"
        new(Rational(match[:number].tr(",", ".")) * SECONDS.fetch((match[:unit] || "min").downcase))
      end

      def self.minutes(number) = new(Rational(number) * 60)

      # seconds - any exact number.
      def initialize(seconds)
        @seconds = Rational(seconds)
        freeze
      end

      def <=>(other) = other.is_a?(Duration) ? seconds <=> other.seconds : nil

      # "90 min", "20 s", "24 h"
      def to_s
        return "#{figure(seconds / 3600)} h" if seconds >= 7200 && (seconds % 1800).zero?

        seconds < 60 ? "#{figure(seconds)} s" : "#{figure(seconds / 60)} min"
      end

      private

      def figure(number) = format("%g", number.round(2).to_f)
    end
  end
end
