# frozen_string_literal: true

module Handrail
  module Fitting
    # What a setting may not pass: another setting, as it is typed now or was written, else a field of the order. A
    # setting that is called as a field of the order is bounded by the order's, never by itself. Where the order says
    # nothing of it, nothing bounds it.
    #
    #   SettingBounds.new(settings, fields: family.fields, config: { "range" => "20" }, typed: { "range" => "60" })
    #     .passed # => [Passed[field: range, text: "60", label: "Range allowed now", bound: 20, by: "range"]]
    #
    # It says nothing of whether a value can be read, and puts nothing in words.
    class SettingBounds
      # A setting that passes its bound: bound - mm of a length, else the number; nil where what bounds it is not known
      # yet. by - the key of what bounds it.
      Passed =
        Value.new(:field, :text, :label, :bound, :by) do
          # What bounds it, as it is written: "90 mm", "20".
          def bound_said =
            if field.type == "length"
              Quantity::Length.mm(bound).plain("mm")
            else
              Families::Number.print(bound)
            end
        end

      # settings - [[Families::Field, row or nil], ...]; fields - of the order; config - what is ordered or allowed now,
      # key => text; typed - key => text of the settings that are written now, each of which can be read
      def initialize(settings, fields:, config:, typed: {})
        @settings = settings
        @fields = fields
        @config = config
        @typed = typed
      end

      # What passes of the settings that are written now, and of those that they bound; one of each.
      def passed = found { |field, key| @typed.key?(field.key) || @typed.key?(key) }

      # What passes of all that is written, where what bounds it is known.
      def standing = found { true }.select(&:bound)

      private

      def found
        @settings.filter_map do |field, row|
          text = @typed[field.key] || (row && row[:typed]) or next
          ends(field)
            .select { |key, _| yield field, key }
            .filter_map { |key, way| past(field, text, key, way) }
            .first
        end
      end

      # [[what bounds it, 1 where it may not be more], ...]
      def ends(field) = [[field.at_most, 1], [field.at_least, -1]].select(&:first)

      def past(field, text, key, way)
        by, typed = bounding(field, key)
        return if typed.nil? && @fields.include?(by)

        bound = typed && amount(by, typed)
        return if bound && (amount(field, text) <=> bound) != way

        Passed[field: field, text: text, label: by.label, bound: bound, by: key]
      end

      # what bounds a field, and as which text it is known; nil where it is not
      def bounding(field, key)
        other, row = @settings.find { |one, _| one.key == key && one != field }
        return other, @typed[key] || (row && row[:typed]) if other

        [@fields.find { |one| one.key == key }, @config[key].to_s[/.+/]]
      end

      def amount(field, text)
        return Families::Number.read(text) unless field.type == "length"

        Quantity::Length.parse(text, unit: field.unit).mm
      end
    end
  end
end
