# frozen_string_literal: true

require "parser/current"

# The lines of the program that decide, each with one change that turns its decision round: a condition is the other way
# round, "and" is "or", a limit counts or no longer counts itself.
#
#   Deciding.new(%w[core store web]).sample(93, seed: 7)   # => [Deciding::Line, ...]
#   line.broken                                            # => the text of the file with that one change
class Deciding
  LIB = File.expand_path("../../lib/handrail", __dir__)

  # file - below lib/handrail; number - of the line; from, to - places in the text; into - what stands there instead
  Line =
    Struct.new(:file, :number, :from, :to, :into, keyword_init: true) do
      def path = File.join(LIB, file)

      def broken
        whole = File.read(path)
        whole[0...from] + into + whole[to..]
      end

      # the line as it is, and what is put into it
      def to_s =
        "#{file}:#{number}  #{File.read(path)[from...to].gsub(/\s+/, " ")[0, 60]}  ->  #{into[0, 70]}"
    end

  LIMITS = { :< => "<=", :<= => "<", :> => ">=", :>= => ">" }.freeze
  OTHERS = { "&&" => "||", "||" => "&&", "and" => "or", "or" => "and" }.freeze

  def initialize(rooms)
    @files = rooms.flat_map { |room| Dir[File.join(LIB, room, "**", "*.rb")] }.sort
  end

  # one change a line, in the order of files and lines
  def lines = @lines ||= @files.flat_map { |path| of_file(path) }

  def sample(count, seed:) =
    lines.sample(count, random: Random.new(seed)).sort_by { |one| [one.file, one.number] }

  private

  def of_file(path)
    @file = path.delete_prefix("#{LIB}/")
    @found = {}
    walk(Parser::CurrentRuby.parse(File.read(path)))
    @found.values
  end

  def walk(node)
    return unless node.is_a?(Parser::AST::Node)

    case node.type
    when :if
      condition(node.children.first)
    when :and, :or
      operator(node)
    when :send
      limit(node)
    end
    node.children.each { |child| walk(child) }
  end

  # what a pattern keeps for later would be lost
  def condition(node)
    text = node.location.expression
    note(text, "!(#{text.source})") unless text.source.include?("=~")
  end

  def operator(node)
    text = node.location.operator
    note(text, OTHERS.fetch(text.source))
  end

  def limit(node)
    _, name, = *node.children
    note(node.location.selector, LIMITS.fetch(name)) if LIMITS.key?(name) && node.children.size == 3
  end

  def note(text, into)
    @found[text.line] ||= Line.new(
      file: @file,
      number: text.line,
      from: text.begin_pos,
      to: text.end_pos,
      into: into
    )
  end
end
