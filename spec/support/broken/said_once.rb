# frozen_string_literal: true

# Ways of breaking the law "said_once".
module BrokenFamilies
  SAID_ONCE = {
    "what it costs said with the reason" =>
      on_remedies(->(one, _) { one["costs"] }) do |one, _|
        one["why"] = "#{one["why"].delete_suffix(".")}; #{one["costs"].downcase}"
      end,
    "what it costs at the end of the reason" =>
      on_remedies(->(one, _) { one["costs"].to_s.include?(" ") }) do |one, _|
        one["why"] = "It holds better, and #{one["costs"].downcase}"
      end,
    "a reason that is the change" =>
      on_remedies(->(one, _) { !one["distress"] }) { |one, _| one["why"] = "#{one["title"]}." },
    "a step that says its name" =>
      on_items("apply", ->(one) { one["do"].is_a?(String) }) do |one, _|
        one["do"] = "#{one["title"]}. #{one["do"]}"
      end,
    "a step that says its name at home" =>
      on_items("apply", ->(one) { one["at_home"] != false }) do |one, _|
        one["at_home"] = "#{one["title"]}."
      end,
    "a check that says its name" =>
      on_items("checks", ->(one) { !one["variants"] }) do |one, _|
        one["hint"] = "#{one["title"]}."
      end,
    "a rule twice" =>
      on_family do |raw|
        rule = raw.dig("wear", "rules").to_a.find { |one| one.is_a?(String) }
        rule && (raw["wear"]["rules"] << rule)
      end,
    "a landmark that its choice says again" =>
      on_family do |raw|
        option = raw["options"].to_a.find { |one| one["key"] == "height_landmark" }
        option &&
          option["choices"].each { |one| one["says"] = "Hinge level with #{one["said"]}." } &&
          raw["apply"].any? { |one| one["do"].to_s.start_with?("Hinge level with {") }
      end
  }.freeze
end
