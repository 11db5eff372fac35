# frozen_string_literal: true

# Ways of breaking the law "quantities".
module BrokenFamilies
  QUANTITIES = {
    "a number asked with yes or no" =>
      on_items("checks", ->(one) { one["pass"]["kind"] == "length" }) do |one, _|
        one["pass"] = { "kind" => "yes_no" } and one["title"] = "#{one["title"]}, within 5 mm"
      end,
    "a measure without a limit" =>
      on_items("checks", ->(one) { one["pass"]["kind"] == "length" }) do |one, _|
        one["pass"] = { "kind" => "length" }
      end,
    "a measure that does not say what" =>
      on_items("checks", ->(one) { one["ask"] }) { |one, _| one.delete("ask") },
    "what was read asked once more" =>
      on_items("checks", ->(one) { one["answered_by"] }) { |one, _| one.delete("answered_by") },
    "a weight asked with yes or no" =>
      on_items("checks", ->(one) { one["within"] }) do |one, _|
        one["pass"] = { "kind" => "yes_no" } and one["title"] = "Not above 150 kg" and
          one.delete("within")
      end
  }.freeze
end
