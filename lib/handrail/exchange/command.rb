# frozen_string_literal: true

require "optparse"

module Handrail
  module Exchange
    # What the commands that read a file and print rows have in common: how they are called, and how
    # they say what is wrong. A subclass gives USAGE, COLUMNS, NUMBERS (columns that are numbers),
    # NEEDED (options that must be given), `self.define(parser, given)` for its own options, and
    # `rows(out)`, which puts rows into `out` with <<; another `status` than 0 where rows are findings.
    class Command
      # arguments - those after the command's name; out, err - where to print. Returns the exit
      # status: 0, or 2 for a fault in call or files.
      def self.run(arguments, out: $stdout, err: $stderr)
        command = new(options(arguments))
        command.put(out)
        command.status
      rescue Handrail::Error, OptionParser::ParseError => e
        err.puts(
          e.is_a?(OptionParser::ParseError) ? "#{e.message}. Call it so: #{self::USAGE}" : e.message
        )
        2
      end

      def self.options(arguments)
        given = { format: "csv" }
        parser =
          OptionParser.new(self::USAGE) do |o|
            o.on("--format FORMAT", %w[csv json], "csv (default) or json") do |v|
              given[:format] = v
            end
            define(o, given)
          end
        rest = parser.parse(arguments)
        raise OptionParser::NeedlessArgument, rest.first if rest.any?

        self::NEEDED.each do |key|
          raise OptionParser::MissingArgument, "--#{key}" unless given[key]
        end
        given
      end
      private_class_method :options

      def initialize(options) = @options = options

      def format = @options[:format]

      # Prints all rows.
      def put(out)
        BatchOutput
          .new(self.class::COLUMNS, numbers: self.class::NUMBERS, format: format)
          .print(out) { |printed| rows(printed) }
      end

      # The exit status once all is printed.
      def status = 0

      private

      # a number with so many digits after the point, or nil
      def figure(number, digits = 1)
        return if number.nil?

        text = Kernel.format("%.#{digits}f", number.round(digits))
        text.match?(/\A-0\.?0*\z/) ? text.delete_prefix("-") : text
      end
    end
  end
end
