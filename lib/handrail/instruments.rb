# frozen_string_literal: true

require "yaml"

module Handrail
  # Devices outside: a digital tape and a pressure sensor, behind the line protocol that a real one
  # would speak (docs/instruments.md). What ships here are stand-ins of their own process.
  #
  #   reading = Instruments.at("tape").newest   # => Reading[value: "37.3", unit: "cm", message: "HT-7:12", ...]
  module Instruments
    # What a device sent. value - a text as it came; unit; message - the device's own number of it, with the
    # device's name and the second in which its button was pressed ("HT-7:12@1796027263"), so that the same one is
    # never taken twice, and another one of that number is; age - whole seconds since the button was pressed; battery -
    # percent or nil; restarted - whether the device counts from the beginning again.
    Reading =
      Value.new(:kind, :value, :unit, :message, :age, :battery, :restarted) do
        def low? = !battery.nil? && battery < 15

        # [name of the device, number, second of the press]
        def press =
          message
            .match(/\A(.+):(\d+)@(\d+)\z/)
            .captures
            .then { |name, *told| [name, *told.map(&:to_i)] }
      end

    # What was sent lately, see Presses.
    PRESSES = Presses.new
    private_constant :PRESSES

    # Nothing can be had from a device; the message says why, and what to do meanwhile.
    class Silent < Handrail::Error
    end

    # What instruments there are, by their keys: see kinds.yml.
    KINDS =
      YAML
        .safe_load_file(File.join(__dir__, "instruments", "kinds.yml"))
        .to_h { |key, raw| [key, Kind.read(raw)] }
        .then { |all| Memory.freeze(all) }

    class << self
      # The Client of a kind, or nil where none is set up. presses - what knows what was sent lately
      def at(kind, presses: PRESSES)
        host, port = address(kind).split(":")
        Client.new(kind, host, Integer(port), presses: presses) if host && port
      rescue ArgumentError
        nil
      end

      def there?(kind) = !address(kind).empty?

      # The key of the instrument that answers checks of a kind, whether it is set up or not; nil where there is none.
      # check - a key of Fitting::Kind
      def answering(check) = KINDS.find { |_, kind| kind.check == check }&.first

      # The setting that says where one is found: "127.0.0.1:8481".
      def setting(kind) = "HANDRAIL_#{kind.upcase}"

      private

      def address(kind) = ENV.fetch(setting(kind), "")
    end
  end
end
