# frozen_string_literal: true

require "web_helper"
require "logger"

# What a constant, a class or a memory holds between requests is frozen with all that it holds, and
# what many threads compute with it is what each computes alone.
RSpec.describe "What requests share" do
  include WebHelpers

  # held by other libraries, or made to be changed under a lock of its own
  foreign =
    /\A(?:Zeitwerk|JSONSchemer|Concurrent|Rack|I18n|ActiveSupport|Tilt|Sinatra|Sequel|TZInfo|Roda|
      Mustermann|BCrypt|Argon2|FFI)/x
  synchronised = [Handrail::Memory, Handrail::Web::Live::Crowd, Module, Proc, Logger]
  # What Sinatra and Roda keep of an app that was built, and what is set once and read ever after.
  built =
    /
    @(?:settings|routes|filters|templates|conditions|errors|middleware|prototype|extensions|opts|\w*cache\w*)\b|
    Handrail::(?:LOADER|Store@db|Knowledge@schemers|HeronQuay)|
    Handrail::Web::SignIn@|Handrail::Store::\w+@(?:setter_methods|plugins|instance_dataset|default_\w+|
    db_schema|dataset\w*|columns|autoreloading_\w+|association\w*)
  /x

  # [path, class] of what can be changed below an object
  define_method(:open_below) do |object, path, seen|
    next [] if object.nil? || seen.key?(object)

    seen[object] = true
    next [] if foreign.match?(object.class.name.to_s)
    next [] if synchronised.any? { |kind| object.is_a?(kind) }
    next [[path, object.class]] unless object.frozen?

    parts =
      case object
      when Array
        object.each_with_index.to_h { |one, i| ["[#{i}]", one] }
      when Hash
        object.to_h { |key, one| ["[#{key.inspect[0, 40]}]", one] }
      when Struct
        object.to_h.transform_keys { |key| ".#{key}" }
      else
        {}
      end
    own = object.instance_variables.to_h { |name| [name.to_s, object.instance_variable_get(name)] }
    parts.merge(own).flat_map { |name, one| open_below(one, "#{path}#{name}", seen) }
  end

  def name_of(mod) = Module.instance_method(:name).bind_call(mod).to_s

  # of the program itself: tools and the demo are loaded by other specs
  def ours?(root, name) =
    root.const_source_location(name).to_a.first.to_s.start_with?(File.join(Handrail::ROOT, "lib"))

  # every module and class of the program
  def modules(root, seen = {}.compare_by_identity)
    return [] if seen[root]

    seen[root] = true
    inner = root.constants(false).reject { |name| root.autoload?(name) }
    found =
      inner.select { |name| ours?(root, name) }.map { |name| root.const_get(name) }.grep(Module)
    [root] +
      found
        .select { |one| name_of(one).start_with?("Handrail") }
        .flat_map { |one| modules(one, seen) }
  end

  # everything that a module holds: path => object
  def held(mod)
    constants = mod.constants(false).reject { |name| mod.autoload?(name) }
    values = constants.to_h { |name| ["#{name_of(mod)}::#{name}", mod.const_get(name)] }
    own =
      mod.instance_variables.to_h do |name|
        ["#{name_of(mod)}#{name}", mod.instance_variable_get(name)]
      end
    values.merge(own).reject { |_, one| one.is_a?(Module) }
  end

  # what a memory keeps
  def kept(memory) = memory.instance_variable_get(:@kept)

  def senior = Handrail::Store::Account.first(clinic_id: DEMO.id, role: "senior", status_id: 2)

  # every page of the demo
  def click_through
    sign_in(senior)
    %w[
      /
      /week
      /week/day
      /report
      /handbook
      /tapes
      /catalogue/
      /patients
      /people
      /settings
    ].each { |path| get path }
    Handrail::Store::Visit
      .where(clinic_id: DEMO.id)
      .select_map(:id)
      .each do |id|
        %w[record measure size fit teach hand-over recheck fits sheet].each do |page|
          get "/visits/#{id}/#{page}"
        end
      end
  end

  it "is frozen, once the demo was clicked through, but for the memories, which are locked" do
    click_through
    seen = {}.compare_by_identity
    all =
      modules(Handrail).flat_map { |mod| held(mod).to_a }.reject { |path, _| built.match?(path) }
    found = all.flat_map { |path, object| open_below(object, path, seen) }
    expect(found.map { |path, kind| "#{path} (#{kind})" }).to eq []
    memories = all.map(&:last).grep(Handrail::Memory)
    expect(memories.sum(&:size)).to be > 100
    memories.each do |memory|
      kept(memory).each_value { |value| expect(Ractor.shareable?(value)).to be true }
    end
  end

  # rounds - of each of eight threads; 10,000 in all: HANDRAIL_ROUNDS=1250
  rounds = ENV.fetch("HANDRAIL_ROUNDS", "40").to_i

  it "comes to the same with eight threads and eight wearers as for each alone" do
    store = Handrail::Store
    visits =
      store::Visit
        .where(clinic_id: DEMO.id, id: store.db[:readings].select(:visit_id))
        .order(:id)
        .limit(8)
        .all
    expect(visits.size).to eq 8
    shared = {
      finder: ->(visit) do
        store::Catalogue.fits(visit, visit.sides.first).map { |fit| fit.found.to_h }
      end,
      advice: ->(visit) { visit.sides.map { |side| visit.sizing.advice(side)&.size } },
      coverage: ->(visit) do
        chart = visit.pin.chart
        chart && Handrail::Sizing::Coverage.new(chart, [visit.sizing.match]).served
      end,
      consistency: ->(visit) do
        visit.live_readings.map { |row| visit.cross.question(row).inspect[0, 200] }
      end,
      pins: ->(visit) { [visit.family.digest, visit.pin.chart&.names, visit.title] },
      texts: ->(visit) { visit.tasks.map { |task| visit.fill(task.text) } },
      wording: ->(visit) do
        visit.gates.before(:hand_over_device).map { |block| Handrail::Wording.block(block, visit) }
      end,
      drawn: ->(visit) { Handrail::Web::Figures.new(visit, side: visit.sides.first).plain }
    }
    answers = ->(row) do
      visit = store::Visits.find(DEMO, row.id)
      shared.transform_values { |ask| ask.call(visit) }
    end
    alone = visits.map { |row| answers.call(row) }
    wrong =
      visits
        .each_with_index
        .map do |row, i|
          Thread.new do
            Array.new(rounds) { answers.call(row) }.count { |answer| answer != alone[i] }
          end
        end
        .sum(&:value)
    expect(wrong).to eq 0
  end
end
