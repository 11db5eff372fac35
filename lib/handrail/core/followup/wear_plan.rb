# frozen_string_literal: true

module Handrail
  module Followup
    # A break-in, day by day: so many hours at first, more every few days, up to the most. The numbers
    # are the family's (common practice, no source), as the fitter leaves or changes them.
    #
    #   plan = WearPlan.new(start: 2, add: 1, every: 2, most: 8)
    #   plan.days.first(3) # => [[1, 2r], [2, 2r], [3, 3r]]
    #   plan.full_on       # => 13, the day on which the most is reached
    class WearPlan
      class Unsound < Handrail::Error
      end

      # hours of a day; days between two steps
      HOURS = (Rational(1, 4)..24)
      EVERY = (1..14)
      # no break-in takes longer than this
      LONGEST = 90

      attr_reader :start, :add, :every, :most

      # start, add, most - hours, exact; every - days. Raises Unsound with what to mend.
      def initialize(start:, add:, every:, most:)
        @start, @add, @most = [start, add, most].map(&:to_r)
        @every = every
        check
        freeze
      end

      # raw - { "start", "add", "every", "most" } as numbers or texts. Raises Unsound.
      def self.read(raw)
        hours = %w[start add most].to_h { |key| [key.to_sym, number(raw[key], key)] }
        every = Integer(raw["every"].to_s, 10, exception: false)
        raise Unsound, "Write after how many days hours are added, like 2." unless every

        new(every: every, **hours)
      end

      def self.number(text, key)
        Families::Number.read(text.to_s) or raise Unsound, "Write the hours (#{key}) like 2 or 1.5."
      end
      private_class_method :number

      # The day, counted from 1, on which the most is worn for the first time.
      def full_on = 1 + (((most - start) / add).ceil * every)

      # [[day, hours], ...] up to that day.
      def days = (1..full_on).map { |day| [day, hours_on(day)] }

      # Hours to wear on a day, counted from 1.
      def hours_on(day) = [start + (add * ((day - 1) / every)), most].min

      # Stretches of days with the same hours: [[first, last, hours], ...].
      def steps
        days
          .chunk_while { |(_, a), (_, b)| a == b }
          .map { |part| [part.first[0], part.last[0], part.first[1]] }
      end

      # As it is kept: hours as decimal texts, so that nothing is rounded.
      def to_h
        hours = { "start" => start, "add" => add, "most" => most }
        {
          **hours.transform_values { |number| Families::Number.print(number) },
          "every" => every.to_s
        }
      end

      private

      def check
        unless [start, add, most].all? { |hours| HOURS.cover?(hours) }
          raise Unsound, "Hours of a day lie between a quarter and 24."
        end
        raise Unsound, "Hours are added every 1 to 14 days." unless EVERY.cover?(every)
        raise Unsound, "The most can not be less than the beginning." if most < start
        if full_on > LONGEST
          raise Unsound, "That takes longer than #{LONGEST} days. Add more, or sooner."
        end
      end
    end
  end
end
