# frozen_string_literal: true

require "web_helper"
require "support/whole_jobs"

# What is changed after a visit was closed, and the pages that are held against it.
module LaterChanges
  PAGES = %w[
    order
    measure
    size
    fit
    teach
    hand-over
    recheck
    skin
    record
    sheet?in=en
    sheet?in=de
    straps
  ].freeze

  SETTINGS = {
    "repeats" => "3",
    "like_years" => "9",
    "minutes_first" => "90",
    "minutes_recheck" => "90",
    "sheet_language" => "de",
    "closed_days" => "25 Dec 2026",
    "firm" => %w[fit teach recheck]
  }.freeze
  COLUMNS = {
    name: "Another Name",
    place: "Elsewhere",
    address: "1 Changed Street",
    phone: "0000",
    time_zone: "Asia/Tokyo",
    tape: "in 1/8"
  }.freeze

  # a new number of a method, which answers nothing that anybody asks of it
  class Nonsense
    def self.method_missing(name, *) = raise("#{name} of a method that it is not pinned to")
    def self.respond_to_missing?(*) = true
  end
end

# A closed visit says the same, byte for byte, whatever is changed later: each file of knowledge,
# each setting of the clinic, its zone and tape, each method.
RSpec.describe "What a closed visit says", :rolled_back do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }

  # a first fitting and its recheck, both closed, of two families by a turning seed
  let!(:closed) do
    %w[knee_unloader compression_wrap]
      .push(
        Handrail::Families::Registry.all.keys.sample(random: Random.new(RSpec.configuration.seed))
      )
      .uniq
      .flat_map do |family|
        recheck = recheck_of(family)
        answer_all(recheck, fitter)
        look_at_all(recheck, fitter)
        run(recheck, fitter, :CloseRecheck)
        Handrail::Store::Visit.where(fitting_id: recheck.fitting_id).exclude(closed_at: nil).all
      end
  end

  before do
    sign_in(fitter)
    @before = said
  end

  # path => what its main part says, without the keys that every page has anew
  def said
    closed
      .product(LaterChanges::PAGES)
      .to_h do |visit, page|
        get "/visits/#{visit.id}/#{page}"
        body = last_response.body[%r{<main.*</main>}m].to_s
        [
          "#{visit.id}/#{page}",
          body.gsub(/name="(?:page|entry_key|opened|authenticity_token)" value="[^"]*"/, "")
        ]
      end
      .reject { |_, body| body.empty? }
  end

  # every text longer and every number larger, as a file edited by hand would have it
  def edited(part, key = nil)
    case part
    when Hash
      part.to_h { |name, value| [name, edited(value, name)] }
    when Array
      part.map { |value| edited(value, key) }
    when String
      changed_text(part, key)
    when Float
      part * 1.1
    else
      part
    end
  end

  def changed_text(text, key)
    return "5 mm" if key == "resolution"

    if %w[name short landmark label en de topic followed why ways words].include?(key)
      "#{text} X"
    else
      text
    end
  end

  def edition_with(file)
    raw = JSON.parse(Handrail::Edition.current.text)
    raw[file] = (
      if file == "languages"
        raw[file].transform_values { |all| all.map { |one| one.merge("de" => "X") } }
      else
        edited(raw[file])
      end
    )
    Handrail::Edition.from_text(JSON.generate(raw))
  end

  # holds every change of a list alone; the first that shows is named
  def unmoved(changes)
    changes.each do |change|
      yield change
      now = said
      moved = now.keys.reject { |page| now[page] == @before[page] }
      expect([change, moved]).to eq [change, []]
    ensure
      RSpec::Mocks.space.reset_all
    end
  end

  it "stays whatever file of knowledge is edited" do
    expect(@before.values.map(&:size)).to all be > 300
    expect(@before.size).to be >= 40
    unmoved(Handrail::Edition::FILES + %w[languages]) do |file|
      changed = edition_with(file)
      expect(changed.digest).not_to eq Handrail::Edition.current.digest
      allow(Handrail::Edition).to receive(:current).and_return(changed)
    end
    unmoved(%w[families]) do
      allow(Handrail::Families::Registry).to receive(:all).and_return(edited_families)
    end
    unmoved(%w[letters]) do
      allow(Handrail::Followup::Letters).to receive(:all).and_raise("no letter is read here")
    end
    unmoved(%w[hazards]) do
      allow(Handrail::Families::Hazards).to receive(:all).and_raise("no hazard is read here")
    end
    unmoved(%w[together]) do
      allow(Handrail::Families::Together).to receive(:against).and_raise(
        "no rule of orders is read here"
      )
    end
    read = Handrail::Edition::FILES + %w[letters hazards together common girths common_passwords]
    files =
      Dir[File.join(Handrail::Knowledge::FOLDER, "*.*")].map { |path| File.basename(path, ".*") }
    expect(files - read).to be_empty, "a file of knowledge that nothing here edits"
  end

  def edited_families
    Handrail::Families::Registry.all.transform_values do |family|
      raw = JSON.parse(family.text)
      Handrail::Families::Family.from_text(
        JSON.generate(edited(raw).merge("name" => "#{raw["name"]} X"))
      )
    end
  end

  def changed_setting(name)
    return LaterChanges::SETTINGS[name] if LaterChanges::SETTINGS.key?(name)
    return "1-2" if name.start_with?("window.")

    name.start_with?("hours_") ? "06:00-07:00" : "changed #{name}"
  end

  it "stays with each setting of the clinic changed, its zone and its tape" do
    fields = Handrail::Store::Choices.fields.keys + %w[firm]
    families = closed.map { |visit| record(visit).family.key }.uniq
    fields.select! { |name| !name.include?(".") || families.include?(name.split(".")[1]) }
    unmoved(fields) do |name|
      clinic.update(choices: Handrail::Store.json(name => changed_setting(name)))
    end
    unmoved(LaterChanges::COLUMNS.to_a) { |column, value| clinic.update(column => value) }
    expect(clinic.time_zone).to eq "Asia/Tokyo"
  end

  it "stays with a new number of each method, which the next order takes" do
    stub_const("Handrail::Nonsense", LaterChanges::Nonsense)
    methods = Handrail::Methods::MADE_BY
    newer = methods.transform_values { |numbers| numbers.merge(numbers.keys.max + 1 => "Nonsense") }
    stub_const("Handrail::Methods::MADE_BY", newer.freeze)
    stub_const("Handrail::Methods::VERSIONS", newer.transform_values { |all| all.keys.max })
    expect(said).to eq @before
    taken = record(make_visit(clinic, fitter)).pin
    expect(taken.methods).to eq Handrail::Methods::VERSIONS
    expect(taken.method_of("match")).to eq LaterChanges::Nonsense
  end
end
