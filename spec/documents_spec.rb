# frozen_string_literal: true

# What a document names is there: files, folders, commands and links.
RSpec.describe "Documents" do
  documents =
    Dir[File.join(Handrail::ROOT, "{*.md,docs/*.md}")].to_h do |path|
      [path.delete_prefix("#{Handrail::ROOT}/"), File.read(path)]
    end
  commands =
    %w[bin/handrail bin/support/handrail.rb]
      .map { |path| File.read(File.join(Handrail::ROOT, path)) }
      .join + Handrail::Exchange::Manual::NAMES.join(" ")

  documents.each do |name, text|
    it "#{name}: every file that it names is there" do
      inside = %w[assets bin db demo deploy docs knowledge lib public spec views].join("|")
      named =
        text.scan(%r{`((?:#{inside})/[\w./-]+)`}).flatten +
          text.scan(/\]\(((?!http|#)[^)\s]+)\)/).flatten
      at = [Handrail::ROOT, File.dirname(File.join(Handrail::ROOT, name))]
      # capitals stand for a name of one's own
      named = named.uniq.grep_v(/\b(?:NAME|FAMILY|FILE)\b/)
      missing = named.reject { |path| at.any? { |root| File.exist?(File.join(root, path)) } }
      expect(missing).to eq []
    end

    it "#{name}: every command that it names can be called" do
      named = text.scan(%r{bin/handrail ([a-z][a-z-]+)}).flatten.uniq
      expect(named.reject { |command| commands.include?(command) }).to eq []
    end
  end
end
