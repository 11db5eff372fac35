# frozen_string_literal: true

require "spec_helper"

ENV["RACK_ENV"] ||= "test"
abort "These specs need a test database: run bin/test." unless ENV["DATABASE_URL"].to_s.include?("test")

store = Handrail::Store
# nothing here needs to outlast a power cut, so no commit waits for the disk
store.db.run("ALTER DATABASE #{store.db.get(Sequel.function(:current_database))} SET synchronous_commit = off")
store.db.disconnect
store.db.run("SET client_min_messages = warning; DROP SCHEMA public CASCADE; CREATE SCHEMA public")
store.migrate

%w[heron_quay telling stories other_stories].each { |part| require_relative "../demo/#{part}" }

# The made-up clinic, loaded once; specs that write roll back, or use people of their own.
DEMO = Handrail::HeronQuay.load

# A clinic, its people and its orders, made as the application makes them.
module Fixtures
  Store = Handrail::Store
  Entries = Handrail::Store::Entries
  PASSWORD = Handrail::HeronQuay::PASSWORD

  def make_clinic(name = "Test clinic #{SecureRandom.hex(3)}")
    Store::Clinic.create(name: name, place: "Elsewhere", phone: "12", time_zone: "Europe/London")
  end

  def make_account(clinic, role = "fitter")
    hash = BCrypt::Password.create(PASSWORD, cost: BCrypt::Engine::MIN_COST).to_s
    Store::Account.create(clinic_id: clinic.id, name: "#{role.capitalize} Spec", email: "#{role}-#{SecureRandom.hex(4)}@spec.example", role: role,
                          password_hash: hash)
  end

  def make_patient(clinic, account, **changes)
    Entries::Patients.create(clinic, account, { "record_number" => "T #{SecureRandom.hex(4)}", "given_name" => "Wilma", "family_name" => "Quarrel",
                                                "born_on" => "14 Mar 1961" }.merge(changes.transform_keys(&:to_s)))
  end

  # bands - size => [min, max] in cm, for the calf
  def make_product(clinic, bands = { "S" => [32, 35.4], "M" => [35.5, 37.5], "L" => [37.6, 41] }, tie: "larger")
    maker = Store::Maker.find_or_create(clinic_id: clinic.id, name: "Specwright")
    product = Store::Product.create(clinic_id: clinic.id, maker_id: maker.id, family: "knee_unloader", name: "unloader #{SecureRandom.hex(3)}",
                                    options: Store.json("type" => "single_upright"))
    rows = bands.map do |size, (min, max)|
      Handrail::Sizing::Chart::Row[part: "", size: size, site: CoreHelpers::CALF, min: Rational(min.to_s) * 10, max: Rational(max.to_s) * 10,
                                   unit: "cm", tension: "snug"]
    end
    Store::ChartRevision.add(product, rows, dated: Date.new(2026, 1, 1), tie_rule: tie)
    product
  end

  def make_visit(clinic, account, patient: make_patient(clinic, account), product: make_product(clinic))
    Entries::Orders.create(clinic, account, patient, { "family" => "knee_unloader", "side" => "left", "prescriber" => "Dr Spec", "product_id" => product.id,
                                                       "prescribed_on" => clinic.today.iso8601,
                                                       "fields" => { "compartment" => "medial", "indication" => "arthrosis" } })
  end

  def record(visit) = Store::VisitRecord.find(Store::Clinic[visit.clinic_id], visit.id)
  def ledger(visit, account, **seen) = Store::Ledger.new(visit, account, **seen)

  def ask(visit, account, **found) = Entries::Orders.ask(ledger(visit, account), record(visit), identity: true, **found)

  def take(visit, account, typed, unit: "cm", site: CoreHelpers::CALF, side: "left", **how)
    Entries::Readings.take(how.delete(:ledger) || ledger(visit, account), record(visit), site: site, side: side, typed: typed, unit: unit, **how)
  end

  def look(visit, account, key, **seen) = Entries::Fit.check(ledger(visit, account), key, outcome: "good", **seen)

  # measured, sized, applied, every check good
  def fitted_visit(clinic, account)
    make_visit(clinic, account).tap do |visit|
      ask(visit, account)
      2.times { take(visit, account, "36.5") }
      Entries::Sizes.choose(ledger(visit, account), "M")
      Entries::Sizes.issue(ledger(visit, account), serial: "S-1", lot: nil)
      record(visit).applying.steps.each { |step| Entries::Fit.step(ledger(visit, account), step.key) }
      record(visit).checks.sort_by { |c| c.final ? 1 : 0 }.each { |c| look(visit, account, c.key, typed: c.measured? ? "3 mm" : nil) }
    end
  end

  def teach(visit, account, **how)
    Entries::Teaching.show(ledger(visit, account), who: "Wilma", unaided: true, shown: family.tasks.map(&:key), **how)
  end

  def hand_over(visit, account, **how)
    Entries::Handing.hand_over(ledger(visit, account), start_hours: "2 to 3 hours", signed_name: "Wilma Quarrel", signature: "M 1 2 L 3 4",
                                                       **how)
  end
end

RSpec.configure do |config|
  config.include Fixtures
  config.around(:each, :rolled_back) do |example|
    Handrail::Store.db.transaction(rollback: :always, auto_savepoint: true) { example.run }
  end
end
