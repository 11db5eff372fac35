# frozen_string_literal: true

module Handrail
  module Store
    # Everything that can be written, one action a method, grouped by subject. Each takes a Ledger (who writes, and what they had seen)
    # and the VisitRecord; each asks the core whether it may be, on the record as it stands when the visit is locked.
    module Entries
      # The form's text, or a refusal that names the field.
      def self.said(text, field, sentence)
        text = text.to_s.strip
        raise Unacceptable.new(field, sentence) if text.empty?
        raise Unacceptable.new(field, "That is longer than 2000 characters. Shorten it; what you typed is still here.") if text.length > 2000

        text
      end

      # An optional text: nil when empty.
      def self.optional(text) = text.to_s.strip.then { |t| t.empty? ? nil : t[0, 2000] }

      # Raises Refused when a stage is not open.
      def self.pass(record, stage)
        blocks = record.progress.blocks(stage)
        raise Refused, blocks if blocks.any?
      end

      def self.uuid(text)
        text.to_s.match?(/\A\h{8}-\h{4}-\h{4}-\h{4}-\h{12}\z/) ? text : SecureRandom.uuid
      end
    end
  end
end
