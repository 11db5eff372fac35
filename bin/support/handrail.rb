# frozen_string_literal: true

require_relative "../../lib/handrail"

usages =
  %i[
    MatchCommand
    ConsistencyCommand
    PressuresCommand
    VolumeCommand
    TrendCommand
    ReviewCommand
    HazardsCommand
    RehearseCommand
  ].map { |command| "  bin/#{Handrail::Exchange.const_get(command)::USAGE}" }

case name = ARGV.shift
when "match"
  exit Handrail::Exchange::MatchCommand.run(ARGV)
when "consistency"
  exit Handrail::Exchange::ConsistencyCommand.run(ARGV)
when "pressures"
  exit Handrail::Exchange::PressuresCommand.run(ARGV)
when "volume"
  exit Handrail::Exchange::VolumeCommand.run(ARGV)
when "trend"
  exit Handrail::Exchange::TrendCommand.run(ARGV)
when "hazards"
  exit Handrail::Exchange::HazardsCommand.run(ARGV)
when "review"
  exit Handrail::Exchange::ReviewCommand.run(ARGV)
when "rehearse"
  exit Handrail::Exchange::RehearseCommand.run(ARGV)
when "rehearsals"
  require_relative "rehearsals"
  Handrail::GoldenWalk.write
when "clinic"
  require_relative "clinic"
when "timings", "screenshots", "benchmark", "demo", "summaries"
  require_relative name
when "girths"
  require_relative "girths"
when "laws"
  require_relative "laws"
  puts Handrail::LawsDocument.write
when "schema"
  require_relative "schema"
  puts Handrail::Schema.write
when "html-check"
  require_relative "html_check"
when "mutations"
  require_relative "../../spec/support/mutate"
when nil, "help", "--help", "-h"
  puts "usage:", usages
else
  warn "There is no such command. Call it so:", usages
  exit 2
end
