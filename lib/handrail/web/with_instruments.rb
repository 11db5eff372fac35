# frozen_string_literal: true

module Handrail
  module Web
    # Pages on which a value can come from a device: it lands in the field, and is taken like one that
    # was typed.
    module WithInstruments
      # The Instruments::Reading that was just sent, or nil.
      attr_accessor :sent

      # What could not be had from a device, in words, or nil.
      attr_accessor :silent

      # Which device was asked, see Instruments::KINDS, or nil.
      attr_accessor :asked_device

      # Whether the instrument is at this bench, so that what it sends arrives by itself.
      def here?(kind) = writable? && Store::DeviceBenches.at?(kind, account)

      # Where a page asks whether something arrived.
      def arrives(kind) = "/visits/#{visit.id}/arrived?kind=#{kind}&opened=#{opened}"

      # Whether this device answered, or was asked and is silent.
      def of_device?(kind) = asked_device == kind
      def sent_to?(kind) = of_device?(kind) && !sent.nil?

      # When this page was made, in seconds since 1970: what a device read before is not taken into it.
      def opened = Store.now.to_i

      # What stands in the field: what was typed, or sent; with its unit where that is not the field's.
      def in_field = typed("value") || sent_text || (given("value") if silent)

      def sent_text
        return unless sent

        %w[mm kPa].include?(sent.unit) ? "#{sent.value} #{sent.unit}" : sent.value
      end

      # The instrument that answers a check, see Instruments.answering.
      def answers(item) = Instruments.answering(item.check.kind)

      # Whether a check's instrument was asked, or its value typed.
      def check_asked?(item) =
        (asked_device && asked_device == answers(item)) || typed("check") == item.check.key

      # Where a check's value came from, see `origin`: one instrument's is no other's.
      def check_origin(item) = check_asked?(item) ? origin : {}

      # Hidden fields that say where the value came from: name => value.
      def origin
        return { "source" => sent.kind, "message" => sent.message, "sent" => sent_text } if sent
        return {} unless typed("message")

        %w[source message sent].to_h { |name| [name, typed(name)] }
      end
    end
  end
end
