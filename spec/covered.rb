# frozen_string_literal: true

require "simplecov"
require "parallel_tests" if ENV["TEST_ENV_NUMBER"]

# What the specs reach, printed at the end of a run; the pages for looking closer lie in coverage/.
SimpleCov.start do
  enable_coverage :branch
  add_filter "/spec/"
  add_filter "/demo/"
  %w[core drawings exchange store web].each { |room| add_group room, "lib/handrail/#{room}" }
end

SimpleCov.at_exit do
  SimpleCov.result # what another process of the same run waits for
  next unless SimpleCov.final_result_process?

  SimpleCov.result.format!
  SimpleCov.result.groups.each do |room, files|
    branches = files.coverage_statistics[:branch]
    next if files.empty?

    puts format(
           "%-10s lines %5.1f %%   branches %5.1f %% (%d of %d)",
           room,
           files.covered_percent,
           branches.percent,
           branches.covered,
           branches.total
         )
  end
end
