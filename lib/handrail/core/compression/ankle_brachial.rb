# frozen_string_literal: true

module Handrail
  # Pressure on a limb.
  module Compression
    # The ankle-brachial pressure index of a leg: the higher of its ankle systolic pressures over
    # the higher arm systolic. Limits: below 0.5 no compression and urgent referral, 0.5 to 0.8 only
    # on a specialist's word, above 1.3 unreliable (wound-care consensus documents, from memory).
    class AnkleBrachial
      LIMITS = { least: Rational(1, 2), plain: Rational(4, 5), most: Rational(13, 10) }.freeze
      # plausible systolic pressures in mmHg; outside them the figure is asked about
      PLAUSIBLE = (30..300)
      ARMS = %w[arm_left arm_right].freeze
      ANKLES = {
        "left" => %w[ankle_left_front ankle_left_back],
        "right" => %w[ankle_right_front ankle_right_back]
      }.freeze
      LABELS = {
        "arm_left" => "Left arm",
        "arm_right" => "Right arm",
        "ankle_left_front" => "Left foot, on top",
        "ankle_left_back" => "Left ankle, behind the bone",
        "ankle_right_front" => "Right foot, on top",
        "ankle_right_back" => "Right ankle, behind the bone"
      }.freeze

      # state - :good, :look_again or :stop; side; index - Rational or nil; code - :unknown, :low,
      # :specialist, :stiff or :sound
      Finding = Value.new(:side, :index, :state, :code)

      # typed - field => text, empty ones are passed over. Returns [AnkleBrachial, {}], or [nil,
      # faults by field].
      def self.read(typed)
        faults = {}
        values =
          LABELS
            .keys
            .filter_map do |key|
              text = typed[key].to_s.strip
              [key, pressure(text)] unless text.empty?
            rescue Quantity::Pressure::Unreadable => e
              faults[key] = "#{LABELS[key]}: #{e.message}"
              nil
            end
            .to_h
        faults.any? ? [nil, faults] : [new(values), {}]
      end

      def self.pressure(text)
        Quantity::Pressure
          .parse(text)
          .tap do |pressure|
            next if PLAUSIBLE.cover?(pressure.mmhg)

            raise Quantity::Pressure::Unreadable,
                  "#{pressure} is no systolic pressure. Look at the figure again."
          end
      end
      private_class_method :pressure

      # values - field => Quantity::Pressure
      def initialize(values)
        @values = values.freeze
        freeze
      end

      def empty? = @values.empty?

      # The index of a side, exact, or nil where arm or ankle is missing.
      def index(side)
        arm = highest(ARMS)
        ankle = highest(ANKLES.fetch(side))
        arm && ankle && (ankle.mmhg / arm.mmhg)
      end

      # sides - those to be compressed. Returns Findings.
      def findings(sides) = sides.map { |side| finding(side) }

      private

      def highest(keys) = @values.values_at(*keys).compact.max

      def finding(side)
        value = index(side)
        state, code = judge(value)
        Finding[side: side, index: value, state: state, code: code]
      end

      def judge(value)
        return %i[look_again unknown] if value.nil?
        return %i[stop low] if value < LIMITS[:least]
        return %i[look_again specialist] if value < LIMITS[:plain]
        return %i[look_again stiff] if value > LIMITS[:most]

        %i[good sound]
      end
    end
  end
end
