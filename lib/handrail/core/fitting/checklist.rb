# frozen_string_literal: true

module Handrail
  module Fitting
    # The checks of a visit and how each stands after everything that was changed since it was made.
    class Checklist
      # state - :good, :stop (failed), :look_again (something changed since) or :not_done.
      # result - the latest Result or nil; opened_by - the Change or step that opened it again, or nil.
      Item = Value.new(:check, :state, :result, :opened_by)

      attr_reader :items, :changes

      # checks - Families::Checks; results - Results; changes - Changes that were made on the device; steps - Changes for steps done,
      # which open their checks but are no change of the device.
      def initialize(checks, results:, changes: [], steps: [])
        @changes = changes.sort_by(&:seq)
        latest = results.group_by(&:check).transform_values { |all| all.max_by(&:seq) }
        openings = (changes + steps).sort_by(&:seq)
        @items = checks.map { |check| item(check, latest[check.key], openings) }.freeze
        freeze
      end

      def [](key) = items.find { |item| item.check.key == key }
      def failed = items.select { |item| item.state == :stop }
      def open_again = items.select { |item| item.state == :look_again }
      def not_done = items.select { |item| item.state == :not_done }
      def good? = items.all? { |item| item.state == :good }

      # The check to make next: those opened again first, then the ones not done, the final check last; nil when all are good or failed.
      def next
        waiting = open_again + not_done
        waiting.reject { |item| item.check.final }.first || waiting.first
      end

      # Why the device may not go on, as Blocks: failed, changed since, never made, the final check before the last change.
      def blocks
        failed.map { |i| Block[key: "failed", stage: :fit, sentence: "“#{i.check.title}” has failed. Change one thing, then look again."] } +
          open_again.map { |i| Block[key: "look_again", stage: :fit, sentence: again(i)] } +
          not_done.map { |i| Block[key: "not_done", stage: :fit, sentence: "“#{i.check.title}” has not been looked at."] }
      end

      private

      def item(check, result, openings)
        opened = result && openings.reverse.find { |opening| opening.seq > result.seq && opens?(opening, check) }
        Item[check: check, result: result, opened_by: opened, state: state(result, opened)]
      end

      # any change of the device opens the final check
      def opens?(opening, check) = opening.opens.include?(check.key) || (check.final && changes.include?(opening))

      def state(result, opened)
        return :not_done unless result
        return :look_again if opened

        result.good? ? :good : :stop
      end

      def again(item)
        what = item.opened_by.title
        "“#{item.check.title}” was looked at before the last change#{what && " (#{what})"}. Look again."
      end
    end
  end
end
