# frozen_string_literal: true

require "spec_helper"

ENV["RACK_ENV"] ||= "test"
unless ENV["DATABASE_URL"].to_s.include?("test")
  abort "These specs need a test database: run bin/test."
end

require_relative "support/test_database"

store = Handrail::Store
number = ENV.fetch("TEST_ENV_NUMBER", "")

%w[heron_quay telling stories other_stories long_stories middle_stories].each do |part|
  require_relative "../demo/#{part}"
end

TestDatabase.new.ready do
  store.migrate
  Handrail::HeronQuay.load
  store.db.disconnect
end

# a demo that was loaded by another state of the program says what this one makes of it
store::Summaries.catch_up

# The made-up clinic; specs that write roll back, or use people of their own.
DEMO = store::Clinic.first(demo: true)

# From here on every connection works as the server does: as a role that owns nothing. What only the
# owner may do is done within `as_owner`.
SERVER_ROLE = "handrail_spec_server#{number}".freeze
store::Roles.make(SERVER_ROLE, "only-for-the-spec")
store::Roles.grant(SERVER_ROLE)
store.db.disconnect
limits = store.db.pool.after_connect
store.db.pool.after_connect =
  proc do |connection|
    limits.call(connection)
    connection.exec("SET ROLE #{SERVER_ROLE}")
  end

