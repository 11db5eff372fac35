# frozen_string_literal: true

require "yaml"

module Handrail
  module Families
    # A family file held against all laws, with the lines of what it finds.
    #
    #   review = Review.of("knowledge/families/kafo.yml")
    #   review.breaches              # => [] or Laws::Breaches
    #   review.line("checks.locks")  # => 412
    class Review
      # path - a family file. Raises Knowledge::Faulty, with file, line and mend, where it can not be read.
      def self.of(path)
        text = File.read(path, encoding: "UTF-8")
        unless text.valid_encoding?
          raise Knowledge::Faulty, "#{File.basename(path)}: it is not UTF-8. Save it as UTF-8."
        end

        raw = YAML.safe_load(text, aliases: true)
        unless raw.is_a?(Hash)
          raise Knowledge::Faulty,
                "#{File.basename(path)}, line 1: it holds no family. Begin it with key, name and kind."
        end
        new(Family.load(path), raw, text)
      rescue Psych::Exception => e
        at = e.respond_to?(:line) ? ", line #{e.line}" : ""
        raise Knowledge::Faulty,
              "#{File.basename(path)}#{at}: it is no YAML (#{e.message[0, 120]}). Mend that line."
      rescue SystemCallError => e
        raise Knowledge::Faulty,
              "#{path}: #{e.message[/\A[^@]+/].strip}. Name a file that can be read."
      end

      attr_reader :family, :breaches

      # raw - the file as it is written, as a Hash; text - the same as it stands
      def initialize(family, raw, text)
        @family = family
        @root = Psych.parse(text).root
        @breaches = Edition.with(Edition.here.with_words(family.words)) { Laws.review(family, raw) }
      end

      # The line on which a path begins, or as much of it as the file has: what common.yml gives stands on the
      # line that names it.
      def line(path)
        node = @root
        at = 1
        path
          .split(".")
          .each do |key|
            found = step(node, key) or break
            node, at = found
          end
        at
      end

      private

      # [the node under a key, its line], or nil
      def step(node, key)
        case node
        when Psych::Nodes::Mapping
          pair =
            node
              .children
              .each_slice(2)
              .find { |name, _| name.respond_to?(:value) && name.value == key }
          pair && [pair.last, pair.first.start_line + 1]
        when Psych::Nodes::Sequence
          one =
            node.children.find { |item| named?(item, key) } ||
              (node.children[key.to_i] if key.match?(/\A\d+\z/))
          one && [one, one.start_line + 1]
        end
      end

      def named?(item, key)
        return item.value == key if item.is_a?(Psych::Nodes::Scalar)
        return false unless item.is_a?(Psych::Nodes::Mapping)

        item
          .children
          .each_slice(2)
          .any? do |name, value|
            name.value == "key" && value.respond_to?(:value) && value.value == key
          end
      end
    end
  end
end
