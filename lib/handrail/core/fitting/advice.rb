# frozen_string_literal: true

module Handrail
  module Fitting
    # The next thing to change for a problem: the family's remedies, those already tried set apart,
    # those at their limit closed. The order is the trade's, until the clinic's own record is clear
    # (see WhatWorked).
    class Advice
      # state - :next, :open, :tried, :later (offered when the others are used up) or :reached (at
      # its limit); times - how often it was tried; reopens - how many checks it opens again; record
      # - [ended, tries] of this clinic, or nil; limit - what is reached, in figures, or nil.
      Offer = Value.new(:remedy, :state, :times, :reopens, :record, :limit)

      # problem - Families::Problem; changes - Changes of this fitting; config - what applies;
      # record - remedy key => [ended, tries] at this clinic; reached - remedy key => figures of the
      # limit that it is at.
      def initialize(problem, changes:, config:, record: {}, reached: {})
        @tried = changes.select { |change| change.problem == problem.key }.map(&:remedy).tally
        remedies = problem.remedies.select { |remedy| remedy.applies?(config) }
        @remedies = WhatWorked.new(remedies, record).order
        @record = record
        @reached = reached
      end

      # Offers, the next one first among those not tried.
      def offers
        @remedies.map do |remedy|
          Offer[
            remedy: remedy,
            state: state(remedy),
            times: @tried.fetch(remedy.key, 0),
            reopens: remedy.opens.size,
            record: @record[remedy.key],
            limit: @reached[remedy.key]
          ]
        end
      end

      # Whether nothing of the problem's own is left to try.
      def used_up? = fresh.empty?

      # The problems of a family that a failed check points to, most direct first. way - the way in
      # which it failed, where it has two
      def self.problems_for(family, check_key, way = nil)
        family.problems.select { |problem| problem.shown_by?(check_key, way) }
      end

      private

      def fresh
        @fresh ||=
          @remedies.reject do |remedy|
            @tried.key?(remedy.key) || remedy.last || @reached.key?(remedy.key)
          end
      end

      def last_resorts
        @last_resorts ||= @remedies.select { |remedy| remedy.last && !@tried.key?(remedy.key) }
      end

      def state(remedy)
        return :tried if @tried.key?(remedy.key)
        return :reached if @reached.key?(remedy.key)
        return last_state(remedy) if remedy.last

        remedy == fresh.first ? :next : :open
      end

      def last_state(remedy)
        return :later unless used_up?

        remedy == last_resorts.first ? :next : :open
      end
    end
  end
end
