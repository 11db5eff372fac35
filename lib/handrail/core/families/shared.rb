# frozen_string_literal: true

module Handrail
  module Families
    # Puts what a family names by key from knowledge/common.yml in its place, before the family is
    # held against its schema.
    module Shared
      # what a family is filled at: lists of items, or of keys of common.yml; and mappings
      LISTS = %w[checks prepare apply doff problems timers stages].freeze
      MAPPINGS = %w[cautions wear recheck].freeze
      INNER = [%w[cautions stop], %w[cautions care], %w[wear stop_and_call], %w[recheck ask]].freeze
      private_constant :LISTS, :MAPPINGS, :INNER

      # raw - the family as parsed. Returns it filled. Raises Knowledge::Faulty for a key that is
      # not there, and for what can not be filled.
      def self.fill(raw)
        raise Knowledge::Faulty, "the file holds no family" unless raw.is_a?(Hash)

        refuse_shapes(raw)
        common = Knowledge.common
        filled = raw.dup
        put(filled, "cautions") do |cautions|
          {
            "note" => common["note"],
            **cautions,
            **%w[stop care]
              .select { |list| cautions[list] }
              .to_h { |list| [list, prompts(cautions[list], common[list], list)] }
          }
        end
        put(filled, "checks") { |checks| entries(checks, common["checks"], "checks") }
        take_up(filled, common)
        put(filled, "wear") do |wear|
          {
            "skin" => common["skin"],
            **wear,
            "stop_and_call" => texts(wear["stop_and_call"], common["calls"])
          }
        end
        put(filled, "recheck") do |recheck|
          { **recheck, "ask" => entries(recheck["ask"], common["asks"], "ask") }
        end
        put(filled, "cautions") { |cautions| with_raised(cautions, filled, common["stop"]) }
        filled
      end

      # what stands where a list or a mapping has to
      def self.refuse_shapes(raw)
        faults = raw.slice(*LISTS).reject { |_, list| items?(list) }.keys
        faults.map! { |key| "#{key}: a list of items is needed" }
        maps = raw.slice(*MAPPINGS).reject { |_, map| map.is_a?(Hash) }
        faults += maps.keys.map { |key| "#{key}: keys with what belongs to them are needed" }
        faults += inner_lists(raw).map { |path| "#{path}: a list of items is needed" }
        faults +=
          bare(raw["problems"]).map do |key|
            "problems.#{key}: a list of remedies, each with its opens, is needed"
          end
        raise Knowledge::Faulty, faults.first(5).join("; ") if faults.any?
      end

      def self.items?(list) =
        list.is_a?(Array) && list.all? { |one| one.is_a?(String) || one.is_a?(Hash) }

      # lists within those mappings that are no lists of items
      def self.inner_lists(raw)
        INNER.filter_map do |map, list|
          own = raw[map]
          "#{map}.#{list}" if own.is_a?(Hash) && own.key?(list) && !items?(own[list])
        end
      end

      # keys of problems without remedies
      def self.bare(problems)
        own = problems.is_a?(Array) ? problems.grep(Hash) : []
        own.reject { |one| remedies?(one["remedies"]) }.map { |one| one["key"] }
      end

      def self.remedies?(list) =
        list.is_a?(Array) && list.all? { |one| one.is_a?(Hash) && one["opens"].is_a?(Array) }
      private_class_method :refuse_shapes, :items?, :inner_lists, :bare, :remedies?

      # where last resorts lead, in order
      LAST = %w[measure size prescriber].freeze
      private_constant :LAST

      class << self
        private

        # what the fit takes from common.yml: its checks first, then what points at a check that
        # this family has
        def take_up(filled, common)
          put(filled, "prepare") { |steps| entries(steps, common["steps"], "prepare") }
          put(filled, "timers") { |timers| entries(timers, common["timers"], "timers") }
          put(filled, "stages") { |stages| entries(stages, common["stages"], "stages") }
          keys = filled["checks"].to_a.map { |check| check["key"] }
          put(filled, "problems") do |problems|
            problems(problems, common["problems"], keys).map do |problem|
              with_last_resorts(problem, common["used_up"])
            end
          end
        end

        # what is left when a problem's own remedies are used up, as far as the family does not name
        # it itself; numbness and breath do not wait for a last resort
        def with_last_resorts(problem, last_resorts)
          remedies = problem["remedies"].to_a
          return problem if remedies.any? { |remedy| remedy["distress"] }

          led = remedies.filter_map { |remedy| remedy["goes_to"] }
          more = last_resorts.to_a.reject { |remedy| led.include?(remedy["goes_to"]) }
          own, last = remedies.partition { |remedy| !remedy["last"] }
          resorts = (last + more).sort_by { |remedy| LAST.index(remedy["goes_to"]) || -1 }
          problem.merge("remedies" => own + resorts)
        end

        # a shared problem looks only at the checks that the family has
        def problems(list, known, checks)
          list.map do |item|
            next item unless item.is_a?(String)

            problem = find(known, item, "problems")
            remedies =
              problem["remedies"].map { |remedy| remedy.merge("opens" => remedy["opens"] & checks) }
            {
              "key" => item,
              **problem,
              "shows_in" => problem["shows_in"] & checks,
              "remedies" => remedies
            }
          end
        end

        def put(raw, key) = raw[key] && raw[key] = yield(raw[key])

        def prompts(list, known, name)
          Array(list).map do |item|
            item.is_a?(String) ? prompt(item, find(known, item, name)) : item
          end
        end

        # the stop signs that checks and remedies raise, beside those that are asked for
        def with_raised(cautions, filled, signs)
          remedies = filled["problems"].to_a.flat_map { |problem| problem["remedies"].to_a }
          named = filled["checks"].to_a.filter_map { |check| check["distress"] }
          named += remedies.filter_map { |remedy| remedy["stop"] }
          lacking = named.uniq - cautions["stop"].to_a.map { |sign| sign["key"] }
          return cautions if lacking.empty?

          { **cautions, "raised" => prompts(lacking, signs, "stop") }
        end

        # a text, or a text with what belongs to it
        def prompt(key, known) =
          known.is_a?(Hash) ? { "key" => key, **known } : { "key" => key, "text" => known }

        def entries(list, known, name)
          Array(list).map do |item|
            item.is_a?(String) ? { "key" => item, **find(known, item, name) } : item
          end
        end

        # a text of its own has a blank in it or a condition beside it, a key has neither
        def texts(list, known)
          Array(list).map do |item|
            key = item.is_a?(Hash) ? item["call"] : item
            next item if !key.is_a?(String) || key.include?(" ")

            said = find(known, key, "stop_and_call").fetch("text")
            item.is_a?(Hash) ? { "text" => said, **item.except("call") } : said
          end
        end

        def find(known, key, name)
          known.fetch(key) { raise Knowledge::Faulty, "common.yml has no #{name} called #{key}" }
        end
      end
    end
  end
end
