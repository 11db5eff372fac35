# frozen_string_literal: true

module Handrail
  module Fitting
    # The checks of one side's device and how each stands after everything that was changed since it
    # was made.
    class Checklist
      # state - :good, :stop (failed), :look_again (something changed since) or :not_done. place -
      # the strap it is looked at, or ""; result - the latest Result or nil; opened_by - the Change
      # or step that opened it again, or nil.
      Item =
        Value.new(:check, :place, :state, :result, :opened_by) do
          def key = [check.key, place].reject(&:empty?).join(":")
          def failed? = state == :stop

          # Whether it was seen to be a sign of distress, and not seen to be gone since.
          def distress? = check.distress && result && result.seen? && !result.good?

          # Whether a yes to it would take back a no with nothing changed between: then it is said why.
          # A value that is measured says itself what was seen.
          def taken_back? = failed? && !check.measured?
        end

      # items - in the order of the family; failed, open_again, not_done - some of them
      attr_reader :items, :changes, :failed, :open_again, :not_done

      # checks - [Families::Check, place] pairs; results - Results; changes - Changes that were made
      # on the device; steps - Changes for steps done, which open their checks but are no change of
      # the device.
      def initialize(checks, results:, changes: [], steps: [])
        @changes = changes.sort_by(&:seq)
        latest =
          results
            .group_by { |result| [result.check, result.place.to_s] }
            .transform_values { |all| all.max_by(&:seq) }
        openings = (changes + steps).sort_by(&:seq)
        @items =
          checks
            .map do |check, place|
              item(check, place.to_s, latest[[check.key, place.to_s]], openings)
            end
            .freeze
        @by_key = @items.to_h { |item| [item.key, item] }.freeze
        @failed, @open_again, @not_done =
          %i[stop look_again not_done].map do |state|
            @items.select { |item| item.state == state }.freeze
          end
        freeze
      end

      # The item of a check, at a place where it has several; nil where it is not asked. key - "slip" or
      # "pressure:calf"
      def [](key) = @by_key[key]
      def good? = failed.empty? && open_again.empty? && not_done.empty?

      # The check to make next: those opened again first, then the ones not done, the final check
      # last; nil when all are good or failed.
      def next
        # what another check answers is not asked
        waiting = open_again + not_done.partition { |item| item.result.nil? }.flatten(1)
        waiting = waiting.reject { |item| item.check.answered_by }
        waiting.reject { |item| item.check.final }.first || waiting.first
      end

      # The seq of the last change of the device, 0 where there was none.
      def last_change = changes.map(&:seq).max || 0

      private

      def item(check, place, result, openings)
        opened = result && (lost(result) || opened_since(result, check, openings))
        Item[
          check: check,
          place: place,
          result: result,
          opened_by: opened,
          state: state(result, opened)
        ]
      end

      # what it rested on is another now
      def lost(result) =
        result.gone && Change[opens: [result.check], seq: result.seq, cause: { code: result.gone }]

      def opened_since(result, check, openings) =
        openings.reverse.find { |opening| opening.seq > result.seq && opens?(opening, check) }

      # any change of the device opens the final check
      def opens?(opening, check) =
        opening.opens.include?(check.key) || (check.final && changes.include?(opening))

      # what was not possible is not done, and stays open
      def state(result, opened)
        return :not_done unless result&.seen?
        return :look_again if opened

        result.good? ? :good : :stop
      end
    end
  end
end
