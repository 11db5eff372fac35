# frozen_string_literal: true

module Handrail
  # Device families: the protocol of each, and what a protocol is made of.
  module Families
    # Whether something of a family applies, from its `when:`: every key named there must have one of the values given.
    module Conditional
      def applies?(config) = (self.when || {}).all? { |key, values| Array(values).include?(config[key]) }
    end

    # One choice of a field or option. said - the words inside a sentence; says - its reason; stop - true where choosing it is a stop sign.
    Choice = Value.new(:key, :label, :said, :says, :stop) do
      def in_words = said || label
    end

    # Something asked for: a choice, a text, a number or a length. demand - true where it says what the prescription demands or forbids;
    # same_as - the option of the product that must be chosen alike.
    Field = Value.new(:key, :label, :type, :unit, :required, :demand, :same_as, :part_of_name, :hint, :least, :most, :when, :choices) do
      include Conditional

      def choice(key) = choices.find { |choice| choice.key == key }

      # What is wrong with a typed value, in words, or nil.
      def fault(text)
        text = text.to_s.strip
        return required ? "#{label}: this is needed before measuring." : nil if text.empty?

        case type
        when "choice" then "#{label}: choose one of #{choices.map(&:label).join(', ')}." unless choice(text)
        when "number" then number_fault(text)
        when "length" then length_fault(text)
        end
      end

      # The value in words for a record.
      def print(value) = type == "choice" ? (choice(value)&.label || value) : [value, unit].compact.join(" ")

      private

      def number_fault(text)
        return "#{label}: “#{text}” is not a number. Write it like 6 or 6.5." unless text.match?(/\A-?\d+([.,]\d+)?\z/)

        number = text.tr(",", ".").to_f
        "#{label}: #{text} lies outside #{least} to #{most}." if (least && number < least) || (most && number > most)
      end

      def length_fault(text)
        Quantity::Length.parse(text, unit: unit) && nil
      rescue Quantity::Length::Unreadable => e
        "#{label}: #{e.message}"
      end
    end

    # A prompt to ask or to look for.
    Prompt = Value.new(:key, :text)

    # One step of preparing or applying. strap - the strap it closes; first - true when no other strap may be closed before it, why - the
    # reason; opens - the checks to look at again once it is done.
    Step = Value.new(:key, :title, :do, :strap, :first, :why, :landmark, :when, :opens) do
      include Conditional
    end

    # Something looked at, with what counts as good. limit - a Length, for the kinds at_most, under and at_least.
    Check = Value.new(:key, :title, :hint, :ask, :posture, :final, :when, :kind, :limit) do
      include Conditional

      def measured? = kind != "yes_no"

      # Whether a measured value is good. length - a Length.
      def good?(length)
        case kind
        when "at_most" then length <= limit
        when "under" then length < limit
        when "at_least" then length >= limit
        end
      end

      # The criterion in words: "within 5 mm".
      def criterion
        { "at_most" => "within", "under" => "under", "at_least" => "at least" }[kind]&.then { |word| "#{word} #{limit.plain('mm')}" }
      end
    end

    # Something to change. opens - checks to look at again; goes_to - the stage it leads to, when it leads away; last - offered only when
    # the others are used up.
    Remedy = Value.new(:key, :title, :why, :last, :when, :straps, :opens, :goes_to) do
      include Conditional
    end

    # Something wrong, with what to try in order. shows_in - the checks in which it shows.
    Problem = Value.new(:key, :title, :shows_in, :remedies)

    # A setting of a product, with its default: one of its choices, a length, several lengths, or a number.
    Option = Value.new(:key, :label, :type, :default, :choices) do
      def choice(key) = choices&.find { |choice| choice.key == key }
      def choice? = type.nil? || type == "choice"

      # The value as the core takes it: a key, a Length, an Array of Lengths or a number. Raises Quantity::Length::Unreadable.
      def value(raw)
        case type
        when "length" then Quantity::Length.parse(raw)
        when "lengths" then raw.map { |text| Quantity::Length.parse(text) }
        when "number" then raw.to_s.include?(".") ? Float(raw) : Integer(raw)
        else raw
        end
      end

      # What is wrong with a typed value, in words, or nil.
      def fault(raw)
        return ("#{label}: choose one of #{choices.map(&:label).join(', ')}." unless choice(raw)) if choice?

        value(raw) && nil
      rescue Quantity::Length::Unreadable => e
        "#{label}: #{e.message}"
      rescue ArgumentError, TypeError
        "#{label}: “#{raw}” is not a number."
      end

      def print(raw) = choice? ? (choice(raw)&.label || raw).to_s : Array(raw).join(", ")
    end

    # What is to be measured. use - "size" (always), "size_if_charted" or "record"; other_side - "record" where the other limb is read
    # too; posture, tension - where they are not the site's own.
    Need = Value.new(:site, :posture, :tension, :use, :other_side, :when) do
      include Conditional
    end

    # How the size is found: by "chart", by "trial" or by "sheet" (which one). asks, small, large - what is looked for in a trial;
    # all_must_fit - true where one size must hold every reading, and made to measure follows else.
    SizeRule = Value.new(:by, :sheet, :asks, :small, :large, :all_must_fit)

    # A sheet to compute. inputs - name => { "reading" =>, "posture" => } or { "field" => } or { "option" => }
    Derive = Value.new(:sheet, :title, :inputs, :when) do
      include Conditional
    end

    # A field of the order that may not pass an option of the product.
    Limit = Value.new(:field, :option, :says)

    # A strap, numbered in closing order; level - its height on the reference figure.
    Strap = Value.new(:key, :label, :number, :level, :end)

    # A planned recheck: a window in days after hand-over, or a rhythm.
    PlannedRecheck = Value.new(:key, :label, :from_days, :to_days, :every_days, :slack_days)

    # A row of the configuration table: what follows from the order.
    Configuration = Value.new(:when, :gives, :says) do
      include Conditional
    end
  end
end
