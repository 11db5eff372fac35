# frozen_string_literal: true

module Handrail
  module Web
    # What one stage's page shows: the record as it stands, where on the page the fitter is, and what was typed but not taken.
    class StagePage
      attr_reader :record, :name, :fault, :stale, :refused, :account

      Stop = Value.new(:stage, :state, :open)
      Line = Value.new(:item, :state, :value, :note, :current)

      def initialize(record, name, params, account, fault: nil, stale: nil, refused: nil, saved: false, shown: nil)
        @record = record
        @name = name
        @account = account
        @fault = fault
        @stale = stale
        @refused = refused
        @given = saved ? shown.to_h : params
        @typed = fault || stale ? params : {}
      end

      # Where to go on after a reading: stay where a question is open, else the next site without a reading, else one that wants a repeat.
      def self.after_reading(record, row, params)
        here = [row[:site], row[:side]].compact.join(":")
        kept = { "unit" => params["unit"], "posture" => params["posture"] }
        return kept.merge("at" => here) if row[:question] && row[:answered_at].nil?

        items = record.needs
        position = items.index { |item| item.key == here } || -1
        in_turn = items.rotate(position + 1)
        fresh = in_turn.find { |item| record.live_readings.none? { |r| r[:site] == item.site.key && r[:side] == item.side } }
        again = in_turn.find { |item| item.decides && record.repeats(item.site.key, item.side)&.wish }
        kept.merge("at" => (fresh || again || items[position]).key)
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

      # --- measuring ---

      def lines = @lines ||= record.needs.map { |item| line(item) }
      def current = @current ||= record.needs.find { |item| item.key == given("at") } || first_open
      def rows_here = record.readings_at(current.site.key, current.side)
      def last_here = rows_here.reject { |row| row[:struck_at] }.last
      def doubt_here = record.doubts.find { |row| row[:site] == current.site.key && row[:side] == current.side }

      def unit = %w[cm in].find { |unit| unit == given("unit") } || record.clinic.tape_kind.unit
      def posture = current.site.postures.find { |posture| posture == given("posture") } || current.site.posture

      # the unit in which the question's reading would be likely
      def meant
        row = doubt_here or return
        Handrail::Measuring::Plausibility.judge(current.site, length(row), typed_unit: row[:unit], species: record.patient.species)
      end

      def figure(device: nil)
        Drawings::Leg.new(profile, side: record.side, tapes: tapes, bracket: bracket, device: device).to_s
      end

      # the device on the leg, its straps as far as they are closed
      def device_figure
        drawing = record.family.drawing or return figure
        straps = record.family.straps.map { |strap| Drawings::Leg::Strap[number: strap.number, level: metres(strap.level), state: strap_state(strap)] }
        hinge = drawing["hinge"][record.config["height_landmark"]] || drawing["hinge"].values.first
        device = Drawings::Leg::Device[shells: drawing["shells"].map { |s| [metres(s["from"]), metres(s["to"])] }, hinge: metres(hinge),
                                       upright: record.configuration&.gives.to_h["upright"] || "outer", straps: straps]
        Drawings::Leg.new(profile, side: record.side, device: device).to_s
      end

      # this wearer's leg: the reference leg bent to the readings of this visit, or the first one where there are none yet
      def profile
        @profile ||= begin
          source = record.usable_readings.empty? ? record.first : record
          known = source.needs.select { |item| item.side == record.side && item.site.level }.filter_map do |item|
            value = source.repeats(item.site.key, item.side)
            value && [item.site.level.mm.to_f, value.mm.to_f]
          end
          known.empty? ? Anatomy::Profile.new(Anatomy::Profile::LEG) : Anatomy::Profile.fitted(known)
        end
      end

      # --- the verdict ---

      def match = record.match
      def verdict = @verdict ||= Verdict.new(record, profile)

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

      def line(item)
        rows = record.readings_at(item.site.key, item.side).reject { |row| row[:struck_at] }
        repeats = record.repeats(item.site.key, item.side)
        Line[item: item, current: item == current, state: line_state(item, rows, repeats), value: repeats&.length,
             note: line_note(item, rows, repeats)]
      end

      def line_state(item, rows, repeats)
        return :not_done if rows.empty?
        return :look_again if rows.any? { |row| record.doubtful?(row) } || repeats.nil? || !repeats.agree?

        item.decides && again?(item) ? :look_again : :good
      end

      def again?(item) = item.side == record.side && match&.read_again&.include?(item.site.key)

      def line_note(item, rows, repeats)
        return item.decides ? "the size hangs on it" : "for the record" if rows.empty?
        return "is that right?" if rows.any? { |row| record.doubtful?(row) }

        count = "#{rows.size} #{rows.one? ? 'reading' : 'readings'}"
        item.decides && repeats&.wish ? "#{count}, #{repeats.wish}" : count
      end

      def first_open = lines_without_current { |item| unread?(item) } || lines_without_current { |item| again?(item) } || record.needs.first
      def lines_without_current(&) = record.needs.find(&)
      def unread?(item) = record.live_readings.none? { |row| row[:site] == item.site.key && row[:side] == item.side }

      def tapes
        record.needs.select { |item| item.side == record.side && item.site.level }.map do |item|
          value = record.repeats(item.site.key, item.side)
          state = if name == :measure && item == current then :active
                  else value ? :done : :waiting
                  end
          Drawings::Leg::Tape[level: item.site.level.mm.to_f, name: item.site.short, value: value && value.length.to_s(tape), state: state]
        end
      end

      def tape = if unit == record.clinic.tape_kind.unit
                   record.clinic.tape_kind
                 else
                   Quantity::Tape[unit == "in" ? "in 1/8" : "cm 1 mm"]
                 end

      def bracket
        site = name == :measure ? current.site : nil
        site if site&.from && site.offset && !site.offset.mm.zero? && current.side == record.side
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
      def length(row) = Quantity::Length.mm(row[:value_mm].to_r)
    end
  end
end
