# frozen_string_literal: true

require "forwardable"

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
          def size = visits.reverse.filter_map { |visit| visit.sizing.size_said }.first

          # "serial WH-20501", by side
          def devices
            last.sizing.devices.map do |side, device|
              [last.said_side(side), Wording.device_number(device)].compact.join(" ")
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

      extend Forwardable

      # see Store::PatientRows
      def_delegators :@rows, :newcomer, :joined_here, :brought, :earlier, :sent

      # What stands of them whatever is ordered, and what did, see Store::Patient#standing.
      def standing = @standing ||= @patient.standing

      # Somebody of the clinic, by their id.
      def name_of(id) = @batch.name_of(id)

      def initialize(account, clinic, patient, all: false)
        @account = account
        @patient = patient
        @clinic = clinic
        @rows = Store::PatientRows.new(clinic, patient)
        @ids = all ? @rows.fitting_ids : @rows.fitting_ids.first(SHOWN)
        @batch = Store::Batch.new(clinic, @ids, wearers: { patient.id => patient })
      end

      def clinical? = @account.clinical?

      # The other clinics of the group, to which the record can be sent.
      def sisters
        return [] if @patient.practice || @patient.joined_into_id

        Store::Group.clinics(@clinic.group_key).reject { |one| one.id == @clinic.id }
      end

      def count = @rows.fitting_ids.size
      def more? = count > @ids.size

      def fittings
        @fittings ||=
          @ids
            .map { |id| Store::Visits.all(@batch.source(id)) }
            .map do |visits|
              fitting = visits.last.fitting
              shown = visits.reject { |visit| visit.row.called_off_at }
              shown = visits if shown.empty?
              Shown[
                visits: shown,
                name: clinical? ? nil : shown.last.family.name,
                aside: [
                  @rows
                    .moved_from(fitting.moved_from_id)
                    &.then { |number| Wording.t("web.moved_here_record", number: number) },
                  @rows
                    .moved_to(fitting.id)
                    &.then { |number| Wording.t("web.moved_record", number: number) }
                ].compact.first
              ]
            end
      end

      # The Visit that this patient comes for, where only one is open; nil where that has to be chosen.
      def onward
        return if !clinical? || @patient.rest || @patient.joined_into_id || more?

        open = fittings.flat_map(&:held).reject(&:closed?)
        open.first if open.one?
      end

      # What of a fitting stands and should not wait, in words.
      def concerns(fitting)
        return [] unless clinical?

        @rows
          .dues(fitting.last.fitting.id)
          .select { |row| Store::Day::CONCERNS.key?(row[:kind]) }
          .map { |row| Wording.concern(row) }
      end

      # The Patient whose record this one was joined into, or nil.
      def joined_into = @patient.joined_into_id && Store::Patient[@patient.joined_into_id]

      def state(visit)
        return visit.closed? ? :good : :not_done unless clinical?

        step(visit).state
      end

      def kind(visit)
        return Wording.t("web.first_fitting") if visit.first?

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

      # what each visit needs next, as it is kept beside them
      def step(visit)
        (@steps ||= {})[visit.id] ||= @rows.step_of(visit.id) ||
          visit.by_edition { Fitting::NextStep.of(visit) }
      end
    end
  end
end
