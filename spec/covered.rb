# frozen_string_literal: true

require "coverage"
require "simplecov"
require "parallel_tests" if ENV["TEST_ENV_NUMBER"]

# What the specs reach, printed at the end of a run; the pages for looking closer lie in coverage/. Of each line it is
# noted once that it was reached, which costs next to nothing; COVERAGE=branches counts lines and branches, which makes
# a run two fifths longer.
branches = ENV["COVERAGE"] == "branches"
unless branches
  Coverage.start(oneshot_lines: true)
  # the lines reached, told as counts: 1, 0, and nil where there is nothing to run
  counted =
    Module.new do
      def call(result)
        super(
          result.to_h do |path, found|
            lines = Coverage.line_stub(path)
            found.fetch(:oneshot_lines).each { |line| lines[line - 1] = 1 }
            [path, { "lines" => lines }]
          end
        )
      end
    end
  SimpleCov::ResultAdapter.singleton_class.prepend(counted)
end
SimpleCov.start do
  enable_coverage :branch if branches
  add_filter "/spec/"
  add_filter "/demo/"
  %w[core drawings exchange store web].each { |room| add_group room, "lib/handrail/#{room}" }
end

SimpleCov.at_exit do
  SimpleCov.result # what another process of the same run waits for
  next unless SimpleCov.final_result_process?

  SimpleCov.result.format!
  SimpleCov.result.groups.each do |room, files|
    next if files.empty?

    puts format("%-10s lines %5.1f %%", room, files.covered_percent)
    next unless branches

    found = files.coverage_statistics[:branch]
    puts format("%21s %5.1f %% (%d of %d)", "branches", found.percent, found.covered, found.total)
  end
end
