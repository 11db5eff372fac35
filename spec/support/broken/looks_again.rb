# frozen_string_literal: true

# Ways of breaking the law "looks_again".
module BrokenFamilies
  # stays with the fitter, or goes to the workshop
  HERE = ->(one, _) { !one["stop"] && !one["last"] && [nil, "workshop"].include?(one["goes_to"]) }

  LOOKS_AGAIN = {
    "the look at what was wrong" =>
      on_remedies(HERE) do |one, raw|
        shown =
          raw["problems"]
            .grep(Hash)
            .find { |problem| problem["remedies"].any? { |each| each.equal?(one) } }
        (one["opens"] & shown["shows_in"]).first(1).each { |key| one["opens"].delete(key) }.any?
      end,
    "every look but one" =>
      on_remedies(
        ->(one, problem) do
          HERE[one, problem] && problem["shows_in"].size > 1 &&
            (problem["shows_in"] & one["opens"]).size > 1
        end
      ) { |one, _| one["opens"] = one["opens"].first(1) },
    "all looks" =>
      on_remedies(
        ->(one, problem) { HERE[one, problem] && one["opens"].any? && problem["shows_in"].any? }
      ) { |one, _| one["opens"] = ["final_look"] },
    "a problem that shows in more" =>
      on_items(
        "problems",
        ->(one) { one["remedies"].any? { |each| HERE[each, one] && !each["when"] } }
      ) do |one, raw|
        more =
          raw["checks"]
            .grep(Hash)
            .reject do |check|
              check["when"] || one["shows_in"].include?(check["key"]) ||
                one["remedies"].any? { |each| each["opens"].include?(check["key"]) }
            end
        more.any? && (one["shows_in"] << more.first["key"])
      end,
    "a lock that nobody looks at after it was seated anew" =>
      on_remedies(
        ->(one, problem) do
          HERE[one, problem] && one["opens"].include?("locks") &&
            !problem["shows_in"].include?("locks")
        end
      ) { |one, _| one["opens"].delete("locks") },
    "a timer that asks nothing" => on_items("timers") { |one, _| one.delete("asks") },
    "a timer that asks for a look that is not there" =>
      on_items("timers") { |one, _| one["asks"] = "nothing" }
  }.freeze
end
