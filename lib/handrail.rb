# frozen_string_literal: true

require "zeitwerk"

Encoding.default_external = Encoding::UTF_8

# Handrail: measuring, sizing, fitting and follow-up for the clinic orthotic fitter.
#
# Every room below lib/handrail loads on first use, so that the core can be used with neither a
# database nor a web server: `require "handrail"; Handrail::Quantity::Length.parse("14 3/8 in")`.
module Handrail
  ROOT = File.expand_path("..", __dir__).freeze

  # A problem whose message is written for the person at the screen: what happened, and what to do
  # next.
  class Error < StandardError
  end

  # What a file says in constants, and in the class itself while it loads, is shared by all requests
  # from then on, and frozen with all that it holds. What can not be frozen (a lock, a database, an app
  # of a framework) is left as it is; spec/store/shared_spec.rb names what that may be.
  module Constants
    PLAIN = [String, Array, Hash, Struct, Set].freeze

    def self.freeze(mod)
      own =
        mod
          .constants(false)
          .reject { |name| mod.autoload?(name) }
          .map { |name| mod.const_get(name) }
      kept = mod.instance_variables.map { |name| mod.instance_variable_get(name) }
      plain(own + (framework?(mod) ? [] : kept)).each { |one| Ractor.make_shareable(one) }
      inside = own.grep(Module).select { |one| inside?(mod, one) }
      inside.each { |one| freeze(one) }
    end

    class << self
      private

      def plain(objects) = objects.select { |one| PLAIN.any? { |kind| one.is_a?(kind) } }

      # a class that its framework goes on writing to
      def framework?(mod)
        mod.ancestors.any? { |one| one.to_s.match?(/\A(?:Sequel::Model|Sinatra::Base|Roda)\z/) }
      end

      # written in the same file, not loaded by itself
      def inside?(mod, other) =
        Module
          .instance_method(:name)
          .bind_call(other)
          .to_s
          .start_with?("#{Module.instance_method(:name).bind_call(mod)}::")
    end
  end

  LOADER =
    Zeitwerk::Loader.for_gem.tap do |loader|
      loader.collapse("#{__dir__}/handrail/core", "#{__dir__}/handrail/store/models")
      loader.inflector.inflect("cli" => "CLI", "svg" => "SVG", "csv_table" => "CSVTable")
      # one file holds all kinds of what is not kept
      loader.ignore("#{__dir__}/handrail/store/errors.rb")
      loader.on_load { |_, value, _| Constants.freeze(value) if value.is_a?(Module) }
      loader.setup
    end
end
