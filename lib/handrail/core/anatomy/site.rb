# frozen_string_literal: true

module Handrail
  module Anatomy
    # A place on the body where something is measured: the level, the posture and the tension are
    # part of it.
    #
    # key, name, short  - the identifier, the full name, and the name on a figure
    # kind              - "girth", "length", "height" or "width"
    # resolution        - the smallest step worth writing down there, a Length
    # landmark          - how the level is found, in words
    # by                - the landmarks of the figure that it is found from
    # postures, tension - the postures that count; "resting", "snug", "firm" or "hard"
    # paired            - true where the body has a left and a right one
    # ranges            - species => plausible [min, max] as Lengths
    # figure            - the Figure on which it is shown
    # level             - Length above the floor on the reference figure; nil where it is a length
    #                     `between` two named points of the figure, or a girth `around` two of them
    # from, offset      - the landmark that the level is counted from, and how far: a signed Length,
    #                     up is positive
    # species           - the keys of ranges
    # source            - where the definition comes from
    Site =
      Value.new(
        :key,
        :name,
        :short,
        :kind,
        :resolution,
        :landmark,
        :postures,
        :tension,
        :paired,
        :ranges,
        :figure,
        :level,
        :between,
        :around,
        :by,
        :from,
        :offset,
        :source
      ) do
        # Plausible lengths for a species as [min, max], nil when nothing is known.
        def range(species = "human") = ranges[species]

        def posture = postures.first

        # The name inside a sentence: "calf 15 cm below mid patella".
        def said = "#{name[0].downcase}#{name[1..]}".sub(",", "")

        # The same with its preposition: "at the calf 15 cm below mid patella", "for the heel to back
        # of knee".
        def where = "#{%w[girth width].include?(kind) ? "at" : "for"} the #{said}"

        def species = ranges.keys
        def to_s = name
      end
  end
end
