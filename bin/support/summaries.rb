# frozen_string_literal: true

# Holds the kept summaries of every clinic against what would be made of their visits now:
#
#   bin/handrail summaries             # says where they differ; exit code 1 when they do
#   bin/handrail summaries --rebuild   # makes all of them anew first
#   bin/handrail summaries --renew     # brings those to date that another version made, while it serves

require_relative "../../lib/handrail"

unless [[], ["--rebuild"], ["--renew"]].include?(ARGV)
  warn "Call it so: bin/handrail summaries [--rebuild | --renew]"
  exit 2
end

store = Handrail::Store
if ARGV.any?
  rebuild = ARGV == ["--rebuild"]
  told = rebuild ? "visits read anew" : "fittings say something else by this version"
  store::Summaries.catch_up(anew: rebuild) do |clinic, count|
    puts "#{clinic.name}: #{count} #{told}"
  end
end
found =
  store::Clinic
    .order(:id)
    .all
    .flat_map do |clinic|
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
