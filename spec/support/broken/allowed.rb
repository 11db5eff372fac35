# frozen_string_literal: true

# Ways of breaking the law "allowed".
module BrokenFamilies
  ALLOWED = {
    "somebody who lies told to stand" =>
      on_family do |raw|
        raw["order"].to_s.include?("postures") &&
          (raw["apply"] << { "key" => "up", "title" => "Stand up", "do" => "Look at it." })
      end,
    "somebody who lies asked sitting" =>
      on_family do |raw|
        raw["order"].to_s.include?("postures") &&
          (
            raw["checks"] << {
              "key" => "seat",
              "title" => "Sits without a pinch",
              "pass" => {
                "kind" => "yes_no"
              }
            }
          )
      end,
    "a task that somebody who lies can not do" =>
      on_family do |raw|
        raw["order"].to_s.include?("postures") &&
          raw["teach"]["tasks"].insert(0, { "key" => "walks", "title" => "Walks in it" })
      end,
    "a remedy that somebody who lies would sit up for" =>
      on_remedies(
        ->(one, _) { one["force"] != "same" && !one["distress"] && !one["when"] }
      ) { |one, raw| raw["order"].to_s.include?("postures") && one["why"] = "Sitting shows it." },
    "a panel moved under somebody who lies, without a roll" =>
      on_remedies(->(one, _) { one["key"].end_with?("_rolled") }) do |one, _|
        one["title"] = "Open, set the back panel lower, close again"
      end,
    "a doctor for a dog" =>
      on_family do |raw|
        raw["species"] == ["dog"] && (raw["wear"]["rules"] << "Ask your doctor about the nights.")
      end,
    "a vet for a person" =>
      on_family do |raw|
        raw["species"] == ["human"] && (raw["wear"]["rules"] << "Ask the vet about the nights.")
      end,
    "lotion on a dog" =>
      on_items("prepare", ->(one) { %w[powder helper].include?(one["key"]) }) do |one, _|
        one["do"] = "Lotion washed off."
      end,
    "what was left out asked all the same" => ->(raw, &tell) do
      %w[checks apply].each do |list|
        each(
          raw,
          list,
          ->(one) { one["when"] && one["title"].match?(/iliac pad|chest pad|suspension sleeve/i) }
        ) do |one, broken, name|
          one.delete("when")
          tell.call(name, broken)
        end
      end
    end,
    "said as if every rupture went back" => ->(raw, &tell) do
      presumed = raw["presumes"].to_a.flat_map { |one| one["words"] }
      %w[prepare doff].each do |list|
        each(
          raw,
          list,
          ->(one) do
            one["variants"] &&
              presumed.any? { |word| one.values_at("title", "do").join.include?(word) }
          end
        ) do |one, broken, name|
          one.delete("variants")
          tell.call(name, broken)
        end
      end
    end,
    "a mistake with what was not ordered" => ->(raw, &tell) do
      raw
        .dig("teach", "mistakes")
        .to_a
        .each_with_index do |mistake, i|
          next unless mistake["when"]

          broken = copy(raw)
          broken["teach"]["mistakes"][i].delete("when")
          tell.call("teach.mistakes.#{mistake["key"]}", broken)
        end
    end,
    "care of what was not ordered" => ->(raw, &tell) do
      raw
        .dig("wear", "care")
        .to_a
        .each_with_index do |care, i|
          next unless care.is_a?(Hash) && care["when"]

          broken = copy(raw)
          broken["wear"]["care"][i].delete("when")
          tell.call("wear.care.#{i}", broken)
        end
    end,
    "a change to what is there already" =>
      on_remedies(
        ->(one, _) { one["when"] && one["title"].match?(/gripping cups|smooth cups|wrap type/i) }
      ) { |one, _| one.delete("when") },
    "a strap on a sleeve" =>
      on_remedies(
        ->(one, problem) do
          one["force"] != "less" && !one["distress"] && problem["key"] == "wrinkles"
        end
      ) { |one, raw| !raw.key?("straps") && one["why"] = "Take up the strap." },
    "left to the reader whether it was ordered" =>
      on_items("apply", ->(one) { one["do"].is_a?(String) }) do |one, _|
        one["do"] = "#{one["do"]} Firmer where that was ordered."
      end,
    "a way out past what may not be there" =>
      on_family { |raw| raw["way_out"] << { "text" => "Open the pouch if there is one." } },
    "a problem of what is not looked at" => ->(raw, &tell) do
      each(
        raw,
        "problems",
        ->(one) { one["when"] && one["felt"].to_a.empty? }
      ) do |one, broken, name|
        keys = one["shows_in"].to_a
        shown = raw["checks"].grep(Hash).select { |check| keys.include?(check["key"]) }
        next unless shown.size == keys.size && shown.all? { |check| check["when"] }

        one.delete("when")
        tell.call(name, broken)
      end
    end,
    "another size of what is made to measure" =>
      on_remedies(
        ->(one, _) { one["force"] == "same" && !one["distress"] && !one["last"] }
      ) { |one, raw| raw.dig("size", "by") == "sheet" && one["title"] = "A size larger" },
    "a stoma that nobody has" => ->(raw, &tell) do
      next unless raw["presumes"].to_s.include?("stoma")

      each(raw, "doff", ->(one) { one["variants"].to_s.include?("pouch") }) do |one, broken, name|
        one["do"] = "Round the pouch and at the groin."
        tell.call(name, broken)
      end
      broken = copy(raw)
      broken["wear"]["stop_and_call"]
        .find { |one| one.is_a?(Hash) && one["call"] == "stoma" }
        .delete("when")
      tell.call("wear.stop_and_call", broken)
    end,
    "somebody who lies told to take it off" =>
      on_family do |raw|
        raw["order"].to_s.include?("postures") &&
          (raw["wear"]["rules"] << "If it hurts, take it off.")
      end
  }.freeze
end
