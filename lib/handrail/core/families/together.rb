# frozen_string_literal: true

module Handrail
  module Families
    # Which devices do not go together on one wearer (knowledge/together.yml; common practice, no source). It
    # forbids nothing: who orders both says why.
    #
    #   Together.against("knee_frame", "left", [["knee_unloader", "left"]])
    #   # => [[["knee_unloader", "left"], "Two devices on one knee ..."]]
    module Together
      FILE = File.join(ROOT, "knowledge", "together.yml")

      class << self
        # family - key of what is ordered; side - "left", "right", "both" or nil; worn - [family key, side] of what
        # the wearer has. Returns [[what of it, sentence], ...], each once.
        def against(family, side, worn)
          worn.filter_map do |other, on|
            rule = rules.find { |one| meets?(one, [family, side], [other, on]) } or next
            [[other, on], rule["says"]]
          end
        end

        private

        def rules = @rules ||= Knowledge.read(FILE, schema: "together").fetch("together")

        def meets?(rule, one, other)
          return false unless [one, other].all? { |family, _| rule["families"].include?(family) }

          !rule["sided"] ||
            Measuring::Plan.sides(one.last).intersect?(Measuring::Plan.sides(other.last))
        end
      end
    end
  end
end
