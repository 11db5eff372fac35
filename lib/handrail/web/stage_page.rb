# frozen_string_literal: true

module Handrail
  module Web
    # What one stage's page shows: the record as it stands, where on the page the fitter is, and what was typed but not taken.
    class StagePage
      include BenchView

      attr_reader :record, :name, :fault, :stale, :refused, :account, :faults

      Stop = Value.new(:stage, :state, :open)

      def initialize(record, name, params, account, fault: nil, stale: nil, refused: nil, saved: false, shown: nil, faults: {})
        @record = record
        @name = name
        @account = account
        @fault = fault
        @stale = stale
        @refused = refused
        @faults = faults
        @given = saved ? shown.to_h : params
        @typed = fault || stale || faults.any? ? params : {}
      end

      # Where to go on after a reading: stay where a question is open, else the next site without a reading, else one that wants a repeat.
      def self.after_reading(record, row, params)
        items = record.needs
        position = items.index { |item| item.takes?(row) } || -1
        here = position.negative? ? params["at"] : items[position].key
        kept = { "unit" => params["unit"], "posture" => params["posture"] }
        return kept.merge("at" => here) if row[:question] && row[:answered_at].nil?

        in_turn = items.rotate(position + 1)
        fresh = in_turn.find { |item| record.live_readings.none? { |r| item.takes?(r) } }
        again = in_turn.find { |item| item.decides && record.repeats_of(item)&.wish }
        kept.merge("at" => (fresh || again)&.key || here)
      end

      # what was typed and not taken, else nothing
      def typed(key) = @typed[key]
      def typed_list(key) = Array(@typed[key])
      def given(key) = @given[key]
      def bench_class = record.visit.closed? ? "bench is-closed" : "bench"

      # --- the rail ---

      def stops
        Handrail::Fitting::STAGES.map do |stage|
          state = if stage == name then :present
                  elsif done?(stage) then :done
                  else :later
                  end
          Stop[stage: stage, state: state, open: reachable?(stage)]
        end
      end

      # --- the verdict ---

      # The side that the page is about: the one asked for, else that of the site being read, else the first.
      def side
        record.sides.find { |s| s == given("side") } || (name == :measure && record.sides.find { |s| s == current&.side }) || record.sides.first
      end

      def advice = record.advice(side)
      def verdict(side = self.side) = (@verdicts ||= {})[side] ||= Verdict.new(record, side)

      # What the prescription demands or forbids: [[label, text], ...].
      def demands
        record.family.fields.select(&:demand).filter_map do |field|
          (value = record.prescription.fields[field.key]) && [field.label, field.print(value)]
        end
      end

      # --- fitting ---

      def step = record.applying.steps.find { |s| s.key == given("step") && !record.applying.done?(s) } || record.applying.next

      # the problem being changed: the one named, else what a failed check points to
      def problem
        named = record.family.problem(given("problem").to_s)
        return named if named

        failed = record.checklist.failed.first
        failed && Handrail::Fitting::Advice.problems_for(record.family, failed.check.key).first
      end

      def offers = Handrail::Fitting::Advice.new(problem, changes: record.all_changes, config: record.config).offers
      def next_check = record.checklist.items.find { |item| item.check.key == given("check") } || record.checklist.next

      private

      def done?(stage)
        if record.recheck?
          return { order: !record.safety.nil?, measure: record.usable_readings.any?, recheck: record.visit.closed? }.fetch(stage,
                                                                                                                           true)
        end

        record.progress.done?(stage)
      end

      def reachable?(stage)
        return true if record.recheck?

        progress = record.progress
        stage == :order || stage == name || progress.open?(stage) || progress.done?(stage) || (stage == :hand_over && progress.open?(:teach))
      end

      def strap_state(strap)
        steps = record.applying.steps.select { |s| s.strap == strap.key }
        return :active if moved?(strap) || (steps.include?(step) && !worn?)
        return :done if worn?

        steps.any? { |s| record.applying.done?(s) } ? :done : :waiting
      end

      # at a recheck the wearer comes in it
      def worn? = record.recheck? && record.applying.done.empty?

      # a strap that the last change touched, while its checks are still open
      def moved?(strap)
        last = record.changes.last or return false
        remedy = record.family.problem(last.problem)&.remedies&.find { |r| r.key == last.remedy }
        record.checklist.open_again.any? && remedy&.straps.to_a.include?(strap.key)
      end

      def metres(text) = Quantity::Length.parse(text).mm.to_f
    end
  end
end
