# frozen_string_literal: true

# Ways of breaking the law "one_action".
module BrokenFamilies
  ONE_ACTION = {
    "two steps made one" =>
      on_family do |raw|
        at =
          raw["apply"]
            .each_cons(2)
            .find do |a, b|
              a["title"].match?(
                /\A(Close|Open|Pull|Lock|Straighten|Stand|Walk|Sit|Lace|Wet|Lift)\b/
              ) &&
                b["title"].match?(
                  /\A(Close|Open|Pull|Lock|Straighten|Stand|Walk|Sit|Lace|Wet|Lift)\b/
                ) && a["title"].split.first != b["title"].split.first
            end
        at && at.first["do"] = "#{at.first["do"]} #{at.last["title"]}."
      end,
    "what is needed before it is given" =>
      on_family do |raw|
        list =
          %w[prepare apply]
            .map { |name| raw[name] }
            .find do |steps|
              steps.each_with_index.any? do |s, i|
                s.is_a?(Hash) && s["needs"] &&
                  steps
                    .first(i)
                    .any? { |e| e.is_a?(Hash) && e["gives"].to_a.intersect?(s["needs"]) }
              end
            end
        at =
          list &&
            list.index do |s|
              s.is_a?(Hash) && s["needs"] &&
                list
                  .first(list.index(s))
                  .any? { |e| e.is_a?(Hash) && e["gives"].to_a.intersect?(s["needs"]) }
            end
        at && list.insert(0, list.delete_at(at))
      end,
    "what gives it is gone" =>
      on_family do |raw|
        (raw["prepare"] + raw["apply"]).grep(Hash).any? { |one| one["needs"] } &&
          (raw["prepare"] + raw["apply"]).grep(Hash).each { |one| one.delete("gives") }
      end,
    "straps closed in another order" =>
      on_family do |raw|
        closing = raw["apply"].each_index.select { |i| raw["apply"][i]["strap"] }
        next unless closing.size > 1 && closing.none? { |i| raw["apply"][i]["when"] }

        one, other = closing.first(2)
        raw["apply"][one], raw["apply"][other] = raw["apply"][other], raw["apply"][one]
      end,
    "walking before the last strap" =>
      on_family do |raw|
        at = raw["apply"].rindex { |one| one["title"].match?(/\A(stand\b|walk)/i) }
        last = raw["apply"].rindex { |one| one["strap"] && !one["when"] }
        at && last && at > last && !raw["apply"][at]["when"] &&
          raw["apply"].insert(last, raw["apply"].delete_at(at))
      end,
    "a strap before the place" =>
      on_family do |raw|
        place = raw["apply"].index { |one| one["landmark"] && !one["when"] }
        strap = raw["apply"].index { |one| one["strap"] && !one["when"] }
        place && strap && place < strap && raw["apply"].insert(place, raw["apply"].delete_at(strap))
      end,
    "the device not looked at first" =>
      on_family { |raw| raw["prepare"].rotate!(1) if raw["prepare"].size > 1 },
    "the skin looked at first" =>
      on_family do |raw|
        raw["doff"].any? { |one| one["title"].match?(/\blook/i) } && raw["doff"].size > 1 &&
          raw["doff"].rotate!(-1)
      end,
    "two actions in one step off" =>
      on_family do |raw|
        at = raw["doff"].find { |one| one["title"].match?(/\ASit\b/) }
        at && at["do"] = "Then unlock both sides."
      end,
    "lifted before anybody has looked" =>
      on_items("apply", ->(one) { one["shows"] == "lift" }) { |one, _| one.delete("checked") },
    "lifted before the weight is known" =>
      on_items("apply", ->(one) { one["shows"] == "lift" }) do |one, _|
        one["checked"].delete("weight_today")
      end,
    "standing on a lock that nobody has seen" =>
      on_items("apply", ->(one) { one["title"].start_with?("Stand") && one["checked"] }) do |one, _|
        one.delete("checked")
      end,
    "locked, and nothing unlocks it" =>
      on_family { |raw| raw["doff"].reject! { |one| one["title"].match?(/\bunlock\b/i) } },
    "what lies over it stays on" =>
      on_family do |raw|
        over = raw["apply"].grep(Hash).filter_map { |one| one["title"][/\b(sleeve|shoe|liner)\b/i] }
        raw["doff"].reject! { |one| over.any? { |thing| one["title"].match?(/\b#{thing}\b/i) } }
      end,
    "two changes in one remedy" =>
      on_remedies(->(one, _) { one.values_at("stop", "distress", "last").none? }) do |one, _|
        one["title"] = "#{one["title"]}, or the other way"
      end
  }.freeze
end
