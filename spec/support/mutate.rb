# frozen_string_literal: true

# Breaks important lines of core on purpose, one after another, and says whether spec/core notices:
#   bin/handrail mutations
# The file is put back whatever happens. Ends with 1 when a change passes unnoticed, or no longer
# finds its line.

require "yaml"
require_relative "../../lib/handrail"

found =
  YAML
    .load_file(File.join(__dir__, "mutations.yml"))
    .map do |mutation|
      path = File.join(Handrail::ROOT, "lib", "handrail", "core", mutation["file"])
      whole = File.read(path)
      result =
        if whole.include?(mutation["from"])
          begin
            File.write(path, whole.sub(mutation["from"]) { mutation["to"] })
            command = %w[bundle exec rspec --fail-fast spec/core]
            if system(
                 { "COVERAGE" => "no" },
                 *command,
                 chdir: Handrail::ROOT,
                 out: File::NULL,
                 err: File::NULL
               )
              "UNNOTICED"
            else
              "noticed"
            end
          ensure
            File.write(path, whole)
          end
        else
          "line gone"
        end
      puts format("%-10s %-32s %s", result, mutation["file"], mutation["harm"])
      result
    end
puts "#{found.count("noticed")} of #{found.size} noticed"
exit(found.all?("noticed") ? 0 : 1)
