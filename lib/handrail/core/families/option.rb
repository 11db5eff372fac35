# frozen_string_literal: true

module Handrail
  module Families
    # A setting of a product, with its default: one of its choices, a length, several lengths, or a
    # number. least, most - bounds of a number, or of each length as a text with a unit.
    Option =
      Value.new(:key, :label, :type, :default, :choices, :least, :most) do
        def choice(key) = choices&.find { |choice| choice.key == key }
        def choice? = type.nil? || type == "choice"

        # The value as the core takes it: a key, a Length, an Array of Lengths or a Rational.
        # Raises Quantity::Length::Unreadable, or ArgumentError for what is no number.
        def value(raw)
          case type
          when "length"
            Quantity::Length.parse(raw)
          when "lengths"
            Array(raw).map { |text| Quantity::Length.parse(text) }
          when "number"
            Number.read(raw) || raise(ArgumentError, "no number")
          else
            raw
          end
        end

        # What is wrong with a typed value, in words, or nil.
        def fault(raw)
          if choice?
            return("#{label}: choose one of #{choices.map(&:label).join(", ")}." unless choice(raw))
          end

          bound_fault(value(raw), raw)
        rescue Quantity::Length::Unreadable => e
          "#{label}: #{e.message}"
        rescue ArgumentError, TypeError
          "#{label}: “#{raw.to_s[0, 20]}” is not a number."
        end

        def print(raw) = choice? ? (choice(raw)&.label || raw).to_s : Array(raw).join(", ")

        private

        def bound_fault(value, raw)
          return "#{label}: name at least one." if value == []

          low, high =
            [least, most].map do |bound|
              bound.is_a?(String) ? Quantity::Length.parse(bound) : bound
            end
          outside = Array(value).any? { |one| (low && one < low) || (high && one > high) }
          if outside
            "#{label}: #{Array(raw).join(", ")[0, 40]} lies outside #{least || "nothing"} to #{most}."
          end
        end
      end
  end
end
