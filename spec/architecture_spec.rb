# frozen_string_literal: true

require "open3"

RSpec.describe "The rooms of the house" do
  def fresh(room, forbidden)
    script = "require './lib/handrail'; Handrail::LOADER.eager_load_dir('lib/handrail/#{room}'); " \
             "puts #{forbidden}.select { |name| Object.const_defined?(name) }"
    Open3.capture2e(Gem.ruby, "-Ilib", "-e", script, chdir: Handrail::ROOT)
  end

  { "core" => %w[Sinatra Sequel PG Roda Handrail::Store::DB], "exchange" => %w[Sinatra Roda] }.each do |room, forbidden|
    it "loads #{room} without #{forbidden.first(2).join(' or ')}" do
      output, status = fresh(room, forbidden)
      expect([status.success?, output.strip]).to eq [true, ""]
    end
  end

  it "lets no arrow point back" do
    { "core" => /\b(Store|Exchange|Web|Sequel|Sinatra|Rack)\b(::|\.)/, "store" => /\b(Exchange|Web|Sinatra|Rack)\b(::|\.)/,
      "exchange" => /\b(Web|Sinatra|Rack)\b(::|\.)/ }.each do |room, forbidden|
      Dir[File.join(Handrail::ROOT, "lib/handrail/#{room}/**/*.rb")].each do |path|
        found = File.readlines(path).grep_v(/^\s*#/).grep(forbidden)
        expect(found).to be_empty, "#{path} points back: #{found.first}"
      end
    end
  end

  it "decides nothing by the name of a family" do
    paths = Dir[File.join(Handrail::ROOT, "{lib,views}/**/*.{rb,erb}")]
    expect(paths.grep_v(/demo/).select { |path| File.read(path).include?("knee_unloader") }).to be_empty
  end
end
