# frozen_string_literal: true

module Handrail
  module Learning
    # Whether a chart tells the truth here: of those who were first fitted in a size, how many ended
    # in it, in a smaller and in a larger one.
    #
    #   truth = ChartTruth.new(%w[S M L], { ["M", "L"] => 1, ["M", "M"] => 12 })
    #   truth.sizes.first
    class ChartTruth
      # Outcomes of a size. to - names of other sizes => how many ended there
      Size =
        Value.new(:name, :count, :kept, :smaller, :larger, :to) do
          # The size in which most of those who left it ended, [name, how many], where it is clear
          # that more than half of all do: the 95 % interval of the share lies above a half.
          def clearly
            name, many = to.max_by { |_, n| n }
            [name, many] if name && Learning.wilson(many, count).first > 0.5
          end
        end

      # names - sizes from the smallest up; outcomes - [first size, last size] => how many
      def initialize(names, outcomes)
        @names = names
        @outcomes = outcomes.group_by { |(first, _), _| first }
      end

      def sizes
        @names.filter_map do |name|
          own = @outcomes[name] or next
          ends = own.to_h { |(_, last), many| [last, many] }
          Size[
            name: name,
            count: ends.values.sum,
            kept: ends.fetch(name, 0),
            smaller: ends.sum { |last, many| place(last)&.<(place(name)) ? many : 0 },
            larger: ends.sum { |last, many| place(last)&.>(place(name)) ? many : 0 },
            to: ends.except(name)
          ]
        end
      end

      # :small where those who changed went up clearly more often than down, :large the other way;
      # nil while it is not clear.
      def runs
        larger = sizes.sum(&:larger)
        smaller = sizes.sum(&:smaller)
        moved = larger + smaller
        return :small if moved.positive? && Learning.wilson(larger, moved).first > 0.5
        return :large if moved.positive? && Learning.wilson(smaller, moved).first > 0.5

        nil
      end

      private

      def place(name) = @names.index(name)
    end
  end
end