# A clinic, its people and its orders, made as the application makes them.
module Fixtures
  Store = Handrail::Store
  Commands = Handrail::Store::Commands
  PASSWORD = Handrail::HeronQuay::PASSWORD

  # Runs a block on this thread's connection as the owner of the tables.
  def as_owner
    Store.db.synchronize do
      Store.db.run("RESET ROLE")
      yield
    ensure
      Store.db.run("SET ROLE #{SERVER_ROLE}")
    end
  end

  # Changes a row of a visit as no entry does.
  def overwrite(visit_id, table, row, **values) =
    Store.db[table].where(visit_id: visit_id, **row).update(**values) && read_anew(visit_id)

  # Lets what is remembered of a visit be read anew, after rows were written to it without an entry.
  def read_anew(visit_id) = Store.db[:visits].where(id: visit_id).update(version: :version)

  # An instrument that sends, of a name of its own: what one of that name sent in an example before is remembered for
  # a day, and a press of the same number at another moment is not taken.
  def make_stand_in(kind, seed:, name: "H-#{SecureRandom.hex(4)}")
    Handrail::Instruments::StandIn.new(kind, seed: seed, name: name).start
  end

  def make_clinic(name = "Test clinic #{SecureRandom.hex(3)}")
    Store::Clinic.create(name: name, place: "Elsewhere", phone: "12", time_zone: "Europe/London")
  end

  def make_account(clinic, role = "fitter")
    hash = Handrail::Store::People.hash(PASSWORD)
    Store::Account.create(
      clinic_id: clinic.id,
      name: "#{role.capitalize} Spec",
      email: "#{role}-#{SecureRandom.hex(4)}@spec.example",
      role: role,
      password_hash: hash
    )
  end

  def desk(clinic, account, **key) = Store::Desk.new(clinic, account, **key)

  def make_patient(clinic, account, **changes)
    form = {
      "record_number" => "T #{SecureRandom.hex(4)}",
      "given_name" => "Wilma",
      "family_name" => "Quarrel",
      "born_on" => "14 Mar 1961",
      "another" => "yes"
    }.merge(changes.transform_keys(&:to_s))
    Store::Patient[desk(clinic, account).run(Commands::AddPatient.new(form))["patient"]]
  end

  # bands - size => [min, max] in cm, for the calf
  def make_product(
    clinic,
    bands = { "S" => [32, 35.4], "M" => [35.5, 37.5], "L" => [37.6, 41] },
    tie: "larger"
  )
    maker = Store::Maker.find_or_create(clinic_id: clinic.id, name: "Specwright")
    product =
      Store::Product.create(
        clinic_id: clinic.id,
        maker_id: maker.id,
        family: "knee_unloader",
        name: "unloader #{SecureRandom.hex(3)}",
        options: Store.json("type" => "single_upright")
      )
    rows =
      bands.map do |size, (min, max)|
        Handrail::Sizing::Chart::Row[
          part: "",
          size: size,
          site: CoreHelpers::CALF,
          min: Rational(min.to_s) * 10,
          max: Rational(max.to_s) * 10,
          unit: "cm",
          tension: "snug"
        ]
      end
    Store::ChartRevision.add(product, rows, dated: Date.new(2026, 1, 1), tie_rule: tie)
    product
  end

  def make_visit(
    clinic,
    account,
    patient: make_patient(clinic, account),
    product: make_product(clinic),
    **changes
  )
    form = {
      "patient" => patient.id,
      "family" => product.family,
      "side" => "left",
      "prescriber" => "Dr Spec",
      "product_id" => product.id,
      "prescribed_on" => clinic.today.iso8601,
      "despite" => "the specs order many",
      "fields" => {
        "compartment" => "medial",
        "indication" => "arthrosis"
      }
    }
    Store::Visit[
      desk(clinic, account).run(
        Commands::WriteOrder.new(form.merge(changes.transform_keys(&:to_s)))
      )[
        "visit"
      ]
    ]
  end

  # the visit as it stands
  def record(visit) = Store::Visits.find(Store::Clinic[visit.clinic_id], visit.id)

  # Runs a command at a visit; how - seen, page and entry_key. Returns the Ledger::Taken.
  def run(visit, account, command, how = {}, **params)
    Store::Ledger.new(visit, account, **how).run(Commands.const_get(command).new(params))
  end

  def ask(visit, account, **found) = run(visit, account, :AskCautions, identity: "yes", **found)

  # Takes a reading; returns its row.
  def take(
    visit,
    account,
    typed,
    how = {},
    unit: "cm",
    site: CoreHelpers::CALF,
    side: "left",
    **more
  )
    taken =
      run(
        visit,
        account,
        :TakeReading,
        how,
        site: site,
        side: side,
        value: typed,
        unit: unit,
        **more
      )
    Store.db[:readings].where(visit_id: visit.id, version: taken.entry[:version]).first
  end

  def look(visit, account, key, how = {}, **seen)
    run(visit, account, :RecordCheck, how, check: key, outcome: seen[:value] ? nil : "good", **seen)
  end

  # every question of a recheck, with the first of its answers
  def answer_all(visit, account)
    record(visit).asks_open.each do |one, side|
      run(visit, account, :AnswerRecheck, field: one.key, answer: one.choices.first.key, side: side)
    end
  end

  # every check of every side, good
  def look_at_all(visit, account)
    now = record(visit)
    now.sides.each do |side|
      now
        .fit
        .checks(side)
        .reject { |check, _| check.answered_by }
        .sort_by
        .with_index { |(check, _), i| [check.final ? 1 : 0, i] }
        .each do |check, place|
          look(visit, account, check.key, place: place, side: side, value: good_value(check, place))
        end
    end
  end

  # a value within a check's criterion, nil for yes and no
  def good_value(check, place = "")
    return unless check.measured?

    limits = check.criterion.limits.values
    return (48 - (2 * place[/\d+/].to_i)).to_s if check.kind == "pressure"
    return check.criterion.print(limits.sum / 2) if limits.size == 2

    check.kind == "length" ? "3 mm" : check.criterion.print(limits.first)
  end

  # what is looked at before a step, good
  def look_first(visit, account, step, side)
    return unless step.checked

    now = record(visit).fit
    looks = now.applying(side).unlooked(step, now.checklist(side))
    looks.each do |item|
      value = good_value(item.check, item.place)
      look(visit, account, item.check.key, place: item.place, side: side, value: value)
    end
  end

  def finish_steps(visit, account)
    now = record(visit)
    now.sides.each do |side|
      steps = now.fit.applying(side).steps
      steps.each do |step|
        look_first(visit, account, step, side)
        run(visit, account, :FinishStep, step: step.key, side: side, sure: step.for_good && "yes")
      end
    end
  end

  # measured and sized, the device at hand
  def sized_visit(clinic, account, serial: "S-1", **how)
    make_visit(clinic, account, **how).tap do |visit|
      ask(visit, account)
      2.times { take(visit, account, "36.5") }
      run(visit, account, :ChooseSize, size: "M")
      run(visit, account, :IssueDevice, serial: serial)
    end
  end

  # says “it is so” to every reading that is asked about
  def confirm(visit, account)
    found = record(visit).doubts.map { |row| row[:id] }
    found.each { |id| run(visit, account, :AnswerReading, row: id, answer: "right") }
  end

  # measured, sized, applied, every check good
  def fitted_visit(clinic, account, **how)
    sized_visit(clinic, account, **how).tap do |visit|
      finish_steps(visit, account)
      look_at_all(visit, account)
    end
  end

  def teach(visit, account, **how)
    shown = record(visit).tasks.map(&:key)
    run(visit, account, :RecordTeachBack, who: "Wilma", unaided: "yes", shown: shown, **how)
  end

  def hand_over(visit, account, how = {}, **changes)
    run(
      visit,
      account,
      :HandOverDevice,
      how,
      start_hours: "2 to 3 hours",
      signed_name: "Wilma Quarrel",
      signature: "M 10 20 L 60 40 L 30 60",
      **changes
    )
  end

  # How many statements a block sends.
  def queries
    log = []
    logger =
      Class
        .new do
          define_method(:info) { |text| log << text }
          %i[debug error warn].each { |name| define_method(name) { |_| nil } }
        end
        .new
    Store.db.loggers << logger
    yield
    log.size
  ensure
    Store.db.loggers.delete(logger)
  end

  # the first recheck of a device that was handed over, with all that its closing asks for
  def recheck_to_close(clinic, account)
    later = record(handed_over_visit(clinic, account)).visits.last
    ask(later, account)
    take(later, account, "36.5")
    answer_all(later, account)
    look_at_all(later, account)
    later
  end

  # handed over; returns its first visit
  def handed_over_visit(clinic, account, **how)
    visit = fitted_visit(clinic, account, **how)
    teach(visit, account)
    hand_over(visit, account)
    visit
  end
end

RSpec.configure do |config|
  config.include Fixtures
  config.around(:each, :rolled_back) do |example|
    Handrail::Store.db.transaction(rollback: :always, auto_savepoint: true) { example.run }
  end
end
