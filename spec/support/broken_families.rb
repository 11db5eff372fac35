# frozen_string_literal: true

require "json"
require "yaml"

# Shipped families, broken on purpose: each way of breaking is tried on every family at every place where it can
# be done.
#
#   BrokenFamilies.made(BrokenFamilies::WAYS["tightening"]["a look that is not opened"])
#   # => [["kafo: problems.drags.dorsi no_numbness", Family, raw], ...]
module BrokenFamilies
  module_function

  FOLDER = Handrail::Families::Registry::FOLDER
  # of one way, at most so many places in one family
  MOST = 3

  # the files as they are written, read once; nothing writes on them
  def shipped =
    @shipped ||=
      Dir[File.join(FOLDER, "*.yml")].map { |path| plain(YAML.safe_load_file(path, aliases: true)) }

  # each Hash and Array its own: what an alias shares is written out
  def plain(raw) = JSON.parse(JSON.generate(raw))

  # way - called with a family's raw Hash, yields [name, a broken copy] for each place
  def made(way, most = MOST)
    shipped.flat_map do |raw|
      found = []
      way.call(raw) { |name, broken| found << [name, broken] }
      found
        .sample(most, random: Random.new(1))
        .filter_map do |name, broken|
          family = load(broken) or next
          ["#{raw["key"]}: #{name}", family, broken]
        end
    end
  end

  # nil where the schema, or a name that points nowhere, refuses it already
  def load(broken)
    filled = Handrail::Families::Shared.fill(copy(broken))
    Handrail::Families::Family.new(Handrail::Knowledge.deep_freeze(filled))
  rescue KeyError, NoMethodError, TypeError, ArgumentError, Handrail::Error
    nil
  end

  def copy(raw) = Marshal.load(Marshal.dump(raw))

  # every own item of a list that passes, changed in a copy of its own
  def each(raw, list, pass = ->(_) { true })
    raw
      .fetch(list, [])
      .each_with_index do |item, i|
        next unless item.is_a?(Hash) && pass[item]

        broken = copy(raw)
        yield broken[list][i], broken, "#{list}.#{item["key"] || i}"
      end
  end

  def each_remedy(raw, pass = ->(_, _) { true })
    raw["problems"].each_with_index do |problem, i|
      next unless problem.is_a?(Hash)

      problem["remedies"].each_with_index do |remedy, j|
        next unless pass[remedy, problem]

        broken = copy(raw)
        yield broken["problems"][i]["remedies"][j], broken, "#{problem["key"]}.#{remedy["key"]}"
      end
    end
  end

  # looks of the family's own and from common.yml
  def looks(raw)
    common = Handrail::Knowledge.common["checks"]
    raw["checks"].filter_map do |check|
      key = check.is_a?(String) ? check : check["key"]
      known = check.is_a?(String) ? common[check] : check
      key if known["looks_for"] && !known["when"]
    end
  end

  def on_items(list, pass = ->(_) { true })
    ->(raw, &tell) do
      each(raw, list, pass) { |item, broken, name| yield(item, broken) && tell.call(name, broken) }
    end
  end

  def on_remedies(pass = ->(_, _) { true })
    ->(raw, &tell) do
      each_remedy(raw, pass) { |item, broken, name| yield(item, broken) && tell.call(name, broken) }
    end
  end

  # the whole family at once
  def on_family
    ->(raw, &tell) do
      broken = copy(raw)
      tell.call("the file", broken) if yield(broken)
    end
  end

  def more = ->(remedy, _) { remedy["force"] == "more" }
  def cut = ->(item) { item["for_good"] }
  def ways = ->(item) { item["ways"]&.none? { |way| way["past"] } }

  # law => what is broken => how, see spec/support/broken
  WAYS =
    Dir[File.join(__dir__, "broken", "*.rb")]
      .each { |path| require path }
      .to_h do |path|
        name = File.basename(path, ".rb")
        [name, const_get(name.upcase)]
      end
      .freeze
end
