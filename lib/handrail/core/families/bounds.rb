# frozen_string_literal: true

module Handrail
  module Families
    # What signs, ways and bounds of a family point at must exist: see References.
    module Bounds
      class << self
        # What is wrong, in words.
        def faults(family) =
          unknown_signs(family) + unknown_ways(family) + unknown_figures(family) +
            unknown_ends(family)

        private

        # stop signs that checks and remedies raise
        def unknown_signs(family)
          named = family.all_checks.to_h { |check| ["checks.#{check.key}", check.distress] }
          remedies(family) { |path, remedy| named[path] = remedy.stop }
          unknown(named, (family.stop_signs + family.raised_signs).map(&:key), "stop sign")
        end

        # the way of a problem is one of the checks that it shows in
        def unknown_ways(family)
          family
            .problems
            .select(&:way)
            .reject do |problem|
              problem.shows_in.to_a.any? { |key| family.check(key)&.way(problem.way) }
            end
            .map { |problem| "problems.#{problem.key}.way: no check that it shows in fails so" }
        end

        # what bounds what can not be undone: a sheet, a site or a setting of the wearer
        def unknown_figures(family)
          known =
            family.all_derives.map(&:sheet) + family.needs.map(&:site) + family.settings.map(&:key)
          named = family.all_steps.to_h { |step| ["steps.#{step.key}.within", step.within] }
          remedies(family) { |path, remedy| named["#{path}.within"] = remedy.within }
          unknown(named, known, "sheet, site or setting")
        end

        # what bounds settings and checks, and what holds a field of the order
        def unknown_ends(family)
          settings = family.settings
          fields = family.fields
          set = settings.to_h { |field| ["marks.#{field.key}", [field.at_most, field.at_least]] }
          held = fields.to_h { |field| ["order.#{field.key}.held_by", field.held_by] }
          within = family.all_checks.to_h { |check| ["checks.#{check.key}.within", check.within] }
          unknown(set, (settings + fields).map(&:key), "setting or field") +
            unknown(held, family.all_checks.map(&:key), "check") +
            unknown(within, family.options.map(&:key), "option")
        end

        def remedies(family)
          family.problems.each do |problem|
            problem.remedies.each { |remedy| yield "problems.#{problem.key}.#{remedy.key}", remedy }
          end
        end

        def unknown(named, known, what)
          named.flat_map do |where, keys|
            (Array(keys).compact - known).map { |key| "#{where}: no #{what} is called #{key}" }
          end
        end
      end
    end
  end
end
