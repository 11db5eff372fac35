# frozen_string_literal: true

# What the core makes of a family for an order: list name => lines in words.
module Shown
  module_function

  def of(family, config)
    {
      "named" => family.describe(config),
      "measures" => measures(family, config),
      "stops" => stops(family),
      "care" => family.care_prompts.map(&:text),
      "prepare" => titles(family, :prepare, config),
      "apply" => titles(family, :apply, config),
      "checks" => checks(family, config),
      "recheck" => family.recheck_checks(config).map { |check| family.fill(check.title, config) },
      "asked at the recheck" => family.recheck_asks.map(&:label),
      "problems" => problems(family, config),
      "written on the device" => family.settings_for(config).map(&:label),
      "taught" => taught(family, config),
      "mistakes" => family.mistakes_for(config).map { |one| family.fill(one.text, config) },
      "taken off" => titles(family, :doff, config),
      "rules" => rules(family, config),
      "timers" => family.timers_for(config).map { |timer| "#{timer.label}, #{timer.minutes} min" }
    }.reject { |_, lines| lines.empty? }
  end

  def measures(family, config)
    family
      .needs_for(config)
      .map { |need| [need.site, need.posture, need.tension].compact.join(", ") }
  end

  def stops(family) = family.stop_signs.map { |sign| "#{sign.urgency}: #{sign.text}" }
  def titles(family, list, config) =
    family.public_send(list, config).map { |one| family.fill(one.title, config) }

  def checks(family, config)
    family
      .checks(config)
      .map do |check|
        limits =
          check.criterion.limits.map do |name, limit|
            "#{name.tr("_", " ")} #{check.criterion.print(limit)}"
          end
        [
          family.fill(check.title, config),
          *limits,
          ("on each strap" if check.each_strap)
        ].compact.join("; ")
      end
  end

  # problem => its remedies in order, each with whom it goes to and the checks that it opens again
  def problems(family, config)
    family
      .problems_for(config)
      .to_h do |problem|
        [
          family.fill(problem.title, config),
          problem.remedies.map do |remedy|
            opens = remedy.opens.to_a
            [
              family.fill(remedy.title, config),
              ("to #{remedy.goes_to}" if remedy.goes_to),
              ("by the #{remedy.doer}" unless remedy.doer == "fitter" || remedy.goes_to),
              ("for good" if remedy.for_good),
              *remedy.until.to_h.map { |key, value| "until #{key} is #{value}" },
              ("opens #{opens.join(", ")}" if opens.any?)
            ].compact.join("; ")
          end
        ]
      end
  end

  def taught(family, config) =
    family.tasks_for(config).map { |task| family.fill(task.text, config) }

  def rules(family, config)
    (family.rules(config) + family.care_rules(config)).map { |text| family.fill(text, config) }
  end
end
