# frozen_string_literal: true

require_relative "../../lib/handrail"

case name = ARGV.shift
when "match" then exit Handrail::Exchange::MatchCommand.run(ARGV)
when "clinic" then require_relative "clinic"
when "timings", "screenshots", "benchmark", "demo", "summaries"
  require_relative name
when "schema"
  require_relative "schema"
  puts Handrail::Schema.write
when "html-check" then require_relative "html_check"
when "mutations" then require_relative "../../spec/support/mutate"
when nil, "help", "--help", "-h"
  puts "usage: #{Handrail::Exchange::MatchCommand::USAGE}"
else
  warn "There is no such command. Call it so: #{Handrail::Exchange::MatchCommand::USAGE}"
  exit 2
end
