# frozen_string_literal: true

# Ways of breaking the law "way_out".
module BrokenFamilies
  WAY_OUT = {
    "no way out" => on_family { |raw| raw.delete("way_out") },
    "a way that begins with opening" =>
      on_family do |raw|
        raw["way_out"].reject! { |one| one["text"].match?(/sit|lie|hold|still/i) } &&
          raw["way_out"].any?
      end,
    "taken off without sitting down or holding still" =>
      on_family do |raw|
        safe = /\b(sit|lie|let down|holds?|still)\b/i
        raw["doff"].reject! do |one|
          [one, *one["variants"]].any? do |part|
            part.values_at("title", "do").join(" ").match?(safe)
          end
        end && raw["doff"].any?
      end,
    "what is undone first left out" =>
      on_family do |raw|
        undone = /\b(dials?|unlock|suspension sleeve|stimulator|load straps?)\b/i
        raw["doff"].any? { |one| one.values_at("title", "do").join.match?(undone) } &&
          raw["way_out"].reject! { |one| one["text"].match?(undone) }
      end,
    "a shoe left on" =>
      on_family do |raw|
        raw["checks"].to_s.match?(/laced shoe|into the shoe|shoe laced/i) &&
          raw["way_out"].reject! { |one| one["text"].match?(/\bshoe\b/i) }
      end,
    "a shoe left on when it is taken off" =>
      on_family do |raw|
        raw["checks"].to_s.match?(/laced shoe|into the shoe|shoe laced/i) &&
          raw["doff"].reject! { |one| one.values_at("title", "do").join(" ").match?(/\bshoe\b/i) }
      end,
    "locks left out" =>
      on_family do |raw|
        raw["way_out"].any? { |one| one["text"].match?(/unlock/i) } &&
          raw["way_out"].reject! { |one| one["text"].match?(/\bunlock both/i) }
      end,
    "unlocked before sitting" =>
      on_family do |raw|
        raw["way_out"].any? { |one| one["text"].match?(/\bunlock both/i) } &&
          raw["way_out"].reverse!
      end,
    "opened before let down" =>
      on_family { |raw| raw["kind"] == "harness" && raw["way_out"].reverse! },
    "distress that does not say the way out" =>
      on_remedies(->(one, _) { one["why"].to_s.include?("{way_out}") }) do |one, _|
        one["why"] = "Wait, then look."
      end,
    "distress that is no stop sign" =>
      on_remedies(->(one, _) { one["stop"] }) { |one, _| one.delete("stop") },
    "distress that is gone on from" =>
      on_remedies(->(one, _) { one["stop"] }) do |one, raw|
        one["opens"] = [raw["checks"].find { |c| c.is_a?(Hash) }["key"]]
      end,
    "a sign of distress that is not called one" =>
      on_items(
        "checks",
        ->(one) { one["distress"] && one["title"].match?(/warm|breath|feeling|tingl/i) }
      ) { |one, _| one.delete("distress") },
    "distress that is not looked at again" =>
      on_family do |raw|
        raw["recheck"]["checks"].reject! do |key|
          %w[no_numbness toes toes_warm breath fingers_warm legs_feet].include?(key)
        end
      end,
    "nothing that looks for toes or breath" =>
      on_family do |raw|
        raw["kind"] != "FO" &&
          raw["checks"].reject! do |one|
            %w[no_numbness breath].include?(one) ||
              (
                one.is_a?(Hash) && one["looks_for"].to_a.include?("toes") &&
                  raw["figure"] != "trunk"
              )
          end
      end,
    "put on by somebody who was not told to sit" => ->(raw, &tell) do
      next unless %w[leg leg_side foot].include?(raw["figure"])

      broken = copy(raw)
      seated = /\b(sit|sitting|seated|lying|lie (?=down|flat|still|on))\b/i
      steps = (broken["prepare"] + broken["apply"]).grep(Hash)
      changed =
        steps
          .flat_map { |one| [one, *one["variants"]] }
          .flat_map do |one|
            %w[title do at_home].filter_map do |key|
              one[key].is_a?(String) && one[key].gsub!(seated, "ready")
            end
          end
      tell.call("apply", broken) if changed.any?
    end
  }.freeze
end
