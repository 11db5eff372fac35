# frozen_string_literal: true

# Ways of breaking the law "ordered_is_held".
module BrokenFamilies
  ORDERED_IS_HELD = {
    "an ordered field that nothing holds" =>
      on_family do |raw|
        ends =
          raw.dig("marks", "settings").to_a.flat_map { |one| one.values_at("at_most", "at_least") }
        raw["order"]["fields"].any? { |one| !ends.include?(one["key"]) && one.delete("held_by") }
      end,
    "a record that does not say so" =>
      on_family do |raw|
        raw["order"]["fields"].any? do |one|
          one["record"] && !raw.to_s.include?("{#{one["key"]}}") && one.delete("record")
        end
      end,
    "a setting that may pass what is ordered" =>
      on_family do |raw|
        (
          (
            set =
              raw["marks"]["settings"].find do |one|
                raw["order"]["fields"].any? do |f|
                  [one["at_most"], one["at_least"]].include?(f["key"])
                end
              end
          ) && (set.delete("at_most") || set.delete("at_least")) &&
            !raw["checks"].to_s.include?("x")
        ) || (set && true)
      end,
    "an ordered pressure without a say" =>
      on_family { |raw| raw["pressure_line"]&.delete("ordered") },
    "a limit that rechecks forget" =>
      on_family do |raw|
        (held = raw["checks"].grep(Hash).find { |one| one["within"] }) &&
          raw["recheck"]["checks"].delete(held["key"])
      end,
    "what holds it is not looked at again" =>
      on_family do |raw|
        (held = raw["order"]["fields"].flat_map { |one| one["held_by"].to_a }).any? &&
          raw["recheck"]["checks"].reject! { |key| held.include?(key) }
      end,
    "a new figure that nobody holds" =>
      on_family do |raw|
        raw["order"]["fields"] << {
          "key" => "weight_bearing",
          "label" => "Weight borne",
          "type" => "number",
          "unit" => "kg",
          "least" => 0,
          "most" => 200,
          "demand" => true
        }
      end
  }.freeze
end
