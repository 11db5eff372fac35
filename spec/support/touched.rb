# frozen_string_literal: true

# Which examples run which lines of lib/handrail, and how long each takes: loaded before anything else, it writes down
# after each example what it ran. For `bin/handrail mutations`, which then asks only the examples that could notice.
#
#   COVERAGE=no HANDRAIL_TOUCHED=tmp/touched.json bundle exec rspec -r ./spec/support/touched.rb spec/core
#
# { "examples" => [[id, seconds], ...], "lines" => { "core/visit.rb" => { "12" => [index, ...] } } }

require "coverage"
require "json"

Coverage.start(lines: true)

# What was run so far.
class Touched
  LIB = File.expand_path("../../lib/handrail", __dir__)

  def initialize
    @examples = []
    @lines = Hash.new { |files, file| files[file] = Hash.new { |all, line| all[line] = [] } }
  end

  # forgets what was run outside of examples
  def begin = Coverage.result(stop: false, clear: true)

  def note(example, seconds)
    index = @examples.size
    @examples << [example.id, seconds.round(3)]
    Coverage
      .result(stop: false, clear: true)
      .each do |path, found|
        next unless path.start_with?(LIB)

        own = @lines[path.delete_prefix("#{LIB}/")]
        found[:lines].each_with_index { |count, at| own[at + 1] << index if count&.positive? }
      end
  end

  def write(path) = File.write(path, JSON.generate("examples" => @examples, "lines" => @lines))
end

RSpec.configure do |config|
  touched = Touched.new
  config.around do |example|
    touched.begin
    began = Process.clock_gettime(Process::CLOCK_MONOTONIC)
    example.run
    touched.note(example, Process.clock_gettime(Process::CLOCK_MONOTONIC) - began)
  end
  config.after(:suite) { touched.write(ENV.fetch("HANDRAIL_TOUCHED")) }
end
