# frozen_string_literal: true

module Handrail
  module Families
    # Something asked for: a choice, a text, a number or a length. demand - true where it says what
    # the prescription demands or forbids; same_as - the option of the product that must be chosen
    # alike; record - true where it is kept for the record alone; clinics - true
    # where the wearer never sets it; held_by - the checks that hold it;
    # at_most, at_least - the setting or the field of the order that it may not pass; once - true where it is
    # asked of the wearer, not of each device of a pair.
    Field =
      Value.new(
        :key,
        :label,
        :type,
        :unit,
        :required,
        :demand,
        :same_as,
        :part_of_name,
        :hint,
        :least,
        :most,
        :record,
        :clinics,
        :held_by,
        :at_most,
        :at_least,
        :once,
        :when,
        :choices
      ) do
        include Conditional

        def choice(key) = choices.find { |choice| choice.key == key }

        # What is wrong with a typed value, in words, or nil.
        def fault(text)
          text = text.to_s.strip
          return required ? "#{label}: this is needed before measuring." : nil if text.empty?

          case type
          when "choice"
            "#{label}: choose one of #{choices.map(&:label).join(", ")}." unless choice(text)
          when "number"
            number_fault(text)
          when "length"
            length_fault(text)
          else
            if text.length > Field::LONGEST
              "#{label}: that is longer than #{Field::LONGEST} characters. Shorten it."
            end
          end
        end

        # A typed value as it is compared: a number, however it is written, in one way.
        def plain(text)
          number = type == "number" && Number.read(text.to_s)
          number ? Number.print(number) : text.to_s
        end

        # The value in words for a record.
        def print(value) =
          type == "choice" ? (choice(value)&.label || value) : [value, unit].compact.join(" ")

        # A kept row of it in words: a length in mm, else as it was typed. row - with :value_mm and
        # :typed.
        def say(row)
          row[:value_mm] ? Quantity::Length.mm(row[:value_mm].to_r).plain("mm") : print(row[:typed])
        end

        private

        def number_fault(text)
          number = Number.read(text)
          return "#{label}: “#{text[0, 20]}” is not a number. Write it like 6 or 6.5." unless number

          if (least && number < least) || (most && number > most)
            "#{label}: #{text} lies outside #{least} to #{most}."
          end
        end

        def length_fault(text)
          Quantity::Length.parse(text, unit: unit) && nil
        rescue Quantity::Length::Unreadable => e
          "#{label}: #{e.message}"
        end
      end

    # the most characters of a text
    Field::LONGEST = 2000
  end
end
