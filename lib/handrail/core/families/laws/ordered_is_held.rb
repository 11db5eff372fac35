# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # What the prescription demands is held against what is set or found, at the fit and at every recheck, or
      # says that it is for the record.
      class OrderedIsHeld < Law
        law "ordered_is_held",
            "An ordered figure that nothing holds is passed without anybody seeing it."

        def look
          family.fields.each { |field| held(field) if field.demand || quantity?(field) }
          family.all_checks.select(&:within).each { |check| again(check, "checks.#{check.key}") }
          line
        end

        private

        # asked in a unit that is ordered, not counted
        def quantity?(field) = %w[number length].include?(field.type) && !field.unit.nil?

        def held(field)
          path = "order.fields.#{field.key}"
          return if field.record

          again_by(field, path)
          # a look holds no figure by itself: what is set by it has an end there
          return if field.held_by.to_a.any? && !quantity?(field)
          return if decides?(field) || bounds?(field) || limited?(field)
          return if family.pressure_line.to_h["ordered"] == field.key

          breach(
            path,
            "nothing holds what is ordered here, and it does not say that it is for the record"
          )
        end

        # it decides what is done, computed or made; the words of a step alone decide nothing
        def decides?(field)
          whole = family.to_h.except("checks", "problems", "timers")
          steps = whole.slice("prepare", "apply", "doff")
          worded = steps.transform_values { |list| list.map { |step| step.except("variants") } }
          made = Family.conditions_of({ **whole, **worded })
          made.include?(field.key) || field.same_as ||
            making.any? { |one| one.inputs.values.any? { |from| named?(from["field"], field) } }
        end

        # sheets that something is made by
        def making = family.all_derives.reject { |one| Sizing.sheet_maker(one.sheet)::INFORMS }

        def bounds?(field) =
          family.settings.any? { |one| [one.at_most, one.at_least].include?(field.key) }
        def limited?(field) =
          family.limits.any? { |limit| limit.fields.to_a.any? { |key| named?(key, field) } }
        def named?(key, field) =
          key && [key, key.sub("{side}", "left"), key.sub("{side}", "right")].include?(field.key)

        def again_by(field, path)
          field.held_by.to_a.each do |key|
            next if family.recheck_check_keys.include?(key)

            breach(path, "“#{key}” holds it, and is not looked at again at rechecks")
          end
        end

        def again(check, path)
          return if family.recheck_check_keys.include?(check.key)

          breach(path, "a limit that is not held at rechecks")
        end

        # pressures under straps
        def line
          name = family.pressure_line or return
          breach("pressure_line", "what is ordered at the ankle has no say") unless name["ordered"]
          return if family.recheck_check_keys.include?(name["check"])

          breach("recheck.checks", "“#{name["check"]}” is not looked at again")
        end
      end
    end
  end
end
