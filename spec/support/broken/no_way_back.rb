# frozen_string_literal: true

# Ways of breaking the law "no_way_back".
module BrokenFamilies
  NO_WAY_BACK = {
    "a cut that does not say so" =>
      on_remedies(
        ->(one, _) do
          one["for_good"] && one["title"].match?(/\b(trim|cut|drill|grind|new hole)\b/i)
        end
      ) { |one, _| one.delete("for_good") },
    "a cut without a bound" =>
      on_remedies(->(one, _) { one["for_good"] }) { |one, _| one.delete("within") },
    "a cut that anybody may do" =>
      on_remedies(->(one, _) { one["for_good"] }) { |one, _| one.delete("by") },
    "a cut that nobody looks at before" =>
      on_remedies(->(one, _) { one["for_good"] }) do |one, _|
        one["for_good"] = "What is gone is gone."
      end,
    "a step that cuts and does not say so" =>
      on_items(
        "prepare",
        ->(one) { one["for_good"] && one["title"].match?(/trim|cut|drill/i) }
      ) { |one, _| one.delete("for_good") },
    "a step that cuts without a bound" =>
      on_items("prepare", cut) { |one, _| one.delete("within") },
    "a cut in the same breath" =>
      on_remedies(
        ->(one, _) { !one["for_good"] && one["title"].match?(/\A(Lower|Set|Move)\b/) }
      ) { |one, _| one["title"] += " or trim it" },
    "a cut named only in the reason" =>
      on_remedies(->(one, _) { !one["for_good"] && one["why"] }) do |one, _|
        one["why"] = "#{one["why"]} Set back or trimmed."
      end,
    "a cut that opens nothing" =>
      on_remedies(->(one, _) { one["for_good"] }) { |one, _| one["opens"] = [] },
    "a length cut that has no end" =>
      on_family do |raw|
        raw["marks"]["settings"].find { |one| one["label"].include?("released") }&.delete("at_most")
      end
  }.freeze
end
