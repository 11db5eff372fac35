# frozen_string_literal: true

module Handrail
  module Web
    # A patient with their fittings and visits. The front desk sees that there are some, never what
    # was found.
    class PatientPage
      # A fitting with its visits, oldest first.
      Shown =
        Value.new(:visits, :name, :aside) do
          # the visits that take place, or took place
          def held = taken_back? ? [] : visits
          def taken_back? = last.taken_back?
          def last = visits.last
          def title = name || last.title
          def size = visits.reverse.filter_map(&:size_said).first

          # "serial WH-20501", by side
          def devices
            last.devices.map do |side, device|
              [
                last.said_side(side),
                device[:serial] ? "serial #{device[:serial]}" : "lot #{device[:lot]}"
              ].compact.join(" ")
            end
          end

          # The visits at which something was read, the last eight.
          def measured = visits.select { |visit| visit.usable_readings.any? }.last(8)

          # Girths visit by visit: [[site, [value or nil, ...]], ...], on a tape.
          def girths(tape)
            items = measured.flat_map(&:needs).reject(&:other).uniq(&:key)
            rows =
              items.map do |item|
                values = measured.map { |visit| visit.repeats_of(item)&.length&.to_s(tape) }
                [[last.said_side(item.side), item.short].compact.join(" "), values]
              end
            rows.select { |_, values| values.any? }
          end
        end

      # the most fittings that are shown at once
      SHOWN = 6

      attr_reader :count

      # What stands of them whatever is ordered, and what did, see Store::Patient#standing.
      def standing = @standing ||= @patient.standing

      # Their open first appointment without an order, as a row; nil where there is none.
      def newcomer = (@newcomer ||= [Store::Newcomers.of(@clinic, @patient.id).first]).first

      # Somebody of the clinic, by their id.
      def name_of(id) =
        (@names ||= Store::Account.where(clinic_id: @clinic.id).as_hash(:id, :name))[id]

      def initialize(account, clinic, patient, all: false)
        @account = account
        @patient = patient
        @clinic = clinic
        ids =
          Store::Fitting
            .where(clinic_id: clinic.id, patient_id: patient.id)
            .reverse(:id)
            .select_map(:id)
        @count = ids.size
        @ids = all ? ids : ids.first(SHOWN)
      end

      def clinical? = @account.clinical?
      def more? = @count > @ids.size

      def fittings
        @fittings ||=
          Store::Visits
            .of_fittings(@clinic, @ids)
            .values
            .map do |visits|
              fitting = visits.last.fitting
              shown = visits.reject { |visit| visit.row.called_off_at }
              shown = visits if shown.empty?
              Shown[
                visits: shown,
                name: clinical? ? nil : shown.last.family.name,
                aside: [
                  moved[:from][fitting.moved_from_id]&.then do |number|
                    "moved here from record #{number}"
                  end,
                  moved[:to][fitting.id]&.then { |number| "moved to record #{number}" }
                ].compact.first
              ]
            end
      end

      # What of a fitting stands and should not wait, in words.
      def concerns(fitting)
        return [] unless clinical?

        rows = dues.fetch(fitting.last.fitting.id, [])
        rows
          .select { |row| Store::Day::CONCERNS.key?(row[:kind]) }
          .map { |row| Wording.concern(row) }
      end

      # The Patient whose record this one was joined into, or nil; and those that were joined into this one.
      def joined_into = @patient.joined_into_id && Store::Patient[@patient.joined_into_id]
      def joined_here =
        Store::Patient.where(clinic_id: @clinic.id, joined_into_id: @patient.id).order(:id).all

      # Records from other clinics: see Store::Brought.of.
      def brought = @brought ||= Store::Brought.of(@clinic, @patient)

      # Readings from before: see Store::Earlier.of.
      def earlier = @earlier ||= Store::Earlier.of(@clinic, @patient)

      def state(visit)
        return visit.closed? ? :good : :not_done unless clinical?

        step(visit).state
      end

      def kind(visit)
        return "First fitting" if visit.first?

        visit.family.recheck_plan.find { |plan| plan.key == visit.plan_key }&.label || "Recheck"
      end

      def next_words(visit) = Wording.next_step(step(visit).finding, step(visit).figures)

      # The stage at which it goes on.
      def stage(visit) = step(visit).stage

      def label(visit)
        Wording.t(
          "next_label.#{visit.opened_at.nil? && visit.first? ? "fresh" : step(visit).stage}"
        )
      end

      private

      def dues
        @dues ||=
          Store.db[:fitting_dues]
            .where(clinic_id: @clinic.id, fitting_id: @ids)
            .order(:due_on)
            .all
            .group_by { |row| row[:fitting_id] }
      end

      # record numbers of the records from which orders were moved here, and to which they went, by the fitting
      # there and here
      def moved
        @moved ||=
          begin
            there = Store.db[:fittings].where(Sequel[:fittings][:clinic_id] => @clinic.id)
            named = there.join(:patients, clinic_id: :clinic_id, id: :patient_id)
            number = Sequel[:patients][:record_number]
            from = there.where(id: @ids).exclude(moved_from_id: nil).select(:moved_from_id)
            {
              from:
                named.where(Sequel[:fittings][:id] => from).select_hash(
                  Sequel[:fittings][:id],
                  number
                ),
              to: named.where(moved_from_id: @ids).select_hash(:moved_from_id, number)
            }
          end
      end

      # what each visit needs next, as it is kept beside them
      def step(visit) = steps.fetch(visit.id) { visit.by_edition { Fitting::NextStep.of(visit) } }

      def steps
        @steps ||=
          Store.db[:visit_summaries]
            .where(clinic_id: @clinic.id, patient_id: @patient.id)
            .to_h { |row| [row[:visit_id], kept(row)] }
      end

      def kept(row)
        Fitting::NextStep[
          **%i[stage state finding].to_h { |name| [name, row[name].to_sym] },
          figures: row[:figures].to_h.transform_keys(&:to_sym),
          done: row[:done].to_a.map(&:to_sym)
        ]
      end
    end
  end
end
