# frozen_string_literal: true

module Handrail
  module Fitting
    # The next thing to change for a problem: the family's remedies in order, those already tried
    # set apart.
    class Advice
      # state - :next, :open, :tried or :later (offered when the others are used up); times - how
      # often it was tried at this visit; reopens - how many checks it opens again.
      Offer = Value.new(:remedy, :state, :times, :reopens)

      # problem - Families::Problem; changes - Changes of this fitting; config - what applies.
      def initialize(problem, changes:, config:)
        @tried = changes.select { |change| change.problem == problem.key }.map(&:remedy).tally
        @remedies = problem.remedies.select { |remedy| remedy.applies?(config) }
      end

      # Offers, the next one first among those not tried.
      def offers
        fresh = @remedies.reject { |remedy| @tried.key?(remedy.key) || remedy.last }
        @remedies.map do |remedy|
          Offer[remedy: remedy, state: state(remedy, fresh), times: @tried.fetch(remedy.key, 0),
                reopens: remedy.opens.size]
        end
      end

      # The problems of a family that a failed check points to, most direct first.
      def self.problems_for(family, check_key)
        family.problems.select { |problem| problem.shows_in&.include?(check_key) }
      end

      private

      def state(remedy, fresh)
        return :tried if @tried.key?(remedy.key)
        return fresh.empty? ? :next : :later if remedy.last

        remedy == fresh.first ? :next : :open
      end
    end
  end
end
