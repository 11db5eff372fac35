# frozen_string_literal: true

require "optparse"
require "yaml"

module Handrail
  module Exchange
    # The manual of the commands that read files and print rows: from what each command says itself and manual.yml
    # beside this file, as one text a command and as one document of all.
    #
    #   Manual.page("volume") # => "NAME\n    handrail volume ..."
    #   Manual.document       # => docs/commands.md
    module Manual
      FILE = File.join(__dir__, "manual.yml")
      NAMES = %w[match consistency pressures volume trend review hazards rehearse].freeze
      WIDTH = 100
      DOCUMENT = File.join(ROOT, "docs", "commands.md")
      INTRO = <<~TEXT
        # Commands that read files and print rows

        Made by `bin/handrail commands` from what the commands say of themselves; `bin/handrail help COMMAND` prints a page.
        Every one takes `-` for standard input and any pipe, prints CSV or JSON, says a fault with file, line and mend on standard
        error, and then prints nothing else. What reads their output may stop when it likes.
      TEXT

      class << self
        def command(name) = Exchange.const_get("#{name.capitalize}Command")
        def known?(name) = NAMES.include?(name)
        def told = @told ||= Memory.freeze(YAML.safe_load_file(FILE))

        # [title, lines] of a command's page.
        def sections(name)
          about = told.fetch(name)
          own = command(name)
          [
            ["NAME", ["handrail #{name}: #{about["about"]}"]],
            ["SYNOPSIS", [own::USAGE]],
            ["TAKES", [about["takes"]]],
            ["OPTIONS", options(own)],
            ["PRINTS", [own::COLUMNS.join(",")]],
            ["STATUS", [about["status"]]],
            ["EXAMPLE", example(name, about["example"])]
          ]
        end

        def page(name)
          sections(name)
            .map { |title, lines| "#{title}\n#{lines.map { |line| indented(line) }.join("\n")}\n" }
            .join("\n")
        end

        # All of them, as Markdown.
        def document
          pages = NAMES.map { |name| "## #{name}\n\n```text\n#{page(name)}```\n" }
          "#{INTRO}\n#{pages.join("\n")}"
        end

        private

        # words that fill more than a line go on below it
        def indented(line)
          return "    #{line}".rstrip if line.size <= WIDTH || !line.include?(" ")

          line.scan(/\S.{0,#{WIDTH - 1}}(?=\s|\z)/o).map { |part| "    #{part}" }.join("\n")
        end

        def options(own)
          own.parser({}).summarize([], 30, 78).map { |line| line.chomp.strip }
        end

        def example(name, said)
          files =
            said["given"].to_h.flat_map do |file, text|
              ["$ cat #{file}", *text.lines.map(&:chomp), ""]
            end
          [
            *files,
            "$ bin/handrail #{name} #{said["call"]}".rstrip,
            *said["prints"].lines.map(&:chomp)
          ]
        end
      end
    end
  end
end
