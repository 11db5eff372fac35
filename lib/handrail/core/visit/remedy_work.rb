# frozen_string_literal: true

module Handrail
  class Visit
    # What can be done about what is wrong with a device: the problems that a failed check shows, and their
    # remedies, each with how often it was tried and whether it is at its limit.
    class RemedyWork
      def initialize(visit)
        @visit = visit
      end

      # Whether a remedy is at its limit on a side, as figures: { setting: "Dials", value: "high" }
      # or { used: 6, most: 6 }; nil while there is room.
      def reached(remedy, side = first_side)
        at_setting(remedy, side) || at_limit(remedy, side)
      end

      # The problems that show in the first check of a side that failed, most direct first; of all that may be
      # named here, as Families::Problems.
      def problems_shown(side = first_side)
        failed = @visit.fit.checklist(side).failed.first or return []
        problems.select { |one| one.shown_by?(failed.check.key, failed.result.way) }
      end

      # All that may be named here, as Families::Problems.
      def problems = @problems ||= @visit.family.problems_for(@visit.config)

      # What can be done about a problem on a side, as Fitting::Advice::Offers: the next one first among those
      # that were not tried.
      def offers(problem, side = first_side)
        reached = problem.remedies.to_h { |remedy| [remedy.key, reached(remedy, side)] }.compact
        Fitting::Advice.new(
          problem,
          changes:
            @visit.fit.all_changes.select { |one| one.side.nil? || side.nil? || one.side == side },
          config: @visit.config,
          record: @visit.what_worked(problem.key),
          reached: reached
        ).offers
      end

      # What was ordered and given of a limited correction on a side: { used:, most:, step: } in the limit's own
      # unit, degrees for a bevel; nil where the family limits none. before - version of a row; only what was set
      # before it counts, nil for all.
      def correction_given(side = first_side, before: nil)
        limit = @visit.family.limits.find { |one| one.option && one.settings } or return
        used, most = @visit.family.limit_sum(limit, @visit.config, found(side, before), side)
        most && { used: used, most: most, step: step }
      end

      private

      def first_side = @visit.sides.first
      def step = @visit.family.option("step")&.value(@visit.config["step"]) || 0

      # setting => what was typed last, of a side
      def found(side, before)
        unless before
          return @visit.fit.settings(side).to_h { |field, row| [field.key, row && row[:typed]] }
        end

        rows = @visit.rows_so_far(:strap_settings).select { |row| row[:version] < before }
        rows
          .select { |row| [nil, side].include?(row[:side]) }
          .to_h { |row| [row[:setting], row[:typed]] }
      end

      def at_setting(remedy, side)
        remedy.until.to_h.each do |key, value|
          field, row = @visit.fit.settings(side).find { |one, _| one.key == key }
          return { setting: field.label, value: value } if row && row[:typed] == value
        end
        nil
      end

      # one more step of it would pass the limit
      def at_limit(remedy, side)
        limit = @visit.family.limits.find { |one| one.option == remedy.limit } or return
        used, most = @visit.family.limit_sum(limit, @visit.config, found(side, nil), side)
        { used: used, most: most } if most && used + step > most
      end
    end
  end
end
