# frozen_string_literal: true

module Handrail
  module Families
    # What could go wrong with a device, and what stands against it: knowledge/hazards.yml held against the
    # families. A hazard that can hurt for long (severity 3) or costs life, limb or spine (4) has two controls that
    # do not rest on the same memory: the fitter's, the wearer's, the program's.
    #
    #   Hazards.all.first.what          # => "Readings or a device of another person"
    #   Hazards.lacking                 # => [] or [Lack[hazard:, family:, controls:, finding:], ...]
    module Hazards
      FILE = File.join(ROOT, "knowledge", "hazards.yml")
      # kind of control => whose memory it rests on
      RESTS_ON = {
        caution: :fitter,
        stop: :fitter,
        check: :fitter,
        step: :fitter,
        ask: :fitter,
        configure: :fitter,
        call: :wearer,
        sheet: :wearer,
        teach: :wearer,
        gate: :program,
        law: :program,
        limit: :program,
        timer: :program,
        method: :program,
        plan: :program,
        part: :program
      }.freeze
      # lines of the wearer's sheet by what they speak of
      LINES = {
        "fall" => /\bfall\b/i,
        "alone" => /\balone\b/i,
        "shoes" => /\bshoes\b/i,
        "drive" => /\bdrive\b/i,
        "bath" => /\bbath\b/i,
        "chewing" => /\bchew/i
      }.freeze

      # kind of control => the keys that a family has of it
      KEYS = {
        caution: ->(family) { family.care_prompts.map(&:key) },
        stop: ->(family) { (family.stop_signs + family.raised_signs).map(&:key) },
        limit: ->(family) do
          bound = family.settings.select { |one| one.at_most || one.at_least }
          family.limits.map(&:option) + bound.map(&:key)
        end,
        check: ->(family) { family.all_checks.map(&:key) },
        step: ->(family) { family.all_steps.map(&:key) },
        timer: ->(family) { family.timers.map(&:key) },
        teach: ->(family) { family.tasks.map(&:key) },
        method: ->(_) { ["plausibility", *Methods::VERSIONS.keys] },
        ask: ->(family) { family.recheck_asks.map(&:key) },
        part: ->(family) { family.parts.map(&:key) },
        plan: ->(family) { family.recheck_plan.any? ? ["recheck"] : [] },
        configure: lambda(&:configuration_keys)
      }.freeze

      # kind - see RESTS_ON; keys - of which a family has one
      Control = Value.new(:kind, :keys) { def memory = RESTS_ON.fetch(kind) }
      # severity - 1 to 4; families - keys
      Hazard = Value.new(:key, :what, :who, :severity, :when, :families, :controls, :source)
      # too few controls of a hazard in a family; controls - those that it has
      Lack = Value.new(:hazard, :family, :controls, :finding)

      class << self
        # All hazards, the gravest first. Raises Knowledge::Faulty, naming what does not exist.
        def all(path = FILE)
          raw = Knowledge.read(path, schema: "hazards")
          found = raw["hazards"].map { |one| hazard(one, raw["groups"]) }
          faults = found.flat_map { |one| nowhere(one) }
          if faults.any?
            raise Knowledge::Faulty, "#{File.basename(path)}: #{faults.first(5).join("; ")}"
          end

          found.sort_by.with_index { |one, i| [-one.severity, i] }
        end

        # Where a hazard of severity 3 or 4 has too few controls, by family.
        def lacking(hazards = all)
          hazards
            .select { |one| one.severity >= 3 }
            .flat_map { |one| one.families.filter_map { |key| lack(one, Registry.fetch(key)) } }
        end

        # Where a hazard of severity 3 or 4 has too few controls in one family, which may be none of those that ship.
        def lacking_in(family)
          grave.select { |one| threatens?(one, family) }.filter_map { |one| lack(one, family) }
        end

        # Whether a hazard is one of a family: of one that does not ship, what is one of all that do, or of all that
        # are made for people.
        def threatens?(hazard, family)
          return hazard.families.include?(family.key) if Registry.all.key?(family.key)

          groups = ["all", ("human" if family.species.include?("human"))].compact
          groups.any? { |name| (members(name, {}) - hazard.families).empty? }
        end

        # Keys of a family's steps on which a hazard of severity 3 or 4 hangs: each is done and ticked for itself.
        def steps_apart(family)
          grave
            .select { |one| threatens?(one, family) }
            .flat_map { |one| controls_in(one, family).select { |control| control.kind == :step } }
            .flat_map(&:keys)
            .uniq
        end

        # The controls of a hazard that a family has.
        def controls_in(hazard, family)
          hazard.controls.select do |control|
            control.keys.any? { |key| there?(control.kind, key, family) }
          end
        end

        private

        def grave = @grave ||= all.select { |one| one.severity >= 3 }.freeze

        def hazard(raw, groups)
          Hazard[
            **raw.except("families", "controls").transform_keys(&:to_sym),
            families: raw["families"].flat_map { |name| members(name, groups) }.uniq.freeze,
            controls:
              raw["controls"]
                .flat_map do |one|
                  one.map { |kind, keys| Control[kind: kind.to_sym, keys: Array(keys).freeze] }
                end
                .freeze
          ]
        end

        def members(name, groups)
          all = Registry.all
          case name
          when "all"
            all.keys
          when "human"
            all.values.select { |family| family.species.include?("human") }.map(&:key)
          else
            groups[name] || [name]
          end
        end

        # families and controls that are named and are not there
        def nowhere(hazard)
          unknown = hazard.families - Registry.all.keys
          return unknown.map { |key| "#{hazard.key}: no family is called #{key}" } if unknown.any?

          hazard.controls.flat_map do |control|
            # one of several stands for families that name the same thing otherwise
            families =
              (
                if control.keys.one?
                  hazard.families.map { |key| Registry.fetch(key) }
                else
                  Registry.all.values
                end
              )
            lost =
              control.keys.reject do |key|
                families.any? { |family| there?(control.kind, key, family) }
              end
            lost.map { |key| "#{hazard.key}: there is no #{control.kind} #{key} in its families" }
          end
        end

        def lack(hazard, family)
          has = controls_in(hazard, family)
          return if has.map(&:memory).uniq.size >= 2

          finding = has.empty? ? "no control" : "all rest on the #{has.first.memory}'s memory"
          Lack[hazard: hazard, family: family.key, controls: has, finding: finding]
        end

        def there?(kind, key, family)
          return Laws.all.map(&:code).include?(key) if kind == :law
          return Fitting::BLOCKS.include?(key.to_sym) if kind == :gate
          return on_sheet?(key, family) if kind == :sheet
          return called?(key, family) if kind == :call

          KEYS.fetch(kind)[family].include?(key)
        end

        # "own" is a line that no other family has
        def called?(key, family)
          known = Knowledge.common["calls"]
          texts = family.calls_said
          return (texts - known.values.map { |one| one["text"] }).any? if key == "own"

          known.key?(key) && texts.include?(known[key]["text"])
        end

        def on_sheet?(key, family)
          case key
          when "way_out"
            family.ways_out.any?
          when "skin", "marks", "heat"
            true
          else
            pattern = LINES[key]
            return SheetTexts.of(family).any? { |text| text.match?(pattern) } if pattern

            family.all_steps.any? { |step| step.key == key && step.at_home != false }
          end
        end
      end
    end
  end
end
