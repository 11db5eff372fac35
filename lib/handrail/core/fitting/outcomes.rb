# frozen_string_literal: true

module Handrail
  module Fitting
    # What became of each change of a visit: whether the problem was gone at the next look.
    #
    # The next look is the first result of each check in which the problem shows, after the change
    # and before the next change of that device. All good: it ended the problem. One not: it did not.
    # Never looked at in between: nothing is learned, and nothing is counted.
    module Outcomes
      # One try. seq - of its change; ended - true or false.
      Try = Value.new(:problem, :remedy, :side, :seq, :ended)

      # changes - Changes of one visit; results - Results of it, corrected ones left out; problems -
      # key => Families::Problem. Returns Tries, in order.
      def self.of(changes, results, problems)
        ordered = changes.sort_by(&:seq)
        ordered.each_with_index.filter_map do |change, i|
          problem = problems[change.problem] or next
          following = ordered.drop(i + 1).find { |later| later.side == change.side }
          seen = looks(problem, change, following, results)
          next if seen.empty?

          Try[
            problem: change.problem,
            remedy: change.remedy,
            side: change.side,
            seq: change.seq,
            ended: seen.all?(&:good?)
          ]
        end
      end

      # the first look at each check of the problem, after a change and before the following one
      def self.looks(problem, change, following, results)
        span =
          results.select do |result|
            result.side == change.side && result.seq > change.seq &&
              (following.nil? || result.seq < following.seq) && result.seen? &&
              problem.shows_in.to_a.include?(result.check)
          end
        span.group_by { |one| [one.check, one.place.to_s] }.map { |_, all| all.min_by(&:seq) }
      end
      private_class_method :looks
    end
  end
end
