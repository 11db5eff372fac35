# frozen_string_literal: true

module Handrail
  module Sizing
    # What the computed sheets share. A sheet is named in a family's `derive`; a subclass computes
    # it from its inputs.
    #
    # A sheet that gives other figures than before is a subclass with the number of the method, such as StaysV2.
    #
    #   INPUTS name => :length, :lengths, :number or :word, each with a trailing ? where it may be missing
    #   (:length?)
    #   compute  returns a Sheet through #sheet; inputs are methods
    class SheetMaker
      # Whether it only tells something, and makes, cuts or holds nothing.
      INFORMS = false

      class << self
        # Makes the sheet. title; inputs - name => Length, [Length], number or word, nil where it is
        # missing; names
        # - name => what it is called, for what is missing.
        def make(title, inputs, names: {})
          missing = self::INPUTS.reject { |name, type| type.end_with?("?") || inputs[name] }.keys
          return new(title, inputs).compute if missing.empty?

          said =
            missing.map do |name|
              called = names.fetch(name, name.to_s.tr("_", " "))
              Remark[code: "missing.reading", figures: { what: called }]
            end
          Sheet[key: key, title: title, state: :not_done, lines: [], notes: [], missing: said]
        end

        def key = name[/\w+\z/].gsub(/([a-z])([A-Z])/, '\1_\2').downcase.sub(/_v\d+\z/, "")
      end

      def initialize(title, inputs)
        @title = title
        @inputs = inputs
        @lines = []
        @notes = []
      end

      private

      def input(name) = @inputs[name]
      def mm(name) = @inputs[name]&.mm

      # value - exact mm, figures as a text, or a Symbol that is worded; figures - see Remark, exact
      # mm are printed
      def line(key, value, **figures)
        about = Remark[code: "#{self.class.key}.lines.#{key}", figures: printed(figures)]
        @lines << SheetLine[
          key: key,
          value: value.is_a?(Numeric) ? print(value) : value,
          about: about
        ]
      end

      def note(key, state = nil, **figures)
        remark = Remark[code: "#{self.class.key}.notes.#{key}", figures: printed(figures)]
        @notes << SheetNote[key: key, state: state, remark: remark]
      end

      def printed(figures)
        figures.transform_values do |value|
          case value
          when Rational
            print(value)
          when Array
            value.map { |mm| print(mm) }
          else
            value
          end
        end
      end

      # the exact mm as a fitter writes it: to the mm, in cm from 10 cm on
      def print(mm)
        rounded = Rational(mm).round(1)
        return "#{format("%g", rounded.to_f)} mm" if rounded.abs < 100

        "#{format("%g", (rounded / 10).to_f.round(1))} cm"
      end

      # drawn - makes the Piece to scale
      def sheet(size:, state: nil, drawn: nil, count: nil, worn: nil)
        worst = (@notes.map(&:state) & %i[stop look_again]).include?(:stop) ? :stop : nil
        worst ||= @notes.any? { |n| n.state == :look_again } ? :look_again : :good
        Sheet[
          key: self.class.key,
          title: @title,
          state: state || worst,
          size: size,
          lines: @lines.freeze,
          notes: @notes.freeze,
          piece: drawn&.call,
          missing: [],
          count: count,
          worn: worn
        ]
      end
    end
  end
end
