# frozen_string_literal: true

module Handrail
  module Families
    # Puts what a family names by key from knowledge/common.yml in its place, before the family is
    # held against its schema.
    module Shared
      # raw - the family as parsed. Returns it filled. Raises Knowledge::Faulty for a key that is
      # not there.
      def self.fill(raw)
        common = Knowledge.common
        filled = raw.dup
        put(filled, "cautions") do |cautions|
          { "note" => common["note"], **cautions, **%w[stop care].select do |list|
            cautions[list]
          end.to_h { |list| [list, prompts(cautions[list], common[list], list)] } }
        end
        put(filled, "checks") { |checks| entries(checks, common["checks"], "checks") }
        take_up(filled, common)
        put(filled, "wear") do |wear|
          { "skin" => common["skin"], **wear, "stop_and_call" => texts(wear["stop_and_call"], common["calls"]) }
        end
        put(filled, "recheck") { |recheck| { **recheck, "ask" => entries(recheck["ask"], common["asks"], "ask") } }
        filled
      end

      class << self
        private

        # what the fit takes from common.yml: its checks first, then what points at a check that
        # this family has
        def take_up(filled, common)
          put(filled, "prepare") { |steps| entries(steps, common["steps"], "prepare") }
          put(filled, "timers") { |timers| entries(timers, common["timers"], "timers") }
          put(filled,
              "problems") do |problems|
            problems(problems, common["problems"], filled["checks"].to_a.map do |check|
              check["key"]
            end)
          end
        end

        # a shared problem looks only at the checks that the family has
        def problems(list, known, checks)
          list.map do |item|
            next item unless item.is_a?(String)

            problem = find(known, item, "problems")
            remedies = problem["remedies"].map { |remedy| remedy.merge("opens" => remedy["opens"] & checks) }
            { "key" => item, **problem, "shows_in" => problem["shows_in"] & checks, "remedies" => remedies }
          end
        end

        def put(raw, key) = raw[key] && raw[key] = yield(raw[key])

        def prompts(list, known, name)
          Array(list).map { |item| item.is_a?(String) ? prompt(item, find(known, item, name)) : item }
        end

        # a text, or a text with what belongs to it
        def prompt(key, known) = known.is_a?(Hash) ? { "key" => key, **known } : { "key" => key, "text" => known }

        def entries(list, known, name)
          Array(list).map { |item| item.is_a?(String) ? { "key" => item, **find(known, item, name) } : item }
        end

        # a text of its own has a blank in it, a key has none
        def texts(list, known)
          Array(list).map { |item| item.include?(" ") ? item : find(known, item, "stop_and_call") }
        end

        def find(known, key, name)
          known.fetch(key) { raise Knowledge::Faulty, "common.yml has no #{name} called #{key}" }
        end
      end
    end
  end
end
