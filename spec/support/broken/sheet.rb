# frozen_string_literal: true

# Ways of breaking the law "sheet".
module BrokenFamilies
  SHEET = {
    "a word gone from a language" =>
      on_items("apply", ->(one) { one["at_home"] != false }) do |one, _|
        one["title"] = "#{one["title"]}, as shown"
      end,
    "nothing said of the night" =>
      on_family do |raw|
        worn = /\b(bed|night|upright|standing|shoe|training|activity|weight bearing)\b/i
        next unless raw["species"] == ["human"] && !raw["wear"]["start"].match?(worn)

        gone =
          raw["wear"]["rules"].reject! { |one| (one.is_a?(Hash) ? one["text"] : one).match?(worn) }
        gone && raw["wear"].to_s.match?(worn) == false
      end,
    "a rule that has no words elsewhere" =>
      on_family { |raw| raw["wear"]["rules"] << "Mind the cat." },
    "an emergency that nobody is called for" =>
      on_family { |raw| raw["wear"]["stop_and_call"].delete("chest") },
    "a danger that nobody is called for" =>
      on_family do |raw|
        raw["wear"]["stop_and_call"].reject! { |key| %w[skin_breaks dog_skin].include?(key) }
      end,
    "no word on when to call" => on_family { |raw| raw["teach"]["tasks"].pop },
    "a step without its picture" =>
      on_items(
        "apply",
        ->(one) { one["shows"] && one["at_home"] != false && !one["strap"] }
      ) { |one, _| one.delete("shows") },
    "a picture of a place that is not on the figure" =>
      on_items("doff", ->(one) { one["at"] }) { |one, _| one["at"] = ["elbow"] },
    "a word of the trade" => on_items("doff") { |one, _| one["do"] = "Look at the malleoli." },
    "the wearer spoken of" =>
      on_family do |raw|
        raw["teach"]["who"] == "wearer" && raw["doff"][0]["do"] = "The wearer pulls it off."
      end,
    "a line that is there twice" =>
      on_family do |raw|
        if raw["wear"]["rules"].any?(String)
          raw["wear"]["rules"] << raw["wear"]["rules"].find { |one| one.is_a?(String) }
        end
      end,
    "words that are hard to read" =>
      on_family do |raw|
        raw["wear"]["care"] = [
          "Circumferential readjustment necessitates professional reevaluation. "
        ] * 30
      end
  }.freeze
end
