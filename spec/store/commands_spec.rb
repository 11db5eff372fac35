# frozen_string_literal: true

require "store_helper"
require "support/whole_jobs"

# Every command, whatever it does: sent twice, twice at once, with other values under one key, from
# another clinic, by the front desk, by a closed account, to a closed visit, from a stale page, with
# nonsense.
RSpec.describe "Every command" do
  include WholeJobs

  store = Handrail::Store
  commands = store::Commands

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let!(:senior) { make_account(clinic, "senior") }
  let!(:desk_account) { make_account(clinic, "front_desk") }
  let(:stranger) { make_account(make_clinic) }
  let(:junk) do
    [
      "\0",
      "\xFF".dup.force_encoding("UTF-8"),
      { "a" => { "b" => "c" } },
      [["x"]],
      "9" * 400,
      "-1",
      "' OR 1=1 --",
      1.5
    ]
  end
  # these name nothing of a clinic: sent by another one they are that one's own
  let(:harmless) do
    %w[
      add_patient
      add_product
      invite_person
      change_settings
      bring_patients
      bring_bundle
      bring_family
      make_practice_patient
      make_group_code
      join_group
      leave_group
      add_work_place
    ]
  end

  # a visit in which the command can be taken, and what to send
  def case_of(command)
    key = command.key
    return visit_case(key) if command < Handrail::Store::VisitCommand

    [nil, desk_case(key)]
  end

  def visit_case(key)
    case key
    when "ask_cautions"
      [make_visit(clinic, fitter), { identity: "yes", stops: [], care: %w[diabetes] }]
    when "record_stop_action"
      [stopped, { stop: "chest", action: "advised", who: "Dr Heart", advice: "harmless" }]
    when "take_reading"
      [asked, { site: CoreHelpers::CALF, side: "left", value: "36.5", unit: "cm" }]
    when "answer_reading"
      [doubtful, { row: record(doubtful).doubts.first[:id], answer: "right" }]
    when "strike_reading"
      [read, { row: record(read).rows(:readings).first[:id], reason: "slipped" }]
    when "correct_reading"
      [
        closed,
        { corrects: record(closed).rows(:readings).first[:id], value: "37", why: "typed wrong" }
      ]
    when "choose_size"
      [read, { size: "M" }]
    when "try_size"
      [read, { size: "M", outcome: "good" }]
    when "issue_device"
      [sized_visit(clinic, fitter), { serial: "S-7", same: "another" }]
    when "finish_step"
      [sized_visit(clinic, fitter), { step: "open_all" }]
    when "record_check"
      [sized_visit(clinic, fitter), { check: "slip", value: "3 mm" }]
    when "correct_check"
      [
        closed,
        {
          corrects: record(closed).rows(:check_results).first[:id],
          outcome: "good",
          value: "4 mm",
          why: "typed wrong"
        }
      ]
    when "correct_device"
      [
        closed,
        {
          corrects: record(closed).rows(:issued_devices).first[:id],
          serial: "RIGHT-9",
          why: "typed wrong"
        }
      ]
    when "change_one_thing"
      [sized_visit(clinic, fitter), { problem: "slides_down", remedy: "wash_lotion" }]
    when "write_settings"
      [sized_visit(clinic, fitter), { settings: { "calf" => "60 mm" } }]
    when "record_teach_back"
      [fitted, { who: "Wilma", unaided: "yes", shown: [] }]
    when "let_pass"
      [fitted, { reason: "carer comes Friday" }]
    when "hand_over_device"
      [taught, { start_hours: "2 hours", signed_name: "Wilma" }]
    when "answer_recheck"
      [rechecking, { field: "skin", answer: "clear" }]
    when "close_recheck"
      [ready_to_close, {}]
    when "book_visit"
      [make_visit(clinic, fitter), { day: (clinic.today + 3).iso8601, time: "09:40" }]
    when "miss_visit"
      [booked, { why: "cancelled" }]
    when "keep_clock_time"
      [booked, { was: "Europe/London", is: "Asia/Tokyo" }]
    when "note_arrival"
      [due_today, { came: "yes" }]
    when "clear_stage"
      [hock, { stage: "range_10", cleared_by: "Dr Lowe, vet" }]
    when "start_timer"
      [asked, { timer: "colour" }]
    when "answer_timer"
      [timed.first, { row: timed.last, answer: "stopped" }]
    when "write_job_slip"
      [
        sized_visit(clinic, fitter),
        { doer: "workshop", what: "rivet hole", due_on: (clinic.today + 3).iso8601 }
      ]
    when "close_job_slip"
      [slipped, { slip: record(slipped).fit.slips_out.first[:id], outcome: "back" }]
    when "take_limb_girths"
      [asked, { girths: { "left:0" => "24.5", "left:40" => "26" }, unit: "cm" }]
    when "renew_part"
      [closed, { part: "pads", note: "worn flat" }]
    when "keep_paper"
      [closed, { kind: "record" }]
    when "record_skin"
      [asked, { x: "190", y: "333", kind: "mark_fades", side: "left" }]
    when "write_word"
      [asked, { pain_without: "7", wants: "walk to the harbour" }]
    when "keep_photo"
      [asked, { what: "heels from behind" }]
    when "place_line"
      points = { "hip" => "170,40", "knee" => "190,400", "toe" => "180,640" }
      [asked, { line: "leg", moment: "before", points: points, side: "left" }]
    when "add_note"
      [asked, { text: "said in passing" }]
    when "take_protocol"
      [
        changed_product,
        { offer: Handrail::Store::Offer.of(record(changed_product)).digest, take: "yes" }
      ]
    when "send_for_piece"
      visit = asked
      2.times { take(visit, fitter, "36.5") }
      run(visit, fitter, :ChooseSize, size: "M")
      [visit, { side: "left", doer: "maker", due_on: (clinic.today + 9).iso8601 }]
    when "correct_order"
      order = { side: "right", prescriber: "Dr Spec", prescribed_on: clinic.today.iso8601 }
      fields = { "compartment" => "medial", "indication" => "arthrosis" }
      [asked, { **order, fields: fields, why: "the letter says right" }]
    when "withdraw_order"
      [asked, { why: "ordered twice" }]
    when "move_order"
      right = make_patient(clinic, fitter, given_name: "Zoe")
      [asked, { record: right.record_number, why: "the sister's record was open" }]
    when "end_fitting"
      [closed, { why: "healed, no device" }]
    end
  end

  # booked for the end of this day, and for now where it ends
  def of_newcomer(key)
    wearer = make_patient(clinic, fitter)
    booked = {
      patient: wearer.id,
      day: clinic.today.iso8601,
      time: "23:30",
      minutes: "20",
      what: "a knee",
      anyway: "yes"
    }
    return booked if key == "book_first"

    desk(clinic, fitter).run(
      Handrail::Store::Commands::BookFirst.new(booked.transform_keys(&:to_s))
    )
    if key == "end_first"
      { patient: wearer.id, why: "cancelled", note: "ill" }
    else
      { patient: wearer.id, came: "yes" }
    end
  end

  def of_caution(key)
    wearer = make_patient(clinic, fitter)
    noted = { patient: wearer.id, text: "Allergy to latex" }
    return noted if key == "note_caution"

    desk(clinic, fitter).run(
      Handrail::Store::Commands::NoteCaution.new(noted.transform_keys(&:to_s))
    )
    caution = Handrail::Store.db[:standing_cautions].where(patient_id: wearer.id).get(:id)
    { patient: wearer.id, caution: caution, why: "tested" }
  end

  # the clinic belongs to a group with another one, unless it is to join; or is its office
  def of_group(key)
    if key == "make_group_code"
      clinic.update(office: true, group_key: clinic.key, group_name: clinic.name)
      return {}
    end
    @sister ||= make_clinic
    return { code: code_of(@sister) } if key == "join_group"

    [clinic, @sister].each { |one| one.update(group_key: @sister.key, group_name: "Shore") }
    case key
    when "add_work_place"
      { email: (@other ||= make_account(@sister)).email }
    when "end_work_place"
      Handrail::Store::Places.keep(desk_account, @other ||= make_account(@sister))
      { place: Handrail::Store.db[:work_places].where(account_id: desk_account.id).get(:id) }
    when "send_record"
      own = { patient: make_patient(clinic, fitter).id, to: @sister.id }
      { **own, consent_by: "the wearer", consent_on: clinic.today.iso8601 }
    when "refuse_record"
      { coming: coming_record }
    else
      {}
    end
  end

  def code_of(office)
    office.update(office: true, group_key: office.key, group_name: office.name)
    token, digest, ends = Handrail::Store::Group.code
    Handrail::Store.db[:group_codes].insert(
      clinic_id: office.id,
      by: make_account(office, "senior").id,
      digest: digest,
      expires_at: ends
    )
    token
  end

  def coming_record
    Handrail::Store.db[:coming_records].insert(
      clinic_id: clinic.id,
      key: SecureRandom.uuid,
      from_clinic_id: @sister.id,
      from_name: "Inland",
      from_record: "I 1",
      wearer: "Ada Quill",
      consent: "herself",
      bytes: Sequel.blob("zip")
    )
  end

  def desk_case(key)
    if %w[join_records part_records].include?(key)
      one, other = Array.new(2) { make_patient(clinic, fitter) }
      words = { from: one.id, into: other.record_number, why: "written down twice" }
      return words if key == "join_records"

      desk(clinic, senior).run(
        Handrail::Store::Commands::JoinRecords.new(words.transform_keys(&:to_s))
      )
      return { from: one.id }
    end
    return of_group(key) if key.match?(/group|work_place|send_record|refuse_record/)
    return of_newcomer(key) if %w[book_first end_first note_newcomer].include?(key)
    return of_caution(key) if %w[note_caution end_caution].include?(key)
    if key == "rest_patient"
      wearer = make_patient(clinic, fitter)
      return(
        { patient: wearer.id, rest: "moved_away", on: clinic.today.iso8601, said: "the daughter" }
      )
    end

    product = @product ||= make_product(clinic)
    patient = @patient ||= make_patient(clinic, fitter)
    number = @number ||= "N #{SecureRandom.hex(3)}"
    person = {
      record_number: number,
      given_name: "Ada",
      family_name: "Quill",
      born_on: "1 Jan 1970"
    }
    case key
    when "add_patient"
      person
    when "change_patient"
      { **person, record_number: patient.record_number, patient: patient.id, seen: 0 }
    when "write_order"
      {
        patient: patient.id,
        family: product.family,
        product_id: product.id,
        side: "left",
        prescriber: "Dr Spec",
        prescribed_on: clinic.today.iso8601,
        fields: {
          "compartment" => "medial",
          "indication" => "arthrosis"
        }
      }
    when "add_product"
      { maker: "Specwright", name: "model #{number}", family: product.family, options: {} }
    when "change_product"
      { product: product.id, options: { "type" => "dial" }, offered: "yes" }
    when "add_chart"
      { product: product.id, dated: "1 Feb 2026", tie_rule: "larger" }
    when "receive_stock"
      { product: product.id, size: "M", count: "2" }
    when "set_stock_level"
      { product: product.id, size: "M", least: "3" }
    when "put_back_piece"
      { item: @piece ||= returned_piece(product) }
    when "bring_patients"
      { rows: JSON.generate([[2, person.transform_keys(&:to_s)]]) }
    when "take_back_patients"
      { entry: brought }
    when "bring_family"
      { why: "made by our own workshop" }
    when "end_family"
      { key: brought_family, why: "no longer made" }
    when "bring_bundle"
      { rows: JSON.generate(from_elsewhere) }
    when "end_brought"
      { record: brought_record, why: "of another person" }
    when "bring_readings"
      { rows: JSON.generate([[2, earlier]]) }
    when "take_back_readings"
      { entry: brought_readings }
    when "change_settings"
      {
        seen: Handrail::Store::ClinicValues.digest(clinic),
        name: "Spec clinic",
        place: "Elsewhere",
        phone: "12",
        time_zone: "Europe/London",
        tape: "cm 1 mm"
      }
    when "invite_person"
      { email: "#{number.delete(" ")}@spec.example", role: "fitter" }
    when "change_role"
      { person: colleague.id, role: "front_desk" }
    when "change_hours"
      { person: desk_account.id, hours: { "mon" => "09:00-13:00" } }
    when "close_account", "send_reset_link"
      { person: colleague.id }
    when "take_off_codes"
      { person: coded.id }
    when "make_practice_patient"
      {}
    end
  end

  def brought
    once(:brought) do
      rows = [
        [
          2,
          {
            "record_number" => "B 1",
            "given_name" => "Ada",
            "family_name" => "Q",
            "born_on" => "1.1.1970"
          }
        ]
      ]
      key = SecureRandom.uuid
      desk(clinic, fitter, entry_key: key).run(
        Fixtures::Commands::BringPatients.new("rows" => JSON.generate(rows))
      )
      Handrail::Store.db[:entries].where(clinic_id: clinic.id, entry_key: key).get(:id)
    end
  end

  # one patient of a bundle
  def from_elsewhere
    number = once(:number) { "F #{SecureRandom.hex(4)}" }
    one = {
      "record_number" => number,
      "given_name" => "Ada",
      "family_name" => "Rowe",
      "born_on" => "1950-02-03"
    }
    { "patients" => [[1, one]], "readings" => [] }
  end

  # a reading from before
  def earlier
    {
      "record_number" => once(:wearer) { make_patient(clinic, fitter) }.record_number,
      "date" => "14 Mar 2025",
      "site" => "calf_widest",
      "side" => "left",
      "value" => "36.5",
      "unit" => "cm"
    }
  end

  def brought_record
    Handrail::Store.db[:brought_records].insert(
      clinic_id: clinic.id,
      patient_id: make_patient(clinic, fitter).id,
      by: fitter.id,
      sha256: "0" * 64,
      clinic: "Elsewhere",
      told: Handrail::Store.json({}),
      files: Handrail::Store.json([])
    )
  end

  def brought_readings
    once(:brought_readings) do
      key = SecureRandom.uuid
      desk(clinic, fitter, entry_key: key).run(
        Fixtures::Commands::BringReadings.new("rows" => JSON.generate([[2, earlier]]))
      )
      Handrail::Store.db[:entries].where(clinic_id: clinic.id, entry_key: key).get(:id)
    end
  end

  def coded
    once(:coded) do
      make_account(clinic).tap do |account|
        Handrail::Store.db[:account_otp_keys].insert(id: account.id, key: "k")
      end
    end
  end

  def colleague = once(:colleague) { make_account(clinic) }

  # --- visits in their states, each made once a case ---

  def once(name) = (@made ||= {})[name] ||= yield

  def timed
    once(:timed) do
      visit = make_visit(clinic, fitter).tap { |made| ask(made, fitter) }
      run(visit, fitter, :StartTimer, timer: "colour")
      [visit, record(visit).running_timers.first[:id]]
    end
  end

  def slipped
    once(:slipped) do
      sized_visit(clinic, fitter).tap do |visit|
        due = (clinic.today + 3).iso8601
        run(visit, fitter, :WriteJobSlip, doer: "maker", what: "longer strap", due_on: due)
      end
    end
  end

  # a dog's hock brace at its first recheck
  def hock
    once(:hock) do
      recheck_of("canine_hock_brace", sized_job("canine_hock_brace", product_like("hock")))
    end
  end

  def booked
    once(:booked) do
      make_visit(clinic, fitter).tap do |visit|
        run(visit, fitter, :BookVisit, day: (clinic.today + 3).iso8601, time: "09:40")
      end
    end
  end

  def due_today
    once(:due_today) do
      make_visit(clinic, fitter).tap do |visit|
        run(visit, fitter, :BookVisit, day: clinic.today.iso8601, time: "23:30", anyway: "yes")
      end
    end
  end

  def asked = once(:asked) { make_visit(clinic, fitter).tap { |visit| ask(visit, fitter) } }
  def stopped =
    once(:stopped) do
      make_visit(clinic, fitter).tap { |visit| ask(visit, fitter, stops: %w[chest]) }
    end
  def read = once(:read) { asked.tap { |visit| take(visit, fitter, "36.5") } }
  def doubtful = once(:doubtful) { asked.tap { |visit| take(visit, fitter, "14", unit: "cm") } }
  def fitted = once(:fitted) { fitted_visit(clinic, fitter) }
  def taught = once(:taught) { fitted.tap { |visit| teach(visit, fitter) } }
  def closed = once(:closed) { handed_over_visit(clinic, fitter) }

  def rechecking
    once(:rechecking) { record(closed).visits.last.tap { |visit| ask(visit, fitter) } }
  end

  def ready_to_close
    once(:ready) do
      rechecking.tap do |visit|
        take(visit, fitter, "36.4")
        answer_all(visit, fitter)
        look_at_all(visit, fitter)
      end
    end
  end

  def changed_product
    once(:changed) do
      asked.tap do |visit|
        product = store_product(visit)
        product.update(options: Handrail::Store.json("type" => "double_upright"))
      end
    end
  end

  def store_product(visit) = Handrail::Store::Product[visit.fitting.product_id]

  def returned_piece(product)
    visit = handed_over_visit(clinic, fitter)
    run(visit, fitter, :EndFitting, why: "healed, no device")
    Handrail::Store.db[:stock_items].insert(
      clinic_id: clinic.id,
      product_id: product.id,
      size: "M",
      state: "taken",
      fitting_id: visit.fitting_id
    )
  end

  # --- how a command is sent ---

  def made(command, params)
    return command.new(params, rows: chart_rows) if command.key == "add_chart"
    return command.new(params, password: Fixtures::PASSWORD) if command.key == "add_work_place"
    return command.new(params, photo: small_photo) if command.key == "keep_photo"
    return command.new(params, paper: small_paper) if command.key == "keep_paper"
    return command.new(params, looked: own_family) if command.key == "bring_family"

    command.new(params)
  end

  # a family of a clinic's own, as it was looked at
  def own_family
    family = Handrail::Families::Registry.fetch("ankle_sleeve")
    raw = Marshal.load(Marshal.dump(family.to_h)).merge("key" => "quay_sleeve")
    made = Handrail::Families::Family.from_text(JSON.generate(raw))
    Handrail::Store::OwnFamilies::Looked[
      name: "quay.yml",
      family: made,
      source: "key: quay_sleeve",
      faults: []
    ]
  end

  # its key, once it was brought in
  def brought_family
    @brought_family ||=
      Handrail::Store::Desk.new(clinic, senior, entry_key: SecureRandom.uuid).run(
        Handrail::Store::Commands::BringFamily.new({ "why" => "made here" }, looked: own_family)
      )[
        "family"
      ]
  end

  def small_paper = Handrail::Exchange::Paper::Made[bytes: "%PDF-1.4", pages: 1]

  # what a command takes as a photo
  def small_photo
    bytes = "a photo"
    digest = Digest::SHA256.hexdigest(bytes)
    Struct.new(:bytes, :sha256, :width, :height).new(bytes, digest, 30, 20)
  end

  def chart_rows
    [
      Handrail::Sizing::Chart::Row[
        part: "",
        size: "one",
        site: CoreHelpers::CALF,
        min: 300r,
        max: 400r,
        unit: "cm"
      ]
    ]
  end

  def who_may(command)
    { anyone: desk_account, clinical: fitter, senior: senior }.fetch(command.role)
  end

  def deliver(command, visit, params, account, **how)
    return Handrail::Store::Ledger.new(visit, account, **how).run(made(command, params)) if visit

    Handrail::Store::Desk.new(account.clinic, account, **how.slice(:entry_key, :page)).run(
      made(command, params)
    )
  end

  # what it leaves in the database, without the trail
  def left(visit)
    tables =
      if visit
        Handrail::Store::VisitRows::TABLES
      else
        %i[
          patients
          fittings
          visits
          makers
          products
          chart_revisions
          stock_items
          stock_levels
          entries
        ]
      end
    tables.to_h { |table| [table, Handrail::Store.db[table].where(clinic_id: clinic.id).count] }
  end

  all =
    Dir[File.join(Handrail::ROOT, "lib/handrail/store/commands/*.rb")].map do |path|
      File.basename(path, ".rb")
    end
  all = all.map { |name| commands.const_get(name.split("_").map(&:capitalize).join) }.grep(Class)

  it "is one of those that are tried here" do
    expect(all.size).to be >= 30
    expect(all.map(&:key)).to include(
      "take_reading",
      "hand_over_device",
      "add_patient",
      "receive_stock"
    )
  end

  # what every command is held to: words => method
  aspects = {
    "is kept once when it is sent twice, and refused under the same key with other values" =>
      :kept_once,
    "is taken from nobody who may not" => :of_who_may,
    "finds nothing from another clinic" => :of_one_clinic,
    "refuses nonsense in words" => :in_sense
  }
  at_visits = {
    "tells a stale page what changed, where it watches something" => :told_of_changes,
    "leaves a closed visit alone, unless it is a correction" => :of_open_visits
  }

  # the case is made once for all of them, and each finds it as it was made
  all.each do |command|
    held = command < store::VisitCommand ? aspects.merge(at_visits) : aspects
    # what is expected stands in the methods
    it "#{command.key} #{held.keys.join("; ")}", :rolled_back do # rubocop:disable RSpec/NoExpectationExample
      visit, params = case_of(command)
      held.each do |words, method|
        aggregate_failures("#{command.key} #{words}") do
          Handrail::Store
            .db
            .transaction(rollback: :always, savepoint: true, auto_savepoint: true) do
              send(method, command, visit, params)
            end
        end
      end
    end
  end

  def kept_once(command, visit, params)
    key = SecureRandom.uuid
    account = who_may(command)
    deliver(command, visit, params, account, entry_key: key)
    expect { deliver(command, visit, params, account, entry_key: key) }.not_to(
      change { left(visit) }
    )
    return if command.inputs.empty?

    type, from =
      command.inputs.values.find { |kind, _| %i[line text].include?(kind) } ||
        command.inputs.values.first
    other = params.transform_keys(&:to_s).merge(from => type == :id ? "1" : "another value")
    # another value is another entry, where it can be read at all
    expect { deliver(command, visit, other, account, entry_key: key) }.to raise_error(
      Handrail::Store::NotKept
    ) { |e| expect([Handrail::Store::Conflict, Handrail::Store::Unacceptable]).to include e.class }
  end

  def of_who_may(command, visit, params)
    not_allowed = Handrail::Store::NotAllowed
    below = { anyone: nil, clinical: desk_account, senior: fitter }.fetch(command.role)
    expect { deliver(command, visit, params, below) }.to raise_error(not_allowed) if below
    gone = Handrail::Store::Account[who_may(command).id]
    gone.update(status_id: 3)
    expect { deliver(command, visit, params, gone) }.to raise_error(not_allowed)
  end

  def of_one_clinic(command, visit, params)
    return if harmless.include?(command.key)

    role = { anyone: "front_desk", clinical: "fitter", senior: "senior" }.fetch(command.role)
    other = make_account(stranger.clinic, role)
    expect { deliver(command, visit, params, other) }.to raise_error(
      Handrail::Store::Faults,
      /no such|There is no|Choose|Name/
    )
  end

  def in_sense(command, visit, params)
    account = who_may(command)
    command.inputs.each_value do |input|
      from = input[1]
      junk.each do |value|
        deliver(command, visit, params.transform_keys(&:to_s).merge(from => value), account)
      rescue Handrail::Store::NotKept
        next
      end
    end
    expect(Handrail::Store.db.get(1)).to eq 1
  end

  def told_of_changes(command, visit, params)
    topic = made(command, params).topic
    return if made(command, params).watch.empty?

    seen = record(visit).version
    Handrail::Store.as(fitter.id) do
      Handrail::Store.db[:entries].insert(
        clinic_id: clinic.id,
        visit_id: visit.id,
        fitting_id: visit.fitting_id,
        version: seen + 1,
        by: senior.id,
        command: "other",
        topic: topic,
        said: "somebody else",
        digest: "0",
        entry_key: SecureRandom.uuid
      )
    end
    expect {
      deliver(command, visit, params, who_may(command), seen: seen, page: "a" * 16)
    }.to raise_error(Handrail::Store::Stale) { |e|
      expect(e.events.map(&:said)).to eq ["somebody else"]
    }
  end

  def of_open_visits(command, _visit, params)
    return if made(command, params).correction?

    expect { deliver(command, closed, params, who_may(command)) }.to raise_error(
      Handrail::Store::Closed
    )
  end

  # truly at once, on connections of their own: what is made here stays in the test database
  describe "sent twice at once" do
    threads =
      lambda do |count, &work|
        start = Queue.new
        running =
          Array.new(count) do
            Thread.new do
              start.pop
              work.call
            rescue Handrail::Store::NotKept => e
              e
            end
          end
        count.times { start << true }
        running.map(&:value)
      end

    it "keeps the same check once, in eight races" do
      visit = sized_visit(clinic, fitter)
      8.times do |i|
        key = SecureRandom.uuid
        params = { check: "slip", value: "#{i + 1} mm" }
        found = threads.call(3) { run(visit, fitter, :RecordCheck, { entry_key: key }, **params) }
        expect(found.map { |one| one.entry[:version] }.uniq.size).to eq 1
      end
      expect(record(visit).rows(:check_results).size).to eq 8
    end

    it "keeps an order, a patient and a delivery once" do
      product = make_product(clinic)
      [
        [commands::ReceiveStock, { product: product.id, size: "M", count: "3" }],
        [
          commands::AddPatient,
          {
            record_number: "R #{SecureRandom.hex(3)}",
            given_name: "Ada",
            family_name: "Q",
            born_on: "1.1.1970"
          }
        ],
        [
          commands::BringPatients,
          {
            rows:
              JSON.generate(
                [
                  [
                    2,
                    {
                      record_number: "R #{SecureRandom.hex(3)}",
                      given_name: "Bo",
                      family_name: "Q",
                      born_on: "1.1.1971"
                    }
                  ]
                ]
              )
          }
        ],
        [
          commands::WriteOrder,
          {
            patient: make_patient(clinic, fitter).id,
            family: product.family,
            product_id: product.id,
            side: "left",
            prescriber: "Dr Spec",
            prescribed_on: clinic.today.iso8601,
            fields: {
              "compartment" => "medial",
              "indication" => "arthrosis"
            }
          }
        ]
      ].each do |command, params|
        key = SecureRandom.uuid
        before = left(nil)
        found = threads.call(4) { desk(clinic, fitter, entry_key: key).run(command.new(params)) }
        expect(found.uniq.size).to eq 1
        expect(left(nil)[:entries]).to eq before[:entries] + 1
      end
      expect(Handrail::Store.db[:stock_items].where(product_id: product.id).count).to eq 3
    end

    it "strikes a reading out once, whoever was first" do
      visit = make_visit(clinic, fitter).tap { |made| ask(made, fitter) }
      row = take(visit, fitter, "36.5")
      found =
        [fitter, senior].flat_map do |who|
          threads.call(2) do
            run(visit, who, :StrikeReading, row: row[:id], reason: "by #{who.role}")
          end
        end
      expect(found.grep(Handrail::Store::Faults).size).to eq 3
      expect(Handrail::Store.db[:readings][id: row[:id]][:strike_reason]).to eq "by fitter"
    end

    it "holds the last piece on the shelf for one of two" do
      product = make_product(clinic)
      desk(clinic, fitter).run(
        commands::ReceiveStock.new("product" => product.id, "size" => "M", "count" => "1")
      )
      visits =
        Array.new(2) do
          make_visit(clinic, fitter, product: product).tap do |visit|
            ask(visit, fitter) && take(visit, fitter, "36.5")
          end
        end
      waiting = visits.dup
      lock = Mutex.new
      threads.call(2) { run(lock.synchronize { waiting.pop }, fitter, :ChooseSize, size: "M") }
      expect(visits.count { |visit| record(visit).sizing.reserved }).to eq 1
    end
  end

  describe "settings" do
    def set(visit, **settings) =
      run(visit, fitter, :WriteSettings, side: "right", settings: settings.transform_keys(&:to_s))

    it "are set no further than was ordered, where they are called alike too" do
      dog = sized_job("canine_hock_brace", also: { "joint" => "jointed", "range" => "20" })
      expect { set(dog, range: "60") }.to raise_error(Handrail::Store::Faults) { |e|
        said = "Range let free, degrees: 60 passes Range allowed now (20)."
        expect(e.fields).to eq("range" => said)
      }
      expect(set(dog, range: "20").entry[:said]).to include "Range let free, degrees 20"
    end

    it "are said where they are typed, though what passes was written before" do
      belt = sized_job("abdominal_support_belt", side: nil)
      set = ->(**settings) do
        run(belt, fitter, :WriteSettings, settings: settings.transform_keys(&:to_s))
      end
      set.call(free_end: "90 mm", released: "80 mm")
      expect { set.call(free_end: "70 mm") }.to raise_error(Handrail::Store::Faults) { |e|
        expect(e.fields).to match("free_end" => /80 mm passes Free end .* \(70 mm\)/)
      }
      expect { set.call(free_end: "70 mm", released: "x") }.to raise_error(
        Handrail::Store::Faults
      ) { |e| expect(e.fields.keys).to eq ["released"] }
      set.call(free_end: "70 mm", released: "7 cm")
      expect(record(belt).rows(:strap_settings).size).to eq 4
    end
  end
end
