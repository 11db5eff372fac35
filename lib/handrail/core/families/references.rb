# frozen_string_literal: true

module Handrail
  module Families
    # What a schema can not say of a family file: the keys it names must exist, and none may be
    # given twice.
    module References
      # Raises Knowledge::Faulty with every fault found.
      def self.check(family, file, sites)
        faults =
          unknown_sites(family, sites) + unknown_checks(family) + unknown_straps(family) +
            unknown_conditions(family) + doubled(family) + unsettled(family) +
            unknown_figure(family) + unknown_inputs(family) + unsound_options(family) +
            unknown_locator(family) + unknown_drift(family) + unknown_ends(family) +
            unreached(family) + unknown_stages(family) + Bounds.faults(family)
        raise Knowledge::Faulty, "#{file}: #{faults.join("; ")}" if faults.any?
      end

      class << self
        private

        def unknown_sites(family, sites)
          (family.needs.map(&:site) + family.recheck_readings)
            .uniq
            .reject { |key| sites[key] }
            .map { |key| "measure: no site is called #{key}" } + unknown_anchor(family, sites)
        end

        # stages that begin by a field of the order that there is not
        def unknown_stages(family)
          named =
            family.stages.to_h { |stage| ["stages.#{stage.key}.ordered", stage.ordered.to_h.keys] }
          unknown(named, family.fields.map(&:key), "field")
        end

        # a drawing that hangs on a site without a level
        def unknown_anchor(family, sites)
          anchor = family.drawing.to_h["anchor"] or return []
          sites[anchor]&.level ? [] : ["drawing.anchor: no site with a level is called #{anchor}"]
        end

        def unknown_checks(family)
          named = family.all_steps.to_h { |step| ["apply.#{step.key}.opens", step.opens] }
          family.all_steps.each { |step| named["apply.#{step.key}.checked"] = step.checked }
          family.problems.each do |problem|
            named["problems.#{problem.key}.shows_in"] = problem.shows_in
            problem.remedies.each do |remedy|
              named["problems.#{problem.key}.#{remedy.key}.opens"] = remedy.opens
            end
          end
          named["pressure_line"] = [family.pressure_line["check"]] if family.pressure_line
          unknown(named, family.all_checks.map(&:key), "check")
        end

        def unknown_straps(family)
          named = family.all_steps.to_h { |step| ["apply.#{step.key}.strap", [step.strap].compact] }
          named["seats"] = family.seats
          family
            .problems
            .flat_map(&:remedies)
            .each { |remedy| named["remedy #{remedy.key}.straps"] = remedy.straps }
          unknown(named, family.straps.map(&:key), "strap")
        end

        def unknown_conditions(family)
          known =
            family
              .options
              .select(&:choice?)
              .to_h { |o| [o.key, o.choices.map(&:key)] }
              .merge(
                family.fields.select(&:choices).to_h { |f| [f.key, f.choices.map(&:key)] },
                "side" => family.sides
              )
          conditional(family)
            .flat_map do |item|
              (item.when || {}).flat_map do |key, values|
                Array(values)
                  .reject { |value| known[key]&.include?(value) }
                  .map { |value| "when: nothing is called #{key}: #{value}" }
              end
            end
            .uniq
        end

        def conditional(family)
          family.all_steps + family.all_checks + family.problems.flat_map(&:remedies) +
            family.settings + family.needs + family.all_derives
        end

        def unknown_figure(family)
          Anatomy::Figure.all[family.figure] ? [] : ["figure: there is no figure #{family.figure}"]
        end

        # the inputs of a sheet: all it asks for, nothing else, from places that exist
        def unknown_inputs(family)
          sheets = family.all_derives.map(&:sheet)
          faults =
            [family.size_rule.sheet].compact
              .reject { |key| sheets.include?(key) }
              .map { |key| "size: no derive is called #{key}" }
          faults +
            family.all_derives.flat_map do |derive|
              unless Sizing::SHEETS.include?(derive.sheet)
                next ["derive: there is no sheet #{derive.sheet}"]
              end

              inputs = Sizing.sheet_maker(derive.sheet)::INPUTS
              lacking =
                inputs
                  .reject { |name, type| type.end_with?("?") || derive.inputs.key?(name.to_s) }
                  .keys
              lacking.map { |name| "derive.#{derive.sheet}: #{name} is not given" } +
                (derive.inputs.keys - inputs.keys.map(&:to_s)).map do |name|
                  "derive.#{derive.sheet}: it takes no #{name}"
                end +
                derive.inputs.flat_map do |name, source|
                  unknown_source(family, "derive.#{derive.sheet}.#{name}", source)
                end
            end
        end

        # "degrees_{side}" stands for degrees_left and degrees_right
        def sided(keys) = (keys + keys.map { |key| key.sub(/(?<=_)(left|right)\z/, "{side}") }).uniq

        def unknown_source(family, where, source)
          known = {
            "reading" => family.needs.map(&:site),
            "field" => sided(family.fields.map(&:key)),
            "option" => family.options.map(&:key)
          }
          known.flat_map do |kind, keys|
            if source[kind].nil? || keys.include?(source[kind])
              []
            else
              ["#{where}: no #{kind} is called #{source[kind]}"]
            end
          end
        end

        # marks that drift, of settings that are none or are no lengths
        def unknown_drift(family)
          drift = family.marks["drift"] or return []
          lengths = family.settings.select { |field| field.type == "length" }.map(&:key)
          unknown({ "marks.drift" => [*drift["past"], drift["reach"]] }, lengths, "length")
        end

        # electrodes whose offsets are no settings, or whose size is no option
        def unknown_locator(family)
          return [] unless family.locator

          settings = family.settings.map(&:key)
          named = family.locator["electrodes"].flat_map { |one| one.values_at("across", "down") }
          faults = (named - settings).map { |key| "locator: no setting is called #{key}" }
          return faults if family.option(family.locator["size"])

          faults << "locator: no option is called #{family.locator["size"]}"
        end

        # remedies that are used up at a setting or a limit that the family does not have
        def unknown_ends(family)
          settings = family.settings.to_h { |field| [field.key, field.choices.to_a.map(&:key)] }
          limits = family.limits.map(&:option)
          family
            .problems
            .flat_map(&:remedies)
            .flat_map do |remedy|
              ends =
                remedy.until.to_h.reject { |key, value| settings.fetch(key, []).include?(value) }
              faults = ends.map { |key, value| "remedy #{remedy.key}.until: no #{key} is #{value}" }
              next faults if remedy.limit.nil? || limits.include?(remedy.limit)

              faults << "remedy #{remedy.key}.limit: nothing is limited by #{remedy.limit}"
            end
        end

        def unsound_options(family)
          faults = family.options.filter_map { |option| option.fault(option.default) }
          family.limits.each do |limit|
            faults.concat(
              unknown_source(family, "limits", "option" => limit.option, "field" => limit.most)
            )
            (limit.fields.to_a - sided(family.fields.map(&:key))).each do |key|
              faults << "limits: no field is called #{key}"
            end
            (limit.settings.to_a - family.settings.map(&:key)).each do |key|
              faults << "limits: no setting is called #{key}"
            end
          end
          faults
        end

        # what nobody could ever get to: a check that shows no problem, a remedy that leads nowhere,
        # a strap without a place
        def unreached(family)
          shown = family.problems.flat_map { |problem| problem.shows_in.to_a }
          faults =
            (family.all_checks.map(&:key) - shown).map do |key|
              "checks: no problem shows in #{key}"
            end
          family.problems.each do |problem|
            idle =
              problem.remedies.select do |remedy|
                remedy.opens.empty? && !remedy.goes_to && !remedy.stop
              end
            faults.concat(
              idle.map do |remedy|
                "problems.#{problem.key}.#{remedy.key}: it opens no check and leads nowhere"
              end
            )
            if problem.shows_in.to_a.empty?
              faults << "problems.#{problem.key}: it shows in no check"
            end
          end
          faults + family.straps.reject(&:level).map { |strap| "straps: #{strap.key} has no level" }
        end

        def doubled(family)
          {
            "checks" => family.all_checks,
            "steps" => family.all_steps,
            "problems" => family.problems,
            "straps" => family.straps
          }.flat_map do |where, items|
            items
              .map(&:key)
              .tally
              .select { |_, n| n > 1 }
              .keys
              .map { |key| "#{where}: #{key} is there twice" }
          end
        end

        def unsettled(family)
          faults = []
          unless family.all_checks.one?(&:final)
            faults << "checks: one, and only one, is to be final"
          end
          faults << "apply: at most one strap can be first" if family.all_steps.count(&:first) > 1
          faults
        end

        def unknown(named, known, what)
          named.flat_map do |where, keys|
            (Array(keys) - known).map { |key| "#{where}: no #{what} is called #{key}" }
          end
        end
      end
    end
  end
end
