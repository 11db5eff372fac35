# frozen_string_literal: true

module Handrail
  module Web
    # What the bench shows of measuring: the figure with its tape lines, the list of sites, and the one being read.
    module BenchView
      # state - a mark; pair - what the reading says beside its partner (other side, other posture), or nil
      Line = Value.new(:item, :state, :value, :note, :pair, :current)

      # two feet side by side have less room than one
      SMALLER_BESIDE = 0.84

      def lines = @lines ||= record.needs.map { |item| line(item) }
      def current = @current ||= record.needs.find { |item| item.key == given("at") } || first_open
      def rows_here = record.readings_of(current)
      def last_here = rows_here.reject { |row| row[:struck_at] }.last
      def doubt_here = record.doubts.find { |row| current.takes?(row) }

      def unit = %w[cm in].find { |unit| unit == given("unit") } || record.clinic.tape_kind.unit
      def posture = current.postures.find { |posture| posture == given("posture") } || current.posture

      # What the current reading says beside its partner, as a Measuring::Pairing, or nil.
      def pairing = pairing_of(current)

      # the unit in which the question's reading would be likely
      def meant
        row = doubt_here or return
        Handrail::Measuring::Plausibility.judge(current.site, Quantity::Length.mm(row[:value_mm].to_r), typed_unit: row[:unit],
                                                                                                        species: record.patient.species)
      end

      # The figure of the site being read, or of the device; both limbs where both are ordered.
      def figure
        shown = name == :measure && current ? Anatomy::Figure.fetch(current.site.figure) : record.figure
        return drawing(shown, figure_side(shown)).to_s unless shown.mirrored? && record.sides.size > 1

        left, right = [["left", 268], ["right", 112]].map { |side, centre| drawing(shown, side, centre: centre, slim: true) }
        Drawings::Figure.pair(left, right, label: [right.label, left.label].join("; "))
      end

      # The device on the figure, its straps as far as they are closed.
      def device_figure
        raw = record.family.drawing or return figure
        straps = record.family.straps.select(&:level).map { |strap| Drawings::Figure::Strap[number: strap.number, level: metres(strap.level), state: strap_state(strap)] }
        hinge = raw["hinge"][record.config["height_landmark"]] || raw["hinge"].values.first
        device = Drawings::Figure::Device[shells: raw["shells"].map { |s| [metres(s["from"]), metres(s["to"])] }, hinge: hinge && metres(hinge),
                                          upright: record.configuration&.gives.to_h["upright"] || (hinge && "outer"), straps: straps]
        Drawings::Figure.new(record.figure, profile: record.profile(record.figure, side), side: side || figure_side(record.figure),
                                            device: device).to_s
      end

      private

      def drawing(shown, side, **how)
        profile = shown.reference && record.profile(shown, record.sides.include?(side) ? side : record.sides.first)
        Drawings::Figure.new(shown, profile: profile, side: side, tapes: tapes(shown, side), bracket: how[:slim] ? nil : bracket(side),
                                    grown: grown(shown, side), **how)
      end

      # a limb has a side; the side view of a trunk is seen from the left
      def figure_side(shown)
        return unless shown.mirrored?

        (name == :measure && current&.side) || record.sides.first || "left"
      end

      # how much larger than the reference, across and along, for a figure that follows lengths
      def grown(shown, side)
        return [1, 1] unless (by = shown.follows)

        across, along = [[by["width"], by["reference_width"]], [by["length"], by["reference"]]].map do |site, reference|
          value = record.repeats(site, side)
          value ? (value.mm.to_f / reference).clamp(0.7, 1.25) : 1.0
        end
        beside = record.sides.size > 1 ? SMALLER_BESIDE : 1
        [across * beside, along * beside]
      end

      def tapes(shown, side)
        here = name == :measure ? current : nil
        record.needs.select { |item| item.site.figure == shown.key && (item.side.nil? || item.side == side) }.map do |item|
          value = record.repeats_of(item)
          state = if item == here
                    :active
                  else
                    value ? :done : :waiting
                  end
          Drawings::Figure::Tape[site: item.site, name: item.short, value: value && value.length.to_s(tape), state: state]
        end
      end

      # the distance from the landmark, for the site being read on this side
      def bracket(side)
        site = name == :measure ? current&.site : nil
        site if site&.level && site.from && site.offset && !site.offset.mm.zero? && (current.side.nil? || current.side == side)
      end

      def tape = if unit == record.clinic.tape_kind.unit
                   record.clinic.tape_kind
                 else
                   Quantity::Tape[unit == "in" ? "in 1/8" : "cm 1 mm"]
                 end

      def line(item)
        rows = record.readings_of(item).reject { |row| row[:struck_at] }
        repeats = record.repeats_of(item)
        found = pairing_of(item)
        Line[item: item, current: item == current, state: line_state(item, rows, repeats, found), value: repeats&.length,
             note: line_note(item, rows, repeats), pair: found]
      end

      # the same site on the other side, or in the other posture
      def pairing_of(item)
        here = record.repeats_of(item) or return
        partner = record.needs.find do |other|
          other.site == item.site && other != item && (other.side != item.side || other.posture != item.posture)
        end or return
        there = record.repeats_of(partner) or return
        sides = partner.side != item.side
        Handrail::Measuring::Pairing.new(here, there, kind: sides ? :sides : :postures,
                                                      names: sides ? [item.side, partner.side] : [item.posture, partner.posture], site: item.site.key)
      end

      def line_state(item, rows, repeats, pairing)
        return :not_done if rows.empty?
        return :look_again if rows.any? { |row| record.doubtful?(row) } || repeats.nil? || !repeats.agree?

        (item.decides && again?(item)) || pairing&.unusual? ? :look_again : :good
      end

      def again?(item)
        return false if item.other || record.family.size_rule.by == "sheet"

        record.match(item.side || record.sides.first)&.read_again&.include?(item.site.key)
      end

      def line_note(item, rows, repeats)
        return item.decides ? "the size hangs on it" : "for the record" if rows.empty?
        return "is that right?" if rows.any? { |row| record.doubtful?(row) }

        count = "#{rows.size} #{rows.one? ? 'reading' : 'readings'}"
        item.decides && repeats&.wish ? "#{count}, #{repeats.wish}" : count
      end

      def first_open = record.needs.find { |item| unread?(item) } || record.needs.find { |item| again?(item) } || record.needs.first
      def unread?(item) = record.live_readings.none? { |row| item.takes?(row) }
    end
  end
end
