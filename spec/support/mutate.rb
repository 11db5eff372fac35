# frozen_string_literal: true

# Breaks lines of the program on purpose, one after another, and says whether the specs notice:
#   bin/handrail mutations [HOW MANY]
# First the lines of mutations.yml, each named by the harm that it would do, held by spec/core; then so many (93) lines
# of core, store and web that decide, chosen by a fixed seed, each held by the examples that run it (see Touched).
# The file is put back whatever happens. Ends with 1 when a change passes unnoticed, or no longer finds its line.

require "json"
require "yaml"
require_relative "../../lib/handrail"
require_relative "deciding"

# What becomes of lines that are broken.
class Mutations
  SEED = 7
  ROOMS = %w[core store web].freeze
  # in a browser and with servers of their own: too slow to be asked of each line
  APART =
    %r{spec/(?:browser|setup_spec|web/(?:hostile|processes|behind_proxy|slow_clients|states)_spec|
    store/(?:killed|archive|standby|placing|backup|random_sequences|races)_spec)}x
  TOUCHED = File.join(Handrail::ROOT, "tmp", "touched.json")
  # seconds of examples that are asked of one line, those of a moment first
  LONGEST = 60

  def initialize(count) = @count = count

  def run
    found = named + chosen
    puts "#{found.count("noticed")} of #{found.size} noticed"
    found.all?("noticed")
  end

  private

  def named
    YAML
      .load_file(File.join(__dir__, "mutations.yml"))
      .map do |one|
        path = File.join(Deciding::LIB, "core", one["file"])
        whole = File.read(path)
        result =
          if whole.include?(one["from"])
            broken(path, whole.sub(one["from"]) { one["to"] }) { notices?(["spec/core"]) }
          else
            "line gone"
          end
        tell(result, format("%-32s %s", one["file"], one["harm"]))
      end
  end

  def chosen
    return [] if @count.zero?

    Deciding
      .new(ROOMS)
      .sample(@count, seed: SEED)
      .map do |line|
        rounds = examples_of(line)
        # what is made once for many examples is seen at the first of them alone
        rounds << ["spec/core"] if line.file.start_with?("core/")
        said = line.to_s
        asked = -> { rounds.any? { |ids| notices?(ids) } }
        tell(rounds.empty? ? "NEVER RUN" : broken(line.path, line.broken, &asked), said)
      end
  end

  def tell(result, words)
    puts format("%-10s %s", result, words)
    $stdout.flush
    result
  end

  def broken(path, text)
    whole = File.read(path)
    File.write(path, text)
    yield ? "noticed" : "UNNOTICED"
  ensure
    File.write(path, whole)
  end

  def notices?(what)
    command = ["bundle", "exec", "rspec", "--fail-fast", *what]
    !system(
      { "COVERAGE" => "no", "HANDRAIL_ONE_FILE" => "yes" },
      *command,
      chdir: Handrail::ROOT,
      out: File::NULL,
      err: File::NULL
    )
  end

  # ids of the examples that run a line, in two rounds: of each file the quickest ones first, until they take a minute;
  # and the others, where those noticed nothing
  def examples_of(line)
    turns = touching(line).group_by { |id, _| id[/[^\[]+/] }.values
    longest = turns.map(&:size).max.to_i
    in_turn = (0...longest).flat_map { |at| turns.filter_map { |own| own[at] } }
    left = LONGEST
    in_turn
      .slice_when { |one, _| (left -= one.last).negative? && left + one.last >= 0 }
      .map { |round| round.map(&:first) }
  end

  # [[id, seconds], ...], the quickest first. A line that Ruby counts under another number, as in a statement of
  # several lines, takes those of its neighbours.
  def touching(line)
    own = touched["lines"].fetch(line.file, {})
    near = [0, 1, -1, 2, -2].find { |by| own.key?((line.number + by).to_s) } or return []
    own.fetch((line.number + near).to_s).map { |index| touched["examples"][index] }.sort_by(&:last)
  end

  def touched
    @touched ||=
      begin
        touch unless File.exist?(TOUCHED)
        JSON.parse(File.read(TOUCHED))
      end
  end

  # every example once, some twenty minutes
  def touch
    FileUtils.mkdir_p(File.dirname(TOUCHED))
    specs = Dir[File.join(Handrail::ROOT, "spec", "**", "*_spec.rb")].grep_v(APART)
    system(
      { "COVERAGE" => "no", "HANDRAIL_TOUCHED" => TOUCHED },
      *%w[bundle exec rspec -r ./spec/support/touched.rb],
      *specs,
      chdir: Handrail::ROOT,
      out: File::NULL
    )
  end
end

exit(Mutations.new(Integer(ARGV.first || 93)).run ? 0 : 1)
