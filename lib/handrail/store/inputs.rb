# frozen_string_literal: true

require "securerandom"

module Handrail
  module Store
    # What a command takes, with bounds: whatever was sent - nothing, a list where a text is
    # expected, a megabyte, bytes that are no text - becomes a typed value or a refusal that names
    # the field.
    #
    #   Inputs.read(:text, " tape slipped ", "reason", most: 200) # => "tape slipped"
    #   Inputs.read(:id, "99999999999999999999", "reading")      # raises Unacceptable
    module Inputs
      # the largest bigint
      LARGEST_ID = (2**63) - 1
      UUID = /\A\h{8}-\h{4}-\h{4}-\h{4}-\h{12}\z/
      KEY = /\A[\w:.-]{1,80}\z/
      # signs that turn the direction of what follows, of which a name needs none (Unicode Standard Annex
      # 9: embeddings, overrides and isolates); marks within a word stay
      TURNS = /[\u202A-\u202E\u2066-\u2069]/
      TYPES = %i[text line key id keys flag map one_of day time count number].freeze

      class << self
        # type - one of TYPES; raw - what was sent; field - its name in the form; bounds - see each
        # type. Returns the typed value. Raises Unacceptable.
        def read(type, raw, field, **bounds)
          raise ArgumentError, "there is no input type #{type}" unless TYPES.include?(type)

          send(:"read_#{type}", raw, field.to_s, bounds)
        end

        # The key of an entry: the page's own, or a new one where it sent none that can be used.
        def entry_key(raw) =
          raw.is_a?(String) && raw.match?(UUID) ? raw.downcase : SecureRandom.uuid

        # A whole number from what was sent, or nil.
        def whole(raw, range)
          number = raw.is_a?(Integer) ? raw : Integer(raw.to_s.strip[0, 24], 10, exception: false)
          number if number && range.cover?(number)
        end

        private

        # text that is there. missing - what to say when it is not; most, least - characters
        def read_text(raw, field, bounds)
          text = tidy(raw, field, bounds.fetch(:most, 2000))
          # what can not be seen is no text
          if text.gsub(/[\p{Cf}\p{Z}\p{Cc}]/, "").empty?
            raise Unacceptable.new(field, bounds[:missing] || "Write something here first.")
          end
          letters = bounds.key?(:least) ? text.scan(/[\p{L}\p{N}]/).size : text.length
          if letters < bounds.fetch(:least, 1)
            raise Unacceptable.new(field, bounds[:short] || "Write that in a few words.")
          end

          text
        end

        # text that may be missing: nil then
        def read_line(raw, field, bounds)
          text = tidy(raw, field, bounds.fetch(:most, 2000))
          text.empty? ? nil : text
        end

        # the key of something; nil when empty
        def read_key(raw, field, bounds)
          text = tidy(raw, field, 80)
          return if text.empty? && !bounds[:missing]
          unless text.match?(KEY)
            raise Unacceptable.new(field, bounds[:missing] || "Choose one of those shown.")
          end

          text
        end

        def read_id(raw, field, bounds)
          return bounds[:default] if bounds.key?(:default) && raw.to_s.strip.empty?

          whole(raw, 1..LARGEST_ID) or
            raise Unacceptable.new(
                    field,
                    bounds[:missing] || "There is nothing of that number here."
                  )
        end

        # several keys; what is none of them is left out
        def read_keys(raw, _field, _bounds)
          list = raw.is_a?(Array) ? raw : [raw].compact
          list
            .first(100)
            .select { |key| key.is_a?(String) && key.valid_encoding? && key.match?(KEY) }
            .uniq
        end

        def read_flag(raw, _field, _bounds) = [true, "yes", "1", "true", "on"].include?(raw)

        # key => text
        def read_map(raw, field, bounds)
          hash = raw.is_a?(Hash) ? raw : {}
          if hash.size > bounds.fetch(:most, 100)
            raise Unacceptable.new(field, "That is more than fits in one form.")
          end

          hash.to_h do |key, value|
            [tidy(key, field, 80), value_of(value, "#{field}[#{key}]", bounds)]
          end
        end

        def value_of(value, field, bounds)
          if value.is_a?(Array) && bounds[:lists]
            return value.map { |one| tidy(one, field, 200) }.first(100)
          end

          tidy(value, field, 2000)
        end

        def read_one_of(raw, field, bounds)
          allowed = bounds.fetch(:of)
          text = tidy(raw, field, 80)
          return bounds[:default] if text.empty? && bounds.key?(:default)
          return text if allowed.include?(text)

          raise Unacceptable.new(field, bounds[:missing] || "Choose one of #{allowed.join(", ")}.")
        end

        def read_day(raw, field, _bounds)
          Quantity::Day.read(tidy(raw, field, 40))
        rescue Quantity::Day::Unreadable => e
          raise Unacceptable.new(field, e.message)
        end

        # [hour, minute]
        def read_time(raw, field, _bounds)
          text = tidy(raw, field, 10)
          match = text.match(/\A([01]?\d|2[0-3])[:.]([0-5]\d)\z/) or
            raise Unacceptable.new(field, "“#{text}” is no time of day. Write it like 09:40.")
          match.captures.map(&:to_i)
        end

        def read_count(raw, field, bounds)
          range = bounds.fetch(:within)
          return bounds[:default] if bounds.key?(:default) && raw.to_s.strip.empty?

          whole(raw, range) or
            raise Unacceptable.new(
                    field,
                    bounds[:missing] || "Write a whole number from #{range.min} to #{range.max}."
                  )
        end

        # an exact number
        def read_number(raw, field, bounds)
          Families::Number.read(tidy(raw, field, 20)) or
            raise Unacceptable.new(field, bounds[:missing] || "Write a number, like 6 or 6.5.")
        end

        # text as it can be kept: valid, without NUL, not longer than it may be
        def tidy(raw, field, most)
          return "" if raw.nil?
          unless raw.is_a?(String) || raw.is_a?(Numeric) || raw.is_a?(Symbol)
            raise Unacceptable.new(field, "That can not be read as a text.")
          end

          text = raw.to_s
          text = text.dup.force_encoding(Encoding::UTF_8) unless text.encoding == Encoding::UTF_8
          if !text.valid_encoding? || text.include?("\0")
            raise Unacceptable.new(field, "That can not be read as a text.")
          end

          if text.match?(TURNS)
            raise Unacceptable.new(
                    field,
                    "There is a sign in it that is not seen and turns the way it is read. Type it by hand."
                  )
          end

          text = text.strip
          return text if text.length <= most

          raise Unacceptable.new(
                  field,
                  "That is longer than #{most} characters. Shorten it; what you typed is still here."
                )
        end
      end
    end
  end
end
