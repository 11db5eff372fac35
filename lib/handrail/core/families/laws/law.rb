# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # One law: a code, a reason of one sentence, and the breaches of it in a family.
      #
      #   class MyLaw < Law
      #     law "my_law", "Why it is one."
      #     def look = family.all_checks.each { |check| breach("checks.x", "..") if .. }
      #   end
      class Law
        class << self
          attr_reader :code, :reason

          def law(code, reason)
            @code = code
            @reason = reason
          end
        end

        # family - a Family; raw - its file as it is written
        def initialize(family, raw)
          @family = family
          @raw = raw
          @breaches = []
        end

        # Breaches, each once.
        def breaches
          look
          @breaches.uniq
        end

        private

        attr_reader :family, :raw

        def breach(path, finding)
          @breaches << Breach[
            law: self.class.code,
            family: family.key,
            path: path,
            finding: finding
          ]
        end

        # Every config that the conditions of this family tell apart: option and order by option and order.
        def configs
          @configs ||=
            begin
              keys = deciding.to_h { |key| [key, choices_of(key)] }.reject { |_, all| all.empty? }
              first, *rest = keys.values
              sets = first ? first.product(*rest) : [[]]
              sets.map do |values|
                family.config(keys.keys.zip(values).to_h, {}).merge(keys.keys.zip(values).to_h)
              end
            end
        end

        # what some `when` of the family asks for
        def deciding = family.when_keys

        def choices_of(key)
          return family.sides if key == "side"

          (family.option(key) || family.fields.find { |field| field.key == key })&.choices.to_a.map(
            &:key
          )
        end

        def remedies =
          family.problems.flat_map { |problem| problem.remedies.map { |one| [problem, one] } }
        def remedy_path(problem, remedy) = "problems.#{problem.key}.remedies.#{remedy.key}"

        # [list name, Step] of everything that is done
        def steps
          %w[prepare apply doff].flat_map do |list|
            family.to_h.fetch(list, []).map { |one| [list, family.step_of(list, one["key"])] }
          end
        end

        def looks = family.all_checks.select { |check| check.looks_for.to_a.any? }
        def animal? = family.species == ["dog"]

        # whether two things can apply at once
        def together?(one, other)
          one.when.to_h.all? do |key, values|
            theirs = other.when.to_h[key] or next true
            Array(values).intersect?(Array(theirs))
          end
        end
      end
    end
  end
end
