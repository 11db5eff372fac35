# frozen_string_literal: true

require "optparse"

module Handrail
  module Exchange
    # What the commands that read a file and print rows have in common: how they are called, and how
    # they say what is wrong. A subclass gives USAGE, COLUMNS, NUMBERS (columns that are numbers),
    # NEEDED (options that must be given), `self.define(parser, given)` for its own options, and
    # `rows(out)`, which puts rows into `out` with <<; another `status` than 0 where rows are findings.
    class Command
      # whether it reads a table of figures, which another program may have written in its own way
      MARKED = true

      # arguments - those after the command's name; out, err - where to print. Returns the exit
      # status: 0, or 2 for a fault in call or files.
      def self.run(arguments, out: $stdout, err: $stderr)
        command = new(options(arguments))
        command.put(out)
        command.notes.each { |words| err.puts(words) }
        command.status
      rescue Handrail::Error, OptionParser::ParseError => e
        err.puts(
          e.is_a?(OptionParser::ParseError) ? "#{e.message}. Call it so: #{self::USAGE}" : e.message
        )
        2
      end

      # How it is called, as an OptionParser. given - where what is found goes
      def self.parser(given)
        OptionParser.new(self::USAGE) do |o|
          o.on("--format FORMAT", %w[csv json], "csv (default) or json") { |v| given[:format] = v }
          MarksOptions.define(o, given) if self::MARKED
          define(o, given)
        end
      end

      def self.options(arguments)
        given = { format: "csv" }
        rest = parser(given).parse(arguments)
        raise OptionParser::NeedlessArgument, rest.first if rest.any?

        self::NEEDED.each do |key|
          raise OptionParser::MissingArgument, "--#{key}" unless given[key]
        end
        given
      end
      private_class_method :options

      def initialize(options) = @options = options

      def format = @options[:format]

      # The table of a file. path; columns - its header; figures - the columns that hold figures
      def table(path, columns, figures) =
        CSVTable.new(path, columns, figures: figures, **MarksOptions.of(@options))

      # Prints all rows.
      def put(out)
        BatchOutput
          .new(self.class::COLUMNS, numbers: self.class::NUMBERS, format: format)
          .print(out) { |printed| rows(printed) }
      end

      # What is said beside the rows, on standard error: why something in them is empty.
      def notes = []

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
