# frozen_string_literal: true

# Ways of breaking the law "read_again".
module BrokenFamilies
  READ_AGAIN = {
    "a sizing site forgotten" =>
      on_family do |raw|
        (gone = raw["measure"].find { |one| one["use"] == "size" }) &&
          raw["recheck"]["readings"].delete(gone["site"])
      end,
    "a charted site forgotten" =>
      on_family do |raw|
        (gone = raw["measure"].find { |one| one["use"] == "size_if_charted" }) &&
          raw["recheck"]["readings"].delete(gone["site"])
      end,
    "an option without a ceiling" =>
      on_items("options", ->(one) { %w[length lengths number].include?(one["type"]) }) do |one, _|
        one.delete("most")
      end,
    "an option without a floor" =>
      on_items("options", ->(one) { %w[length lengths number].include?(one["type"]) }) do |one, _|
        one.delete("least")
      end,
    "an ordered number without a ceiling" =>
      on_family do |raw|
        raw["order"]["fields"].find { |one| one["type"] == "number" }&.delete("most")
      end,
    "a setting without a floor" =>
      on_family do |raw|
        raw["marks"]["settings"].find { |one| one["type"] == "number" }&.delete("least")
      end,
    "a final look left out" => on_family { |raw| raw["recheck"]["checks"].delete("final_look") }
  }.freeze
end
