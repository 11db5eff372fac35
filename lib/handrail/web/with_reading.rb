# frozen_string_literal: true

module Handrail
  module Web
    # For pages on which the tape is read: the site that is read now, how, what was read there before, and
    # what is asked about it. A page that includes it answers `current`, the item that is read.
    module WithReading
      UNITS = %w[cm in].freeze
      TENSION_WORDS = Wording.names("tensions")
      TENSIONS = TENSION_WORDS.keys.freeze
      REASONS = Wording.names("strike_reasons").values.freeze

      def unit = @unit ||= sent_unit || asked_unit || visit.clinic.tape_kind.unit
      def asked_unit = (given("unit") if UNITS.include?(given("unit")))
      private :asked_unit

      # a tape that sends millimetres or the other unit decides the strip's
      def sent_unit
        return unless sent

        sent.unit == "mm" ? "cm" : sent.unit
      end

      def posture =
        current.postures.find { |posture| posture == given("posture") } || current.posture
      def tension = typed("tension") || current.tension

      # The tape that values are printed from.
      def tape = @tape ||= tape_for(unit)

      def tape_for(unit)
        own = visit.clinic.tape_kind
        return own if unit == own.unit

        Quantity::Tape[unit == "in" ? "in 1/8" : "cm 1 mm"]
      end
      private :tape_for

      # What is read, as a heading.
      def heading
        site = current.site
        return Wording.t("web.other_side_said", said: site.said) if current.other

        two_sides? && current.side ? "#{current.side.capitalize}: #{site.said}" : current.name
      end

      # How it is read: posture and tension in words.
      def how
        posture = { "raised" => Wording.t("web.lying_after_leg_raised") }.fetch(
          current.posture,
          current.posture
        )
        [posture.capitalize, current.tension, TENSION_WORDS[current.tension]]
      end

      # Where readings come from paper: what is typed of it, by the field's name; it stays for the next ones.
      def on_paper =
        %w[read_time read_on read_by].to_h { |name| [name, typed(name) || given(name)] }
      def on_paper? = on_paper.values_at("read_time", "read_on").any? { |text| !text.to_s.empty? }

      # "2nd reading, last was 37.2 cm"
      def so_far
        rows = rows_here.reject { |row| row[:struck_at] }
        rows.empty? ? nil : [rows.size + 1, rows.last]
      end

      # The readings taken here, oldest first.
      def rows_here = visit.readings_of(current)

      # What is asked of a reading. row; words; meant - what is offered, or nil; outside -
      # whether limbs lie outside the figures that ask.
      Doubt = Value.new(:row, :words, :meant, :outside)

      # The reading in question here, as a Doubt, or nil.
      def doubt
        row = visit.doubts.reverse.find { |one| current&.takes?(one) } or return
        asked = row[:question]
        other = asked["other"] && Anatomy::Vocabulary.default[asked["other"]].short
        Doubt[
          row: row,
          words: Wording.question(asked),
          meant: asked["meant"] || other || asked["side"],
          outside: asked["code"] == "beside"
        ]
      end

      # What stands in the strip: what was typed and not taken, or, marked, what is asked about.
      def in_strip = (in_field if in_strip?) || doubt&.row&.fetch(:typed)
      def marked? = !strip_fault.nil? || (!in_strip? && !doubt.nil?)

      # Where what stands in the strip came from, see `origin`.
      def strip_origin = in_strip? ? origin : {}

      # What is wrong with what stands in the strip, or nil.
      def strip_fault = in_strip? ? fault("value") : nil

      # Readings of today for another device that are what is asked now.
      def read_beside = current ? visit.read_beside(current) : []

      # The site in a list: its side where there are two.
      def name_of(item)
        return Wording.t("web.other_side", site: item.short) if item.other

        text = [two_sides? && item.side ? "#{item.side}," : nil, item.short].compact.join(" ")
        "#{text[0].upcase}#{text[1..]}"
      end

      # What the reading says beside its partner: [state, sentence], or nil.
      def pair
        found = pairing_of(current) or return
        [found.unusual? ? :look_again : nil, Wording.pairing(found.finding)]
      end

      private

      # what came is the tape's, or was typed there: no check's value
      def in_strip? =
        of_device?("tape") || (asked_device.nil? && !typed("value").nil? && typed("check").nil?)

      def again?(item)
        return false if item.other || visit.family.size_rule.by == "sheet"

        visit.sizing.match(item.side || visit.sides.first)&.read_again&.include?(item.site.key)
      end

      # the same site on the other side, or in the other posture
      def pairing_of(item)
        here = visit.repeats_of(item) or return
        partner =
          visit.needs.find do |other|
            other.site == item.site && other != item &&
              (other.side != item.side || other.posture != item.posture)
          end
        there = partner && visit.repeats_of(partner) or return
        sides = partner.side != item.side
        names = sides ? [item.side, partner.side] : [item.posture, partner.posture]
        Measuring::Pairing.new(
          here,
          there,
          kind: sides ? :sides : :postures,
          names: names,
          site: item.site.key,
          precision:
            visit.sizing.precision(visit.sides.include?(item.side) ? item.side : visit.sides.first)
        )
      end

      # a question first, since nothing goes on before it is answered
      def first_open
        visit.needs.find { |item| visit.doubts.any? { |row| item.takes?(row) } } ||
          visit.needs.find { |item| visit.live_readings.none? { |row| item.takes?(row) } } ||
          visit.needs.find { |item| again?(item) } ||
          visit.needs.find { |item| item.side == given("side") } || visit.needs.first
      end
    end
  end
end
