# frozen_string_literal: true

require "open3"
require "yaml"

RSpec.describe "The rooms of the house" do
  def fresh(room, forbidden)
    script =
      "require './lib/handrail'; Handrail::LOADER.eager_load_dir('lib/handrail/#{room}'); " \
        "puts #{forbidden}.select { |name| Object.const_defined?(name) }"
    Open3.capture2e(Gem.ruby, "-Ilib", "-e", script, chdir: Handrail::ROOT)
  end

  {
    "core" => %w[Sinatra Sequel PG Roda Rack],
    "drawings" => %w[Sinatra Sequel PG Rack],
    "wording" => %w[Sinatra Sequel PG Roda Rack],
    "store" => %w[Sinatra Roda Rack],
    "exchange" => %w[Sinatra Roda Rack],
    "instruments" => %w[Sinatra Sequel PG Roda Rack]
  }.each do |room, forbidden|
    it "loads #{room} without #{forbidden.first(2).join(" or ")}" do
      output, status = fresh(room, forbidden)
      expect([status.success?, output.strip]).to eq [true, ""]
    end
  end

  it "lets no arrow point back" do
    {
      "core" => /\b(Drawings|Wording|Store|Exchange|Web|Sequel|Sinatra|Rack)\b(::|\.)/,
      "wording" => /\b(Drawings|Store|Exchange|Web|Sequel|Sinatra|Rack)\b(::|\.)/,
      "drawings" => /\b(Store|Exchange|Web|Sequel|Sinatra|Rack)\b(::|\.)/,
      "store" => /\b(Exchange|Web|Sinatra|Rack)\b(::|\.)/,
      "exchange" => /\b(Web|Sinatra|Rack)\b(::|\.)/
    }.each do |room, forbidden|
      Dir[File.join(Handrail::ROOT, "lib/handrail/#{room}/**/*.rb")].each do |path|
        found = File.readlines(path).grep_v(/^\s*#/).grep(forbidden)
        expect(found).to be_empty, "#{path} points back: #{found.first}"
      end
    end
  end

  it "decides nothing by the name of a family" do
    names = Regexp.union(Handrail::Families::Registry.all.keys)
    Dir[File.join(Handrail::ROOT, "{lib,views}/**/*.{rb,erb}")].each do |path|
      found = File.readlines(path).grep_v(/^\s*#/).grep(/["':]#{names}["'\b]/)
      expect(found).to be_empty, "#{path} names a family: #{found.first}"
    end
  end

  it "asks a part of a visit by its name: the visit answers none of its questions itself" do
    visit = Handrail::Visit
    works = visit.constants(false).grep(/Work\z/).map { |name| visit.const_get(name) }
    own = visit.instance_methods - Object.instance_methods - [:trend]
    expect(works.size).to be > 9
    works.each { |work| expect([work, work.instance_methods(false) & own]).to eq [work, []] }
  end

  # what is kept is kept under what it depends on; an object that is the key stays alive as long as what hangs on it
  it "keeps nothing under the number of an object" do
    Dir[File.join(Handrail::ROOT, "lib/**/*.rb")].each do |path|
      found = File.readlines(path).grep_v(/^\s*#/).grep(/object_id/)
      expect(found).to be_empty, "#{path}: #{found.first}"
    end
  end

  # states are asked of values, never read out of words
  it "looks into no sentence to learn a state" do
    looks =
      /\b(sentences?|said|message|reason|headline|notes?)\b(\.\w+)*(\.| )(include\?|match\?|grep|start_with\?|=~)/
    Dir[File.join(Handrail::ROOT, "lib/handrail/{core,store,web,drawings}/**/*.rb")].each do |path|
      found = File.readlines(path).grep_v(/^\s*#/).grep(looks)
      expect(found).to be_empty, "#{path} looks into a sentence: #{found.first}"
    end
  end

  # what is found is a code with figures and is worded in its own room; an error says its own mend
  it "keeps no sentence in the core but an error's" do
    sentence = /"[^"]*\p{Ll}{2,} [^"]*\p{Ll}+[.:]( |")/
    rooms = "{anatomy,compression,fitting,followup,learning,measuring,sizing,visit}"
    Dir[File.join(Handrail::ROOT, "lib/handrail/core/#{rooms}/**/*.rb")].each do |path|
      lines = File.readlines(path)
      found =
        lines.each_index.select do |i|
          lines[i].match?(sentence) && !lines[i].match?(/^\s*#/) &&
            lines[[i - 4, 0].max..i].none?(/\braise\b/)
        end
      # a vocabulary's own faults name file and key, for whoever edits it
      found = [] if path.end_with?("anatomy/vocabulary.rb")
      expect(found.map { |i| lines[i] }).to be_empty, "#{path}: #{lines[found.first.to_i]}"
    end
  end

  # the mutations themselves take minutes; that each still has its line is seen at every run
  it "has every line that is broken on purpose" do
    file = File.join(Handrail::ROOT, "spec", "support", "mutations.yml")
    YAML
      .load_file(file)
      .each do |mutation|
        text = File.read(File.join(Handrail::ROOT, "lib/handrail/core", mutation["file"]))
        expect(text.scan(mutation["from"]).size).to be >= 1, "gone: #{mutation["from"]}"
      end
  end
end
