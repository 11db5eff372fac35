# frozen_string_literal: true

require_relative "../../lib/handrail"

manual = Handrail::Exchange::Manual
usages = manual::NAMES.map { |own| "  bin/#{manual.command(own)::USAGE}" }

# whoever reads what is printed may stop reading
Signal.trap("PIPE", "SYSTEM_DEFAULT")

# these take no word: one that is meant for them is a slip of the hand, and nothing is written by a slip
ALONE = %w[rehearsals laws schema html-check commands].freeze
name = ARGV.shift
if ALONE.include?(name) && ARGV.any?
  warn "#{name} takes no options: #{ARGV.join(" ")} is unknown. Nothing was written."
  exit 2
end

# these take one word at most: a number, or the address of a running server; effort a walk beside it
WORDS = {
  "timings" => /\A[1-9]\d*\z/,
  "benchmark" => /\A[1-9]\d*\z/,
  "screenshots" => %r{\Ahttps?://}
}.freeze
if WORDS.key?(name) && (ARGV.size > 1 || !ARGV.all?(WORDS.fetch(name)))
  warn "#{name} does not know #{ARGV.join(" ")}. It takes " \
         "#{name == "screenshots" ? "an address" : "a number"}, or nothing."
  exit 2
end

# a disk that is full, a file that can not be written: said in a sentence
def said_plainly
  begin
    yield
  ensure
    $stdout.flush
  end
rescue SystemCallError => e
  warn "That could not be done: #{e.message.split(%r{ @| - }).first}."
  exit 2
end

said_plainly do
  case name
  when *manual::NAMES
    exit manual.command(name).run(ARGV)
  when "rehearsals"
    require_relative "rehearsals"
    Handrail::GoldenWalk.write
  when "clinic"
    require_relative "clinic"
  when "timings", "screenshots", "benchmark", "demo", "summaries", "load"
    require_relative name
  when "clusters", "place"
    require_relative "clusters"
    exit Handrail::ClustersCommand.run(name, ARGV)
  when "capacity"
    require_relative "capacity"
    Handrail::Capacity.run(ARGV)
  when "effort"
    require_relative "effort"
    strange = ARGV.reject { |word| word.start_with?("http") || Handrail::Effort::WALKS.key?(word) }
    if strange.any?
      warn "effort does not know #{strange.join(" ")}. It takes a walk (#{Handrail::Effort::WALKS.keys.join(", ")}) " \
             "and an address."
      exit 2
    end
    address = ARGV.find { |word| word.start_with?("http") } || "http://127.0.0.1:8470"
    Handrail::Effort.run(ARGV.find { |word| Handrail::Effort::WALKS.key?(word) }, address)
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
  when "commands"
    File.write(manual::DOCUMENT, manual.document)
    puts manual::DOCUMENT
  when "help"
    asked = ARGV.first
    if asked && !manual.known?(asked)
      warn "There is no such command. Call it so:", usages
      exit 2
    end
    asked ? puts(manual.page(asked)) : puts("usage:", usages)
  when nil, "--help", "-h"
    puts "usage:", usages
  else
    warn "There is no such command. Call it so:", usages
    exit 2
  end
end
