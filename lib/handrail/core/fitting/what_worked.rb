# frozen_string_literal: true

module Handrail
  module Fitting
    # Which remedy comes first, by what ended the problem at this clinic.
    #
    # Each remedy has a chance of ending its problem. Before anything is known, the trade's order is
    # the belief: the first remedy 7 in 10, each later one 1 in 10 less, 3 in 10 at the least, held
    # as firmly as STRENGTH tries would (a beta distribution; our choice, no source). What the clinic
    # saw is added to it. A later remedy goes before an earlier one only when, by these two beliefs,
    # it is the better one with at least CLEAR certainty, and only where both are of one kind
    # (Families::Remedy#kind): distress stays first, what can be undone before what can not.
    #
    #   WhatWorked.new(remedies, { "wash_lotion" => [11, 12], "reseat" => [2, 12] }).order
    class WhatWorked
      STRENGTH = 6.0
      FIRST = 0.7
      LESS = 0.1
      LEAST = 0.3
      CLEAR = 0.95

      # remedies - Families::Remedies in the trade's order; record - key => [ended, tries].
      def initialize(remedies, record)
        @remedies = remedies
        @record = record
        @beliefs =
          remedies.each_with_index.to_h { |remedy, rank| [remedy.key, belief(rank, remedy.key)] }
      end

      # The remedies in the order in which they are offered.
      def order
        return @remedies if @record.empty?

        sorted = @remedies.group_by(&:kind).transform_values { |alike| by_evidence(alike) }
        @remedies.map { |remedy| sorted.fetch(remedy.kind).shift }
      end

      # How certain it is that a remedy ends the problem more often than another, 0 to 1.
      def certainty(better, worse)
        Beta.chance_above(*@beliefs.fetch(better), *@beliefs.fetch(worse))
      end

      # [a, b] of the beta distribution that the trade's rank and the record make of a remedy.
      def belief(rank, key)
        mean = [FIRST - (LESS * rank), LEAST].max
        ended, tries = @record.fetch(key, [0, 0])
        [(STRENGTH * mean) + ended, (STRENGTH * (1 - mean)) + tries - ended]
      end

      private

      # Insertion from the trade's order: one moves up past each neighbour that it clearly beats.
      def by_evidence(alike)
        alike.each_with_object([]) do |remedy, sorted|
          place = sorted.size
          place -= 1 while place.positive? && clear?(remedy, sorted[place - 1])
          sorted.insert(place, remedy)
        end
      end

      def clear?(remedy, earlier)
        certainty(remedy.key, earlier.key) >= CLEAR
      end
    end
  end
end
