# frozen_string_literal: true

# Ways of breaking the law "schools".
module BrokenFamilies
  SCHOOLS = {
    "a choice without its reason" =>
      on_items(
        "options",
        ->(one) do
          %w[height_landmark toe_opening back_edge correction cups made_for].include?(one["key"]) &&
            one["choices"].all? { |c| c["says"] }
        end
      ) { |one, _| one["choices"][0].delete("says") },
    "no choice at all" =>
      on_family do |raw|
        raw["options"].reject! do |one|
          %w[height_landmark toe_opening back_edge correction cups].include?(one["key"])
        end
      end,
    "one way only" =>
      on_items(
        "options",
        ->(one) { %w[height_landmark toe_opening back_edge correction cups].include?(one["key"]) }
      ) { |one, _| one["choices"] = one["choices"].first(1) },
    "no word on how tight" => on_family { |raw| raw["tension_test"]["says"] = "" },
    "a mark that means nothing" => on_family { |raw| raw["marks"]["kind"] = "mark" }
  }.freeze
end
