# frozen_string_literal: true

module Handrail
  module Exchange
    # `handrail review`: what a family text says, or leaves out, that could hurt somebody: the breaches of
    # Families::Laws. The columns and rules are a public contract.
    #
    # Status 0 where there is none, 1 where there is one, 2 where the file can not be read.
    class ReviewCommand < Command
      MARKED = false
      COLUMNS = %w[law family place finding].freeze
      NUMBERS = [].freeze
      NEEDED = [].freeze
      USAGE = "handrail review [--family NAME | --file FAMILY.yml] [--format csv|json]"

      def self.define(parser, given)
        parser.on("--family NAME", "one of the families that ship with it") do |v|
          given[:family] = v
        end
        parser.on("--file FILE", "a family file") { |v| given[:file] = v }
      end

      def initialize(options)
        super
        if options[:family] && options[:file]
          raise OptionParser::InvalidArgument, "--family and --file together"
        end
        @reviews = paths.map { |path| Families::Review.of(path) }
      end

      def status = @reviews.any? { |review| review.breaches.any? } ? 1 : 0

      # Puts one row a breach into `out`, by law, family and line.
      def rows(out)
        all =
          @reviews.flat_map do |review|
            review.breaches.map { |breach| [breach, review.line(breach.path)] }
          end
        all
          .sort_by { |breach, line| [breach.law, breach.family, line, breach.path, breach.finding] }
          .each do |breach, line|
            out << [breach.law, breach.family, "#{breach.path}:#{line}", breach.finding]
          end
      end

      private

      def paths
        return [@options[:file]] if @options[:file]

        all = Dir[File.join(Families::Registry::FOLDER, "*.yml")]
        return all unless @options[:family]

        one = all.find { |path| File.basename(path, ".yml") == @options[:family] } or
          raise Handrail::Error,
                "No device family is called “#{@options[:family][0, 40]}”. There are: #{
                  all.map { |path| File.basename(path, ".yml") }.join(", ")
                }."
        [one]
      end
    end
  end
end
