# frozen_string_literal: true

require "spec_helper"
require "parser/current"
require "yaml"

# What a person reads stands in wording (and in the templates of the pages), never between lines that compute: there it
# could be neither read over as a whole nor said in another language.
RSpec.describe "English stands in wording" do
  root = File.expand_path("../..", __dir__)
  lib = File.join(root, "lib", "handrail")

  # files whose sentences are no words to a person at a page, each with the reason
  stay = {
    "exchange/*_command.rb" =>
      "a command's usage, beside the options that it explains; docs are made of it",
    "exchange/command.rb" => "the same, for all of them",
    "exchange/manual.rb" => "the same, as a document",
    "exchange/marks_options.rb" => "the same, for options that several have",
    "exchange/fhir.rb" => "texts of the FHIR files, English whatever the clinic reads",
    "exchange/fhir_observations.rb" => "the same",
    "exchange/fhir_visits.rb" => "the same",
    "exchange/paper.rb" => "styles of drawings, and a fault in the program's own drawings",
    "exchange/earlier_file.rb" => "an example file",
    "exchange/patients_file.rb" => "an example file",
    "web/metrics.rb" => "the exposition format's help lines, for whoever runs the machines",
    "web/headers.rb" => "headers of HTTP",
    "web/visits/computed_paper.rb" => "styles of drawings",
    "web/devices.rb" => "what is sent to the simulated instruments"
  }
  # what looks like a sentence and is a text for a machine
  machine =
    Regexp.union(
      /<|="|\bno-store\b|max-age|filename=|\A%|%[A-Za-z] /,
      %r{\A(?:bench|booked|figure|this:|-//|retry:|event:|: still here|not ready|what is written)}
    )

  # the texts of a file, with their lines; what is computed within one stands as {}
  def texts(path)
    found = []
    walk =
      lambda do |node, within|
        next unless node.is_a?(Parser::AST::Node)

        text = %i[str dstr regexp].include?(node.type)
        found << [node.loc.line, said(node)] if text && !within && node.type != :regexp
        node.children.each { |child| walk.call(child, text) }
      end
    walk.call(parsed(path), false)
    found
  end

  def parsed(path) = Parser::CurrentRuby.parse(File.read(path).gsub(/\\x\h\h/, "?"))

  def said(node)
    return node.children.first.to_s if node.type == :str

    node.children.map { |one| %i[str dstr].include?(one.type) ? said(one) : "{}" }.join
  end

  def sentence?(text) =
    text.scan(/[[:alpha:]]{2,}/).size > 1 && text.match?(/[[:alpha:]]{2,}[,:;]? [[:alpha:]]{2,}/)

  it "for the pages, the commands and the files that are read" do
    paths = Dir[File.join(lib, "{web,exchange,store/commands}", "**", "*.rb")]
    expect(paths.size).to be > 200
    here =
      paths.flat_map do |path|
        name = path.delete_prefix("#{lib}/")
        next [] if stay.any? { |pattern, _| File.fnmatch(pattern, name) }

        texts(path)
          .select { |_, text| sentence?(text) && !text.match?(machine) }
          .map { |line, text| "#{name}:#{line}: #{text}" }
      end
    expect(here).to be_empty, here.join("\n")
    gone = stay.keys.reject { |pattern| Dir[File.join(lib, pattern)].any? }
    expect(gone).to be_empty
  end

  # what a file asks of wording: [key, names of the figures that it gives]; area - of keys that name none
  def asked(path, area)
    found = []
    walk =
      lambda do |node|
        next unless node.is_a?(Parser::AST::Node)

        found.concat(asked_in(node, area)) if node.type == :send
        node.children.each { |child| walk.call(child) }
      end
    walk.call(parsed(path))
    found
  end

  def asked_in(node, area)
    receiver, name, first, figures = *node
    return [] unless first && (receiver.nil? || receiver.loc.expression.source == "Wording")
    return [["names.#{first.children.last}", []]] if name == :names
    return [] unless name == :t

    given = figures ? figures.children.map { |pair| pair.children.first.children.last.to_s } : []
    literals(first).map { |key| [key.is_a?(Symbol) ? "#{area}.#{key}" : key, given.sort] }
  end

  def literals(node)
    return [] unless node.is_a?(Parser::AST::Node)
    return [node.children.first] if %i[sym str].include?(node.type)

    (node.type == :if ? node.children.drop(1) : []).flat_map { |child| literals(child) }
  end

  it "under keys that are used, each with the figures that it prints, and no other" do
    areas = %w[commands files web names]
    there =
      areas.flat_map do |area|
        YAML
          .load_file(File.join(lib, "wording", "#{area}.en.yml"))
          .dig("en", area)
          .map { |key, text| ["#{area}.#{key}", text.to_s.scan(/%\{(\w+)\}/).flatten.uniq.sort] }
      end
    used =
      Dir[File.join(lib, "{web,exchange,store}", "**", "*.rb")]
        .flat_map { |path| asked(path, path.include?("/web/") ? "web" : "commands") }
        .select { |key, _| areas.include?(key[/\A\w+/]) }
        .uniq
    expect([there - used, used - there]).to eq [[], []]
  end
end
