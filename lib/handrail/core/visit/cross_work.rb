# frozen_string_literal: true

module Handrail
  class Visit
    # What the readings of a visit say about one another, about the last visit and about the other
    # limb.
    class CrossWork
      # questions of this kind are this work's; those of a range that no body reaches are
      # Measuring::Plausibility's
      CODES = %w[since other_side along beside].freeze

      def initialize(visit) = @visit = visit

      # What is asked once a reading is there: a Measuring::Witnesses::Saying (its ref is the
      # reading's id, nil for the new one), or nil. values - the reading as it will be kept: :site,
      # :side, :posture, :tension, :typed, :unit, :value_mm.
      def question(values)
        item = @visit.needs.find { |one| one.counts?(values) } or return
        figures = figures_of(values[:side])
        (figures[item.site.key] ||= []) << figure(values)
        Measuring::Witnesses.new(
          figures,
          site: item.site.key,
          past: past(item),
          twin: twin(item),
          other: other(item),
          human: human?,
          change: @visit.family.girth_change,
          quiet: quiet(values[:side])
        ).strongest
      end

      # What a site that was not read yet will probably be, as a Measuring::Consistency::Expected;
      # nil for animals, and where nothing is known.
      def forecast(site, side)
        return unless human?

        @together ||= {}
        (@together[side] ||= @visit.method_of("consistency").new(figures_of(side))).forecast(site)
      end

      private

      def human? = @visit.patient.species == "human"

      # the usable readings that count, of one side and of the trunk
      def figures_of(side)
        items = @visit.needs
        rows =
          @visit.usable_readings.select do |row|
            [side, nil].include?(row[:side]) && items.any? { |item| item.counts?(row) }
          end
        rows.group_by { |row| row[:site] }.transform_values { |own| own.map { |row| figure(row) } }
      end

      def figure(row)
        text = row[:typed].sub(/\s*[[:alpha:]"'″”]+\.?\z/, "").strip
        Measuring::Consistency::Figure[
          mm: row[:value_mm].to_r,
          text: text,
          unit: row[:unit],
          ref: row[:id]
        ]
      end

      def past(item)
        before = @visit.before or return {}
        repeats = before.repeats(item.site.key, item.side, item.posture) or return {}
        days = (day_of(@visit) - day_of(before)).to_i
        { item.site.key => [repeats.mm, [days, 0].max] }
      end

      # the other side of the item at the last visit: [its name, mm], or nil
      def twin(item)
        side = Sides::OTHER[item.side] or return
        read = @visit.before&.repeats(item.site.key, side, item.posture)
        read && [side, read.mm]
      end

      def day_of(visit) = visit.opened_at ? visit.clinic.today(visit.opened_at) : visit.clinic.today

      def other(item)
        partner =
          @visit.needs.find do |one|
            one.site == item.site && one.side != item.side && one.posture == item.posture
          end
        repeats = partner && item.side && @visit.repeats_of(partner)
        repeats ? { item.site.key => repeats.mm } : {}
      end

      # what was answered "it is so" for this wearer, at this visit or before
      def quiet(side)
        answered =
          @visit.rows_so_far(:readings).select { |row| row[:answered_at] && row[:struck_at].nil? }
        rows =
          answered.select do |row|
            [side, nil].include?(row[:side]) && CODES.include?(row[:question].to_h["code"])
          end
        rows.map { |row| [row[:site], row[:question]["high"] ? :high : :low] }.uniq
      end
    end
  end
end
