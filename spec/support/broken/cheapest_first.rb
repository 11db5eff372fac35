# frozen_string_literal: true

# Ways of breaking the law "cheapest_first".
module BrokenFamilies
  # puts a remedy of its own before those of each problem that has one to try at once
  def self.before_others(dear)
    ->(raw, &tell) do
      raw["problems"].each_with_index do |problem, i|
        next unless problem.is_a?(Hash)

        free = ->(one) do
          one.values_at("distress", "stop", "last", "for_good", "when").none? &&
            !%w[workshop maker].include?(one["by"]) && !%w[size prescriber].include?(one["goes_to"])
        end
        next unless problem["remedies"].any?(&free)

        broken = copy(raw)
        broken["problems"][i]["remedies"].insert(0, dear.merge("key" => "dear", "title" => "Dear"))
        tell.call(problem["key"], broken)
      end
    end
  end

  DEAR = { "why" => "It is new.", "force" => "same", "opens" => [] }.freeze
  private_constant :DEAR

  CHEAPEST_FIRST = {
    "another size first" => before_others({ **DEAR, "goes_to" => "size" }),
    "the prescriber first" => before_others({ **DEAR, "goes_to" => "prescriber" }),
    "the workshop first" => before_others({ **DEAR, "by" => "workshop" }),
    "the maker first" => before_others({ **DEAR, "by" => "maker" }),
    "a cut first" =>
      before_others({ **DEAR, "for_good" => "What is cut off is gone.", "by" => "fitter" }),
    "what costs nothing last" => ->(raw, &tell) do
      raw["problems"].each_with_index do |problem, i|
        unless problem.is_a?(Hash) &&
                 problem["remedies"].none? { |one| one["distress"] || one["when"] }
          next
        end

        tried = problem["remedies"].reject { |one| one["last"] }
        dear =
          tried.select do |one|
            one["goes_to"] == "size" || one["for_good"] || one["by"] == "workshop"
          end
        next if dear.empty? || dear.size == tried.size

        broken = copy(raw)
        broken["problems"][i]["remedies"] = dear + (problem["remedies"] - dear)
        tell.call(problem["key"], broken)
      end
    end
  }.freeze
end
