# frozen_string_literal: true

require "spec_helper"
require "open3"
require "stringio"
require "tmpdir"

# The manual is what the commands do: made from them, with examples that are run.
RSpec.describe Handrail::Exchange::Manual do
  it "is the document that is kept" do
    expect(File.read(described_class::DOCUMENT)).to eq described_class.document
  end

  described_class::NAMES.each do |name|
    it "shows what #{name} prints, in an example that is true" do
      said = described_class.told.fetch(name).fetch("example")
      Dir.mktmpdir do |folder|
        said["given"].to_h.each { |file, text| File.write(File.join(folder, file), text) }
        call =
          said["call"].split.map { |word| word.end_with?(".csv") ? File.join(folder, word) : word }
        out = StringIO.new
        err = StringIO.new
        status = described_class.command(name).run(call, out: out, err: err)
        expect([status, err.string]).to eq [0, ""]
        said["prints"]
          .lines
          .map(&:chomp)
          .zip(out.string.lines.map(&:chomp))
          .each { |told, line| expect(line).to start_with told }
      end
    end

    it "says every option and column of #{name}" do
      page = described_class.page(name)
      own = described_class.command(name)
      expect(page.gsub(/\s+/, " ")).to include(own::USAGE, own::COLUMNS.join(","))
      own::USAGE.scan(/--[a-z]+/).each { |option| expect(page).to match(/^ +#{option}\b/) }
    end
  end

  it "prints a page of it, and refuses a command that is none" do
    command = File.join(Handrail::ROOT, "bin", "support", "handrail.rb")
    page, status = Open3.capture2e(RbConfig.ruby, command, "help", "volume")
    expect([page, status.exitstatus]).to eq [described_class.page("volume"), 0]
    # a disk that is full is said in a sentence
    output =
      Open3.capture2e("sh", "-c", "#{RbConfig.ruby} #{command} help volume > /dev/full").first
    if File.exist?("/dev/full")
      expect(output).to eq "That could not be done: No space left on device.\n"
    end
    [
      %w[help nonsense],
      %w[timings --nope],
      %w[effort --nope],
      %w[laws --nope],
      %w[match --nope],
      %w[nonsense]
    ].each do |words|
      output, status = Open3.capture2e(RbConfig.ruby, command, *words)
      expect([words, status.exitstatus, output.match?(/\.rb:\d+/)]).to eq [words, 2, false]
    end
    # a table from a pipe that is gone through twice
    readings = described_class.told["match"]["example"]["given"]
    Dir.mktmpdir do |folder|
      chart = File.join(folder, "c.csv").tap { |path| File.write(path, readings["CHART.csv"]) }
      twice = "#{readings["READINGS.csv"]}B,calf_widest,,,38,cm\nA,calf_widest,,,36.6,cm\n"
      output, =
        Open3.capture2e(
          RbConfig.ruby,
          command,
          "match",
          "--chart",
          chart,
          "--readings",
          "-",
          stdin_data: twice
        )
      expect(output.lines.map { |line| line[/\A\w+,\w+,\w+/] }).to eq %w[
           person,verdict,size
           A,fits,S
           B,fits,M
         ]
    end
  end
end
