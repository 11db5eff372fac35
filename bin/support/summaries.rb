# frozen_string_literal: true

# Holds the kept summaries of every clinic against what would be made of their visits now:
#
#   bin/handrail summaries             # says where they differ; exit code 1 when they do
#   bin/handrail summaries --rebuild   # makes all of them anew first

require_relative "../../lib/handrail"

unless ARGV.empty? || ARGV == ["--rebuild"]
  warn "Call it so: bin/handrail summaries [--rebuild]"
  exit 2
end

store = Handrail::Store
found =
  store::Clinic
    .order(:id)
    .all
    .flat_map do |clinic|
      puts "#{clinic.name}: #{store::Summaries.rebuild(clinic)} visits read anew" if ARGV.any?
      store::Summaries
        .differences(clinic)
        .each do |what, kept, made|
          puts "#{clinic.name}, #{Array(what).join(" ")}: kept #{kept.inspect}, would be #{made.inspect}"
        end
    end
puts(
  if found.empty?
    "All summaries are as they would be made now."
  else
    "#{found.size} differ. Run it with --rebuild."
  end
)
exit 1 if found.any?
