# frozen_string_literal: true

require "zeitwerk"

Encoding.default_external = Encoding::UTF_8

# Handrail: measuring, sizing, fitting and follow-up for the clinic orthotic fitter.
#
# Every room below lib/handrail loads on first use, so that the core can be used with neither a
# database nor a web server: `require "handrail"; Handrail::Quantity::Length.parse("14 3/8 in")`.
module Handrail
  ROOT = File.expand_path("..", __dir__)

  # A problem whose message is written for the person at the screen: what happened, and what to do
  # next.
  class Error < StandardError
  end

  LOADER =
    Zeitwerk::Loader.for_gem.tap do |loader|
      loader.collapse("#{__dir__}/handrail/core", "#{__dir__}/handrail/store/models")
      loader.inflector.inflect("cli" => "CLI", "svg" => "SVG", "csv_table" => "CSVTable")
      # one file holds all kinds of what is not kept
      loader.ignore("#{__dir__}/handrail/store/errors.rb")
      loader.setup
    end
end
