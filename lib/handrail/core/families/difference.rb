# frozen_string_literal: true

module Handrail
  module Families
    # What differs between two texts of a protocol, part by part, so that a fitter sees it before
    # taking it.
    #
    #   Difference.between({ "wear" => { "start" => "2 h" } }, { "wear" => { "start" => "3 h" } })
    #   # => [["wear, start", "2 h", "3 h"]]
    module Difference
      class << self
        # before, after - protocols as Hashes. Returns [[path, before, after], ...] of texts, nil
        # where there was nothing. Parts of a list that have a key are matched by it.
        def between(before, after, path = [])
          return [] if before == after
          return hashes(before, after, path) if before.is_a?(Hash) && after.is_a?(Hash)
          return hashes(keyed(before), keyed(after), path) if keyed?(before) && keyed?(after)

          [[path.join(", "), text(before), text(after)]]
        end

        private

        def hashes(before, after, path)
          (before.keys | after.keys).flat_map do |key|
            between(before[key], after[key], [*path, key.to_s.tr("_", " ")])
          end
        end

        def keyed?(list) =
          list.is_a?(Array) && list.all? { |item| item.is_a?(Hash) && item.key?("key") }
        def keyed(list) = list.to_h { |item| [item["key"], item.except("key")] }

        def text(part)
          case part
          when nil
            nil
          when Hash
            part.map { |key, value| "#{key.tr("_", " ")}: #{text(value)}" }.join("; ")
          when Array
            part.map { |item| text(item) }.join(", ")
          else
            part.to_s
          end
        end
      end
    end
  end
end
