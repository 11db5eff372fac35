# frozen_string_literal: true

require "digest"
require "json"

module Handrail
  module Families
    # A device family: its whole protocol, read from knowledge/families (or from a kept text) and
    # held against its schema.
    #
    #   family = Registry.fetch("knee_unloader")
    #   config = family.config({ "side" => "left", "compartment" => "medial" }, { "type" => "dial" })
    #   family.steps(config).map(&:title)
    #
    # A `config` is the Hash that decides which parts apply: the order's side and fields, and the
    # product's options.
    class Family
      include AsOrdered

      attr_reader :key,
                  :name,
                  :kind,
                  :about,
                  :species,
                  :figure,
                  :sides,
                  :fields,
                  :stop_signs,
                  :raised_signs,
                  :care_prompts,
                  :caution_note,
                  :needs,
                  :options,
                  :marks,
                  :tension_test,
                  :problems,
                  :tasks,
                  :teach_who,
                  :mistakes,
                  :wear,
                  :recheck_plan,
                  :recheck_readings,
                  :recheck_asks,
                  :recheck_note,
                  :steady,
                  :seats,
                  :lines,
                  :locator,
                  :volume,
                  :pressure_line,
                  :drawing,
                  :size_rule,
                  :index,
                  :index_days,
                  :caution_source,
                  :limits,
                  :timers,
                  :parts,
                  :stages,
                  :digest,
                  :text,
                  :settings,
                  :straps,
                  :place,
                  :lies_on,
                  :girth_change,
                  :ways_out,
                  :side_label,
                  :presumes

      class << self
        # Raises Knowledge::Faulty, naming the file, the key and what is wrong.
        def load(path, sites: Anatomy::Vocabulary.default)
          raw =
            Knowledge.read(path, schema: "family") do |parsed|
              Shared.fill(parsed)
            rescue Knowledge::Faulty => e
              raise Knowledge::Faulty, "#{File.basename(path)}: #{e.message}"
            end
          new(raw).tap { |family| References.check(family, File.basename(path), sites) }
        end

        # The keys that any `when` in a Hash or an Array names.
        def conditions_of(value)
          case value
          when Hash
            value.flat_map { |key, inner| key == "when" ? inner.keys : conditions_of(inner) }
          when Array
            value.flat_map { |inner| conditions_of(inner) }
          else
            []
          end
        end

        # The family of a kept text (see #text).
        def from_text(text) = new(Knowledge.deep_freeze(JSON.parse(text)))
      end

      # raw - the protocol as a Hash, with everything in place that common.yml gives.
      def initialize(raw)
        @raw = raw
        @lies_on = raw["lies_on"]
        @text = JSON.generate(raw).freeze
        @digest = Digest::SHA256.hexdigest(@text)
        @key,
        @name,
        @kind,
        @about,
        @species,
        @figure,
        @sides,
        @marks,
        @tension_test,
        @wear,
        @drawing,
        @place =
          raw.values_at(
            "key",
            "name",
            "kind",
            "about",
            "species",
            "figure",
            "sides",
            "marks",
            "tension_test",
            "wear",
            "drawing",
            "place"
          )
        read_order
        read_fit
        read_follow_up
        @checks_by_key = first_by_key(@checks)
        @steps_by_key = first_by_key(all_steps)
        freeze
      end

      # Keys of the order and the product on which something of it depends.
      def when_keys = Family.conditions_of(@raw).uniq

      # Words of other languages that it brings along, see Edition#with_words.
      def words = @raw.fetch("words", [])

      # The protocol as a Hash, for showing what changed between two.
      def to_h = @raw

      # What is to be measured for this config.
      def needs_for(config) = applying(needs, config)

      # The sheets to compute for this config.
      def derives(config) = applying(@derives, config)
      def all_derives = @derives
      # What can follow from the order: the names that the configuration gives.
      def configuration_keys = @configurations.flat_map { |row| row.gives.keys }.uniq

      # What follows from this order and product: the first row of the configuration table that
      # applies, or nil.
      def configuration(config) = @configurations.find { |row| row.applies?(config) }

      # The config with the options' defaults filled in.
      def config(order, product_options)
        defaults = options.to_h { |option| [option.key, option.default] }
        order.merge(defaults, product_options.slice(*defaults.keys))
      end

      def fields_for(config) = kept(:fields, config) { applying(fields, config) }
      def prepare(config) = kept(:prepare, config) { applying(@prepare, config) }
      def apply(config) = kept(:apply, config) { applying(@apply, config) }
      def doff(config) = kept(:doff, config) { applying(@doff, config) }
      def steps(config) = kept(:steps, config) { prepare(config) + apply(config) }
      def recheck_checks(config) =
        kept(:recheck, config) do
          checks(config).select { |check| @recheck_checks.include?(check.key) }
        end
      def problems_for(config) = kept(:problems, config) { applying(problems, config) }
      def settings_for(config) = kept(:settings, config) { applying(settings, config) }
      def tasks_for(config) = kept(:tasks, config) { applying(tasks, config) }
      def mistakes_for(config) = applying(mistakes, config)
      def rules_said = @rules.map(&:text)
      def cares_said = @care_rules.map(&:text)
      def calls_said = @calls.map(&:text)
      def rules(config) = applying(@rules, config).map(&:text)
      def care_rules(config) = applying(@care_rules, config).map(&:text)
      # For what the wearer takes it off and calls.
      def calls(config) = applying(@calls, config).map(&:text)
      def timers_for(config) = kept(:timers, config) { applying(timers, config) }

      # The straps in closing order: those that apply, or as many as the sheet counts that the
      # family names. sheets - Sizing::Sheets by key, as computed for a side.
      def straps_for(config, sheets = {})
        own = kept(:straps, config) { applying(straps, config) }
        count = @straps_counted && sheets[@straps_counted]&.count or return own

        Straps.spread(own, count)
      end

      # A step of "prepare", "apply" or "doff" by its key, or nil.
      def step_of(list, key)
        { "prepare" => @prepare, "apply" => @apply, "doff" => @doff }.fetch(list)
          .find { |step| step.key == key }
      end

      # Every check, step, problem and rule, whatever the config.
      def all_checks = @checks
      def all_steps = @prepare + @apply + @doff
      def all_rules = @rules + @care_rules + @calls
      def recheck_check_keys = @recheck_checks
      def straps_counted_by = @straps_counted
      def check(key) = @checks_by_key[key]
      def step(key) = @steps_by_key[key]
      def problem(key) = problems.find { |problem| problem.key == key }
      # A stop sign that is asked for, or that a check or a remedy raises.
      def sign(key) = (stop_signs + raised_signs).find { |sign| sign.key == key }
      def option(key) = options.find { |option| option.key == key }
      def strap(key) = straps.find { |strap| strap.key == key }

      # Order and side in words: "left knee unloader, inner side".
      def describe(config)
        both = config["side"] == "both"
        extras =
          fields
            .select(&:part_of_name)
            .filter_map { |field| field.choice(config[field.key])&.in_words }
        named = [both ? nil : config["side"], name.downcase].compact.join(" ")
        [named, *("both sides" if both), *extras].join(", ")
      end

      private

      def read_order
        @fields = fields_of(@raw.dig("order", "fields"))
        @caution_note = @raw.dig("cautions", "note")
        @stop_signs = all(Prompt, @raw.dig("cautions", "stop"))
        @raised_signs = all(Prompt, @raw.dig("cautions", "raised") || [])
        @care_prompts = all(Prompt, @raw.dig("cautions", "care"))
        @index, @index_days, @caution_source =
          @raw["cautions"].values_at("index", "index_days", "source")
        @needs = all(Need, @raw["measure"])
        @size_rule = SizeRule[**symbols(@raw["size"])]
        @derives = all(Derive, @raw.fetch("derive", []))
        @limits = all(Limit, @raw.fetch("limits", []))
        @configurations = all(Configuration, @raw.dig("configure", "rows") || [])
        @options =
          @raw["options"]
            .map { |o| Option[**symbols(o), choices: o["choices"] && all(Choice, o["choices"])] }
            .freeze
      end

      # what is seen and measured of the body beside the size
      def read_body
        @lines = @raw.fetch("lines", [])
        @ways_out = all(WayOut, @raw.fetch("way_out", []))
        @presumes = @raw.fetch("presumes", [])
        @locator = @raw["locator"]
        @side_label = @raw["side_label"]
        @volume = @raw["volume"]
      end

      def read_fit
        read_body
        @straps = all(Strap, @raw.fetch("straps", []))
        @straps_counted = @raw["straps_counted_by"]
        @seats = @raw.fetch("seats", [])
        @pressure_line = @raw["pressure_line"]
        @settings = fields_of(@marks["settings"])
        @prepare = all(Step, @raw["prepare"])
        @apply = all(Step, @raw["apply"])
        @doff = all(Step, @raw.fetch("doff", []))
        @timers = all(Timer, @raw.fetch("timers", []))
        @parts = all(Part, @raw.fetch("parts", []))
        @stages = all(Stage, @raw.fetch("stages", []))
        @checks = @raw["checks"].map { |check| read_check(check) }.freeze
        @problems =
          @raw["problems"]
            .map { |p| Problem[**symbols(p), remedies: all(Remedy, p["remedies"])] }
            .freeze
        @tasks =
          @raw
            .dig("teach", "tasks")
            .map { |t| Prompt[key: t["key"], text: t["title"], when: t["when"]] }
            .freeze
        @mistakes = all(Prompt, @raw.dig("teach", "mistakes"))
        @teach_who = @raw.dig("teach", "who")
      end

      def read_follow_up
        @rules, @care_rules, @calls =
          wear
            .values_at("rules", "care", "stop_and_call")
            .map do |list|
              list
                .map { |rule| rule.is_a?(String) ? Rule[text: rule] : Rule[**symbols(rule)] }
                .freeze
            end
        @recheck_plan = all(PlannedRecheck, @raw.dig("recheck", "plan"))
        @recheck_readings = @raw.dig("recheck", "readings")
        @recheck_checks = @raw.dig("recheck", "checks")
        @recheck_asks = fields_of(@raw.dig("recheck", "ask"))
        @recheck_note = @raw.dig("recheck", "note")
        @steady = @raw.dig("recheck", "steady")
        @girth_change = @raw.fetch("girth_change", {})
      end

      def read_check(raw)
        Check[
          **symbols(raw.except("pass", "each", "ways")),
          ways: all(Way, raw.fetch("ways", [])),
          criterion: Fitting::Criterion.read(raw["pass"]),
          each_strap: raw["each"] == "strap"
        ]
      end

      def fields_of(raw)
        raw
          .map { |f| Field[**symbols(f), choices: f["choices"] && all(Choice, f["choices"])] }
          .freeze
      end

      def all(type, raw) = raw.map { |item| type[**symbols(item)] }.freeze
      def symbols(hash) = hash.transform_keys(&:to_sym)

      def first_by_key(items) = items.reverse.to_h { |item| [item.key, item] }.freeze
    end
  end
end
