# frozen_string_literal: true

# Adds made-up patients to the demo clinic: bin/handrail demo --patients 200000

require_relative "../../lib/handrail"
require_relative "../../demo/crowd"

count = ARGV.first == "--patients" ? Integer(ARGV[1], exception: false) : nil
unless count&.between?(1, 2_000_000) && ARGV.size == 2
  warn "Say how many patients to add, 1 to 2000000: bin/handrail demo --patients 200000"
  exit 2
end

begin
  started = Process.clock_gettime(Process::CLOCK_MONOTONIC)
  Handrail::Crowd.load(count)
  puts format(
         "%d patients added in %.0f s",
         count,
         Process.clock_gettime(Process::CLOCK_MONOTONIC) - started
       )
rescue Handrail::Error => e
  abort e.message
end
