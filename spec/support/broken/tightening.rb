# frozen_string_literal: true

# Ways of breaking the law "tightening".
module BrokenFamilies
  TIGHTENING = {
    "a look that is not opened" =>
      on_remedies(more) do |one, raw|
        (one["opens"] & BrokenFamilies.looks(raw))
          .first(1)
          .each { |key| one["opens"].delete(key) }
          .any?
      end,
    "no look opened at all" =>
      on_remedies(more) do |one, raw|
        one["opens"].intersect?(BrokenFamilies.looks(raw)) &&
          one["opens"] -= BrokenFamilies.looks(raw)
      end,
    "a remedy that does not say whether it presses more" =>
      on_remedies { |one, _| one.delete("force") },
    "more said to be the same" =>
      on_remedies(
        ->(one, _) do
          one["force"] == "more" &&
            one["title"].match?(/tighten|firmer|harder|closer|smaller|thicker/i) &&
            !one["title"].match?(/smaller (trial|height)/i)
        end
      ) { |one, _| one["force"] = "same" },
    "a strap that opens no look" =>
      on_items("apply", ->(one) { one["strap"] }) do |one, raw|
        one["opens"].to_a.intersect?(BrokenFamilies.looks(raw)) &&
          one["opens"] -= BrokenFamilies.looks(raw)
      end,
    "a strap that is not felt" =>
      on_items("apply", ->(one) { one["strap"] }) do |one, _|
        one["opens"].to_a.include?("finger_test") && one["opens"] -= ["finger_test"]
      end,
    "pulled again, and nothing looked at" =>
      on_items(
        "apply",
        ->(one) { !one["strap"] && one.values_at("title", "do").join.match?(/snug/i) }
      ) do |one, raw|
        one["opens"].to_a.intersect?(BrokenFamilies.looks(raw)) &&
          one["opens"] -= BrokenFamilies.looks(raw)
      end,
    "the nerve that nobody looks for" =>
      on_family do |raw|
        raw["straps"].to_a.any? { |one| one["level"].to_i.between?(240, 420) } &&
          raw["figure"].start_with?("leg") && raw["checks"].delete("foot_lifts")
      end
  }.freeze
end
