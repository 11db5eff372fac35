# frozen_string_literal: true

module Handrail
  module Store
    # A visit with everything that belongs to it, as the core's values: the family and what applies of it, the readings, the
    # match, the checklist, how far the fitting has come. It reads, and writes nothing.
    class VisitRecord
      include RecordSizing

      attr_reader :clinic, :visit, :fitting, :patient, :prescription, :product, :visits

      class << self
        # The record, or nil when the clinic has no such visit.
        def find(clinic, visit_id) = load(clinic, Visit.where(clinic_id: clinic.id, id: visit_id).all).first

        # Records for many visits of one clinic, in their order, at the price of one.
        def load(clinic, visits)
          return [] if visits.empty?

          rows = VisitRows.new(clinic, visits.map(&:fitting_id).uniq)
          visits.map { |visit| new(visit, rows) }
        end
      end

      def initialize(visit, rows)
        @clinic = rows.clinic
        @visit = visit
        @rows = rows
        @fitting = rows.fitting(visit.fitting_id)
        @visits = rows.visits(visit.fitting_id)
        @patient = fitting.patient
        @prescription = fitting.prescription
        @product = fitting.product
      end

      # Rows written at this visit, or at all visits of this fitting, oldest first.
      def rows(table) = @rows[table, visit.id]
      def all_rows(table) = visits.flat_map { |visit| @rows[table, visit.id] }

      def name_of(account_id) = @rows.name_of(account_id)

      # Another visit of the same fitting, as a record.
      def at(other) = other.id == visit.id ? self : self.class.new(other, @rows)
      def first = at(visits.find(&:first?) || visit)
      def recheck? = !visit.first?

      def family = Families::Shelf.fetch(prescription.family)
      def config = @config ||= family.config({ "side" => prescription.side, **prescription.fields.to_h }, product.options.to_h)
      def title = family.describe(config)
      def configuration = family.configuration(config)
      def fill(text) = family.fill(text, config)
      def side = prescription.side
      def other_side = { "left" => "right", "right" => "left" }[side]

      # The limits of the product that this order passes, in words.
      def passed_limits
        family.limits.filter_map do |limit|
          most = config[limit.option].to_f
          limit.says.gsub("{limit}", format("%g", most)) if config[limit.field].to_s.tr(",", ".").to_f > most
        end
      end

      # --- readings ---

      # Reading rows that stand: not struck out, not corrected.
      def live_readings
        @live_readings ||= begin
          corrected = rows(:readings).filter_map { |row| row[:corrects_id] }
          rows(:readings).reject { |row| row[:struck_at] || corrected.include?(row[:id]) }
        end
      end

      # Those that may be used: their questions are answered.
      def usable_readings = live_readings.reject { |row| doubtful?(row) }
      def doubtful?(row) = !row[:question].nil? && row[:answered_at].nil?
      def doubts = live_readings.select { |row| doubtful?(row) }
      # All readings of an item of the plan, struck-out ones too.
      def readings_of(item) = rows(:readings).select { |row| item.takes?(row) }

      # The repeats used for a site, in one posture where it is given, or nil.
      def repeats(site, side, posture = nil)
        used = usable_readings.select { |row| row[:site] == site && row[:side] == side && (posture.nil? || row[:posture] == posture) }
        used.empty? ? nil : Measuring::Repeats.new(used.map { |row| Quantity::Length.mm(row[:value_mm].to_r) }, resolution: resolution(used)[site])
      end

      def repeats_of(item) = repeats(item.site.key, item.side, item.only ? item.posture : nil)

      # What is to be read at this visit.
      def needs = @needs ||= Measuring::Plan.new(family, config: config, chart: chart, recheck: recheck?).items

      # --- fitting ---

      # At a recheck the family's short list, until something is changed: then all of them.
      def checks
        return family.checks(config) unless recheck? && changes.empty? && rows(:size_choices).empty?

        family.recheck_checks(config)
      end

      def checklist = @checklist ||= Handrail::Fitting::Checklist.new(checks, results: results, changes: changes, steps: openings)
      def applying = @applying ||= Handrail::Fitting::Applying.new(family.steps(config), done: rows(:steps_done).map { |row| row[:step] })
      def changes = @changes ||= rows(:changes).map { |row| change(row) }
      def all_changes = all_rows(:changes).map { |row| change(row) }

      # The family's settings that apply, each with its latest row up to this visit, or nil.
      def settings
        latest = visits.select { |v| v.id <= visit.id }.flat_map { |v| @rows[:strap_settings, v.id] }.to_h { |row| [row[:setting], row] }
        family.settings.select { |field| field.applies?(config) }.map { |field| [field, latest[field.key]] }
      end

      # --- how far it has come ---

      def safety = rows(:safety_questions).last
      def hand_over = all_rows(:hand_overs).first
      def overrides = all_rows(:overrides)
      def answer(key) = rows(:recheck_answers).reverse.find { |row| row[:field] == key }
      def events = rows(:visit_events)

      def progress
        @progress ||= Handrail::Fitting::Progress[
          identity: safety ? safety[:identity] : false, cautions_asked: !safety.nil?, stops: stop_signs, unread: unread,
          doubts: doubts.map { |row| row[:question] }, choice: sides.all? { |side| choice(side) } && size_said,
          issued: sides.all? { |side| device(side) }, checklist: checklist,
          teach_backs: rows(:teach_backs).map { |row| teach_back(row) }, tasks: family.tasks, who: family.teach_who,
          handed_over: !hand_over.nil?, rechecked: recheck? && visit.closed?, override: override
        ]
      end

      # What stands in the way of closing a recheck: nothing of the checks once the wearer is sent back to the prescriber.
      def closing_blocks
        checks = changes.any? { |change| change.goes_to == "prescriber" } ? [] : checklist.blocks
        asks = family.recheck_asks.select { |ask| ask.type == "choice" && !answer(ask.key) }
        progress.blocks(:measure).reject { |block| block.key == "stop" } + checks +
          asks.map { |ask| Handrail::Fitting::Block[key: "ask", stage: :recheck, sentence: "#{ask.label}: ask, look and write it down."] }
      end

      # The next recheck that the family plans, or nil before hand-over.
      def next_recheck
        return unless hand_over

        held = visits.select { |v| !v.first? && v.closed? }.map { |v| clinic.today(v.closed_at) }
        Followup::Plan.next(family.recheck_plan, handed_over: clinic.today(hand_over[:at]), done: held)
      end

      private

      def unread
        return [] if recheck?

        needs.select(&:decides).reject { |item| live_readings.any? { |row| item.counts?(row) } }
             .map { |item| [sides.first && sides.one? ? nil : item.side, item.name].compact.join(" ") }
      end

      def stop_signs
        asked = safety ? family.stop_signs.select { |prompt| safety[:stops].include?(prompt.key) }.map(&:text) : []
        found = safety&.fetch(:findings).to_a.select { |finding| finding["state"] == "stop" }.map { |finding| finding["sentence"].chomp(".") }
        asked + found + passed_limits.map { |text| text.chomp(".") }
      end

      def override
        row = rows(:overrides).last
        row && Handrail::Fitting::Override[reason: row[:reason], by: name_of(row[:by]), at: row[:at]]
      end

      def results
        corrected = rows(:check_results).filter_map { |row| row[:corrects_id] }
        rows(:check_results).reject { |row| corrected.include?(row[:id]) }.map do |row|
          Handrail::Fitting::Result[check: row[:check_key], outcome: row[:outcome], length: row[:value_mm] && Quantity::Length.mm(row[:value_mm].to_r),
                                    note: row[:note], seq: row[:version], at: row[:at], by: name_of(row[:by])]
        end
      end

      def change(row)
        Handrail::Fitting::Change[problem: row[:problem], remedy: row[:remedy], opens: row[:opens].to_a, goes_to: row[:goes_to],
                                  note: row[:note], seq: row[:version], at: row[:at], by: name_of(row[:by]), title: row[:title]]
      end

      # A strap that was closed opens its checks again; so does another size.
      def openings
        steps = rows(:steps_done).filter_map { |row| (step = family.step(row[:step])) && opening(step.opens || [], row, step.title) }
        later_sizes = rows(:size_choices).drop(recheck? ? 0 : 1)
        steps + later_sizes.map { |row| opening(family.all_checks.map(&:key), row, "another size, #{row[:chosen]}") }
      end

      def opening(checks, row, title) = Handrail::Fitting::Change[opens: checks, seq: row[:version], title: title]

      def teach_back(row)
        Handrail::Fitting::TeachBack[who: row[:who], unaided: row[:unaided], shown: row[:shown].to_a, mistakes: row[:mistakes].to_a,
                                     seq: row[:version]]
      end
    end
  end
end
