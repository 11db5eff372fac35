# frozen_string_literal: true

require "timeout"
require_relative "covered" unless ENV["COVERAGE"] == "no"
require_relative "../lib/handrail"

# seconds that one example may take on a machine that is starved of its processors
LONGEST = 900

RSpec.configure do |config|
  config.expect_with(:rspec) { |c| c.syntax = :expect }
  config.mock_with(:rspec) { |c| c.verify_partial_doubles = true }
  config.disable_monkey_patching!
  config.warnings = false
  config.example_status_persistence_file_path = "tmp/examples.txt"
  Kernel.srand config.seed
  # an example that hangs fails, with the line where it hangs, before it holds up the whole run
  config.around { |example| Timeout.timeout(LONGEST) { example.run } }
end

# Short ways of making core values in specs.
module CoreHelpers
  CALF = "calf_15_below_mid_patella"

  def mm(number) = Handrail::Quantity::Length.mm(number)
  def length(text) = Handrail::Quantity::Length.parse(text)

  def reading(value, site: CALF, posture: "sitting", tension: "snug", struck: false)
    Handrail::Measuring::Reading[
      site: site,
      posture: posture,
      tension: tension,
      length: length(value),
      typed: value,
      struck: struck
    ]
  end

  # bands as "S" => { "calf" => 320..355 } in mm, one part; or "part" => { "S" => ... } with parts:
  # true
  def chart(sizes, part: "", **how)
    rows =
      sizes.flat_map do |size, bands|
        bands.map do |site, band|
          Handrail::Sizing::Chart::Row[
            part: part,
            size: size,
            site: site,
            min: band.first,
            max: band.last,
            unit: "cm",
            posture: how[:posture],
            tension: how[:tension]
          ]
        end
      end
    Handrail::Sizing::Chart.build(rows)
  end

  def family = Handrail::Families::Registry.fetch("knee_unloader")
end

RSpec.configure { |config| config.include CoreHelpers }
