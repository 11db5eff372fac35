# frozen_string_literal: true

module Handrail
  module Families
    # Puts what a family names by key from knowledge/common.yml in its place, before the family is held against its schema.
    module Shared
      # raw - the family as parsed. Returns it filled. Raises Knowledge::Faulty for a key that is not there.
      def self.fill(raw)
        common = Knowledge.common
        filled = raw.dup
        put(filled, "cautions") do |cautions|
          { "note" => common["note"], **cautions, **%w[stop care].select do |list|
            cautions[list]
          end.to_h { |list| [list, prompts(cautions[list], common[list], list)] } }
        end
        put(filled, "checks") { |checks| entries(checks, common["checks"], "checks") }
        put(filled, "wear") { |wear| { "skin" => common["skin"], **wear, "stop_and_call" => texts(wear["stop_and_call"], common["calls"]) } }
        put(filled, "recheck") { |recheck| { **recheck, "ask" => entries(recheck["ask"], common["asks"], "ask") } }
        filled
      end

      class << self
        private

        def put(raw, key) = raw[key] && raw[key] = yield(raw[key])

        def prompts(list, known, name)
          Array(list).map { |item| item.is_a?(String) ? { "key" => item, "text" => find(known, item, name) } : item }
        end

        def entries(list, known, name)
          Array(list).map { |item| item.is_a?(String) ? { "key" => item, **find(known, item, name) } : item }
        end

        # a text of its own has a blank in it, a key has none
        def texts(list, known) = Array(list).map { |item| item.include?(" ") ? item : find(known, item, "stop_and_call") }

        def find(known, key, name) = known.fetch(key) { raise Knowledge::Faulty, "common.yml has no #{name} called #{key}" }
      end
    end
  end
end
