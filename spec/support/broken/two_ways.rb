# frozen_string_literal: true

# Ways of breaking the law "two_ways".
module BrokenFamilies
  TWO_WAYS = {
    "a check that does not ask which" =>
      on_items(
        "checks",
        ->(one) { BrokenFamilies.ways[one] && one["ask"].to_s.match?(/off/i) }
      ) { |one, _| one.delete("ways") },
    "so far from a place, and not which way" =>
      on_items(
        "checks",
        ->(one) { one["ways"] && one["title"].match?(/(fingers?|hands?) (below|above)|correct/i) }
      ) { |one, _| one.delete("ways") },
    "a reason taken away" =>
      on_items(
        "checks",
        ->(one) { one["either"] && one["ask"].to_s.match?(/off|difference/i) }
      ) { |one, _| one.delete("either") },
    "a problem that does not say which" =>
      on_items("problems", ->(one) { one["way"] }) { |one, _| one.delete("way") },
    "two ways mended alike" =>
      on_items("checks", BrokenFamilies.method(:ways).to_proc.call) do |one, _|
        one["ways"].each { |way| way["mend"] = "up" }
      end,
    "a remedy that moves the other way" =>
      on_remedies(
        ->(one, problem) { problem["way"] && one["moves"] && one["moves"] != "any" }
      ) { |one, _| one["moves"] = "sideways" },
    "a remedy that does not say where" =>
      on_remedies(
        ->(one, problem) do
          problem["way"] && one["moves"] && !%w[measure prescriber].include?(one["goes_to"])
        end
      ) { |one, _| one.delete("moves") },
    "one remedy under both" =>
      on_family do |raw|
        one, other =
          raw["problems"]
            .grep(Hash)
            .select { |p| p["way"] }
            .combination(2)
            .find { |a, b| a["way"] != b["way"] && a["shows_in"].intersect?(b["shows_in"]) }
        one &&
          (
            other["remedies"] << {
              **one["remedies"].first,
              "key" => "the_same",
              "moves" => other["remedies"].first["moves"]
            }
          )
      end
  }.freeze
end
