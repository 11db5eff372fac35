# frozen_string_literal: true

module Handrail
  module Families
    # A device family: its whole protocol, read from knowledge/families and held against its schema.
    #
    # A `config` is the Hash that decides which parts apply: the order's side and fields, and the product's options, by key.
    class Family
      attr_reader :key, :name, :kind, :about, :species, :figure, :sides, :fields, :stop_signs, :care_prompts, :caution_note, :needs,
                  :options, :straps, :marks, :settings, :tension_test, :problems, :tasks, :teach_who, :mistakes, :wear, :recheck_plan,
                  :recheck_readings, :recheck_asks, :recheck_note, :drawing, :size_rule, :index, :caution_source, :limits

      # Raises Knowledge::Faulty, naming the file, the key and what is wrong.
      def self.load(path, sites: Anatomy::Vocabulary.default)
        new(Knowledge.read(path, schema: "family") { |raw| Shared.fill(raw) }).tap { |family| References.check(family, File.basename(path), sites) }
      end

      def initialize(raw)
        @raw = raw
        @key, @name, @kind, @about, @species, @figure, @sides, @marks, @tension_test, @wear, @drawing =
          raw.values_at("key", "name", "kind", "about", "species", "figure", "sides", "marks", "tension_test", "wear", "drawing")
        read_order
        read_fit
        read_follow_up
        freeze
      end

      # What is to be measured for this config.
      def needs_for(config) = needs.select { |need| need.applies?(config) }

      # The sheets to compute for this config.
      def derives(config) = @derives.select { |derive| derive.applies?(config) }
      def all_derives = @derives

      # What follows from this order and product: the first row of the configuration table that applies, or nil.
      def configuration(config) = @configurations.find { |row| row.applies?(config) }

      # The config with the options' defaults filled in.
      def config(order, product_options)
        defaults = options.to_h { |option| [option.key, option.default] }
        order.merge(defaults, product_options.slice(*defaults.keys))
      end

      def prepare(config) = applying(@prepare, config)
      def apply(config) = applying(@apply, config)
      def steps(config) = prepare(config) + apply(config)
      def checks(config) = applying(@checks, config)
      def recheck_checks(config) = checks(config).select { |check| @recheck_checks.include?(check.key) }

      # Every check, step and problem, whatever the config.
      def all_checks = @checks
      def all_steps = @prepare + @apply
      def check(key) = @checks.find { |check| check.key == key }
      def step(key) = all_steps.find { |step| step.key == key }
      def problem(key) = problems.find { |problem| problem.key == key }
      def option(key) = options.find { |option| option.key == key }
      def strap(key) = straps.find { |strap| strap.key == key }

      # Fills the names in braces in the protocol's texts: {height_landmark} becomes "the joint line", {height_landmark.says} its reason.
      def fill(text, config)
        text.gsub(/\{(\w+(?:\.says)?)\}/) do
          key, says = Regexp.last_match(1).split(".")
          next config["start_hours"] || wear["start_hours"] if key == "start_hours"
          next tension_test["title"] if key == "tension_test"

          choice = (option(key) || fields.find { |field| field.key == key })&.choice(config[key])
          (says ? choice&.says : choice&.in_words) || (choice ? "" : Regexp.last_match(0))
        end
      end

      # Order and side in words: "left knee unloader, inner side".
      def describe(config)
        side = { "both" => "both sides" }.fetch(config["side"], config["side"])
        extras = fields.select(&:part_of_name).filter_map { |field| field.choice(config[field.key])&.in_words }
        [[side == "both sides" ? nil : side, name.downcase].compact.join(" "), *(side == "both sides" ? [side] : []), *extras].join(", ")
      end

      private

      def read_order
        @fields = fields_of(@raw.dig("order", "fields"))
        @caution_note = @raw.dig("cautions", "note")
        @stop_signs = all(Prompt, @raw.dig("cautions", "stop"))
        @care_prompts = all(Prompt, @raw.dig("cautions", "care"))
        @index, @caution_source = @raw["cautions"].values_at("index", "source")
        @needs = all(Need, @raw["measure"])
        @size_rule = SizeRule[**symbols(@raw["size"])]
        @derives = all(Derive, @raw.fetch("derive", []))
        @limits = all(Limit, @raw.fetch("limits", []))
        @configurations = all(Configuration, @raw.dig("configure", "rows") || [])
        @options = @raw["options"].map { |o| Option[**symbols(o), choices: o["choices"] && all(Choice, o["choices"])] }.freeze
      end

      def read_fit
        @straps = all(Strap, @raw.fetch("straps", []))
        @settings = fields_of(@marks["settings"])
        @prepare = all(Step, @raw["prepare"])
        @apply = all(Step, @raw["apply"])
        @checks = @raw["checks"].map { |check| read_check(check) }.freeze
        @problems = @raw["problems"].map { |p| Problem[**symbols(p), remedies: all(Remedy, p["remedies"])] }.freeze
        @tasks = all(Prompt, @raw.dig("teach", "tasks").map { |task| { "key" => task["key"], "text" => task["title"] } })
        @mistakes = all(Prompt, @raw.dig("teach", "mistakes"))
        @teach_who = @raw.dig("teach", "who")
      end

      def read_follow_up
        @recheck_plan = all(PlannedRecheck, @raw.dig("recheck", "plan"))
        @recheck_readings = @raw.dig("recheck", "readings")
        @recheck_checks = @raw.dig("recheck", "checks")
        @recheck_asks = fields_of(@raw.dig("recheck", "ask"))
        @recheck_note = @raw.dig("recheck", "note")
      end

      def read_check(raw)
        limit = raw.dig("pass", "value")
        Check[**symbols(raw.except("pass")), kind: raw.dig("pass", "kind"), limit: limit && Quantity::Length.parse(limit)]
      end

      def fields_of(raw) = raw.map { |field| Field[**symbols(field), choices: field["choices"] && all(Choice, field["choices"])] }.freeze
      def all(type, raw) = raw.map { |item| type[**symbols(item)] }.freeze
      def symbols(hash) = hash.transform_keys(&:to_sym)
      def applying(items, config) = items.select { |item| item.applies?(config) }
    end
  end
end
