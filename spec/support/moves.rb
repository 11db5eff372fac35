# frozen_string_literal: true

# What a person might send next at a fitting of any family: for every command at a visit words that
# mean something there, most of them right. Drawn by dice, so that a seed tells a whole story anew.
#
#   Moves.new(Random.new(7)).words(:RecordCheck, visit) # => { check: "slip", side: "left", ... }
class Moves
  Store = Handrail::Store
  # every command at a visit, by name
  ALL =
    Dir[File.join(Handrail::ROOT, "lib/handrail/store/commands/*.rb")]
      .map { |path| File.basename(path, ".rb").split("_").map(&:capitalize).join.to_sym }
      .select do |name|
        command = Store::Commands.const_get(name)
        command.is_a?(Class) && command < Store::VisitCommand
      end
      .freeze

  attr_reader :dice

  def initialize(dice) = @dice = dice

  # The words of a command at a visit as it stands.
  def words(name, now)
    method = name.to_s.gsub(/([a-z])([A-Z])/, '\1_\2').downcase
    respond_to?(method, true) ? send(method, now) : {}
  end

  # A command made of them.
  def command(name, words)
    made = Store::Commands.const_get(name)
    case name
    when :KeepPhoto
      made.new(words, photo: photo)
    when :KeepPaper
      made.new(words, paper: Handrail::Exchange::Paper::Made[bytes: "%PDF-1.4", pages: 1])
    else
      made.new(words)
    end
  end

  # What a fitter who works by the book would send next: [name, words], nil at the end.
  def by_the_book(now)
    name = next_by_the_book(now) or return
    [name, words(name, now)]
  end

  private

  def any(list) = list.to_a.sample(random: dice)
  def one_in(count) = dice.rand(count).zero?

  def next_by_the_book(now)
    return if now.closed?
    return :RecordStopAction if now.safety.stops.any? { |stop| !stop.standing }
    return :AskCautions unless now.safety.identity? && now.safety.cautions_asked?
    return :AnswerReading if now.doubts.any?
    return :TakeReading if now.unread.any?
    return :RecordSkin if now.recheck? && now.body.skin_waiting.any?
    return :CloseJobSlip if now.fit.slips_out.any?

    sized(now) || fitted(now) || ended(now)
  end

  def sized(now)
    side = now.sides.find { |one| !now.sizing.choice(one) || now.sizing.size_outdated?(one) }
    if side
      return(
        (
          if now.family.size_rule.by == "trial" && !now.sizing.advice(side)&.size
            :TrySize
          else
            :ChooseSize
          end
        )
      )
    end

    :IssueDevice if now.sides.any? { |one| !now.sizing.device_fits?(one) }
  end

  def fitted(now)
    return :FinishStep if step_open(now)

    :RecordCheck if now.sides.any? { |side| !now.fit.checklist(side).good? }
  end

  def ended(now)
    return :AnswerRecheck if now.asks_open.any?
    if (now.first? || now.gates.gives_out?) &&
         now.gates.blocks(now.first? ? :hand_over : :close).any? { |block| block.stage == :teach }
      return :RecordTeachBack
    end

    now.first? || now.gates.gives_out? ? :HandOverDevice : :CloseRecheck
  end

  def step_open(now) =
    now
      .sides
      .map { |side| [side, now.fit.applying(side).next] }
      .find do |side, step|
        step && (now.first? || now.gates.gives_out?(side)) &&
          now.fit.applying(side).unlooked(step, now.fit.checklist(side)).empty?
      end

  # --- the words of each ---

  def add_note(_now) = { text: "said in passing #{dice.rand(999)}" }

  def ask_cautions(now)
    signs = one_in(8) ? [any(now.family.stop_signs)&.key].compact : []
    index = { "arm_left" => "130", "ankle_left_front" => "140", "ankle_right_front" => "138" }
    { identity: one_in(12) ? "" : "yes", stops: signs, pressures: now.family.index ? index : {} }
  end

  def record_stop_action(now)
    stop = any(now.safety.stops)
    { stop: stop&.key || "chest", action: "advised", who: "Dr Spec", advice: "go on so" }
  end

  def take_reading(now)
    item = now.unread.first || any(now.needs)
    return {} unless item

    {
      site: item.site.key,
      side: item.side,
      posture: item.posture,
      tension: item.tension,
      value: one_in(10) ? "14" : likely(item, now),
      unit: "mm"
    }
  end

  # a reading in the middle of a size, or of what a body gives
  def likely(item, now)
    sizes = now.pin.chart ? now.pin.chart.parts.map { |part| part.sizes[part.sizes.size / 2] } : []
    band = sizes.flat_map(&:bands).find { |one| one.site == item.site.key }
    mm = band ? band.middle : item.site.range(now.patient.species).sum(&:mm) / 2
    (mm.to_f + dice.rand(-2.0..2.0)).round(1).to_s
  end

  def answer_reading(now)
    row = (now.doubts.first || any(now.rows(:readings)))&.fetch(:id)
    { row: row || 1, answer: one_in(3) ? "other" : "right" }
  end

  def strike_reading(now) = { row: any(now.rows(:readings))&.fetch(:id) || 1, reason: "slipped" }

  def correct_reading(now) =
    {
      corrects: any(now.rows(:readings))&.fetch(:id) || 1,
      value: "370",
      unit: "mm",
      why: "typed wrong"
    }

  def take_limb_girths(now) =
    {
      girths: {
        "#{now.sides.first || "left"}:0" => "24.5",
        "#{now.sides.first || "left"}:40" => "26"
      },
      unit: "cm"
    }

  def choose_size(now)
    side = now.sides.find { |one| !now.sizing.choice(one) } || any(now.sides)
    advice = now.sizing.advice(side)
    size = one_in(6) ? any(advice&.names) : advice&.size
    { size: size || any(advice&.names) || "M", why: "held against the wearer", side: side }
  end

  def try_size(now)
    side = any(now.sides)
    run = now.sizing.trial_run(side)
    { size: run&.next || "M", outcome: one_in(4) ? "small" : "good", side: side }
  end

  def issue_device(now)
    side = now.sides.find { |one| !now.sizing.device_fits?(one) } || any(now.sides)
    { serial: "S-#{dice.rand(9999)}", side: side, same: one_in(2) ? "mistyped" : "another" }
  end

  def finish_step(now)
    side, step = step_open(now)
    side ||= any(now.sides)
    step ||= now.fit.applying(side).next || any(now.fit.applying(side).steps)
    { step: step&.key, side: side, sure: one_in(8) ? nil : "yes" }
  end

  def record_check(now)
    side = now.sides.find { |one| !now.fit.checklist(one).good? } || any(now.sides)
    list = now.fit.checklist(side)
    item = one_in(5) ? any(list.items) : (list.next || list.failed.first || any(list.items))
    return {} unless item

    bad = one_in(9)
    {
      check: item.check.key,
      side: side,
      place: item.place,
      outcome: item.check.measured? ? nil : (bad ? "bad" : "good"),
      note: (one_in(3) ? nil : "misread before"),
      value: item.check.measured? ? measured(item, bad) : nil,
      way: (any(item.check.ways)&.key if bad && !one_in(9))
    }
  end

  def measured(item, bad)
    return "1" if bad

    limits = item.check.criterion.limits.values
    return (48 - (2 * item.place[/\d+/].to_i)).to_s if item.check.kind == "pressure"
    return item.check.criterion.print(limits.sum / 2) if limits.size == 2

    item.check.kind == "length" ? "3 mm" : item.check.criterion.print(limits.first)
  end

  def correct_check(now) =
    {
      corrects: any(now.rows(:check_results))&.fetch(:id) || 1,
      outcome: "good",
      value: "4 mm",
      why: "typed wrong"
    }

  def correct_device(now) =
    {
      corrects: any(now.rows(:issued_devices))&.fetch(:id) || 1,
      serial: "C-#{dice.rand(999_999)}",
      why: "typed wrong"
    }

  def change_one_thing(now)
    problem = any(now.family.problems_for(now.config))
    {
      problem: problem&.key,
      remedy: any(problem&.remedies)&.key,
      side: any(now.sides),
      sure: "yes"
    }
  end

  def write_settings(now)
    field = any(now.family.settings_for(now.config))
    value = field && (field.type == "choice" ? any(field.choices)&.key : "40")
    { settings: field ? { field.key => value.to_s } : {}, side: any(now.sides) }
  end

  def record_teach_back(now)
    { who: "Wilma", unaided: "yes", shown: now.tasks.map(&:key).first(one_in(6) ? 1 : 99) }
  end

  def let_pass(_now) = { reason: "carer comes Friday" }
  def hand_over_device(_now) =
    { start_hours: "2 hours", signed_name: "Wilma Quarrel", signature: "M 10 20 L 60 40" }
  def close_recheck(_now) = {}

  def answer_recheck(now)
    ask, side = now.asks_open.first || [any(now.family.recheck_asks), any(now.sides)]
    return {} unless ask

    choice = ask.choices && (one_in(6) ? any(ask.choices) : ask.choices.first)
    { field: ask.key, answer: choice ? choice.key : "5", side: side }
  end

  def write_job_slip(now)
    {
      doer: "workshop",
      what: "rivet hole",
      due_on: (now.clinic.today + 3).iso8601,
      side: any(now.sides)
    }
  end

  def close_job_slip(now)
    {
      slip: any(now.fit.slips_out)&.fetch(:id) || 1,
      outcome: one_in(4) ? "called_off" : "back",
      note: "as it was"
    }
  end

  def record_skin(now)
    place = now.body.skin_waiting.first || any(now.body.skin)
    if place && !one_in(3)
      return(
        {
          follows: place.last[:id].to_s,
          course: any(%w[smaller same gone]),
          size: "8 mm",
          seen: "pale, closed"
        }
      )
    end

    kind = any(Store::Commands::RecordSkin::KINDS)
    { x: "190", y: "333", kind: kind, side: any(now.sides) }
  end

  def write_word(_now) = { pain_without: dice.rand(10).to_s, wants: "walk to the harbour" }
  def keep_photo(_now) = { what: "heels from behind" }

  def photo
    bytes = "a photo #{dice.rand(3)}"
    Struct.new(:bytes, :sha256, :width, :height).new(bytes, Digest::SHA256.hexdigest(bytes), 30, 20)
  end

  def keep_paper(_now) = { kind: any(%w[record sheet]) }

  def place_line(now)
    points = { "hip" => "170,40", "knee" => "190,400", "toe" => "180,640" }
    { line: "leg", moment: "before", points: points, side: any(now.sides) }
  end

  def book_visit(now)
    {
      day: (now.clinic.today + 1 + dice.rand(20)).iso8601,
      time: format("%02d:%02d", 9 + dice.rand(7), 10 * dice.rand(6)),
      anyway: "yes"
    }
  end

  def miss_visit(_now) = { why: any(%w[cancelled no_show]) }
  def note_arrival(_now) = { came: any(["yes", ""]) }
  def start_timer(_now) = { timer: any(%w[colour skin]) }
  def answer_timer(now) =
    { row: any(now.rows(:visit_timers))&.fetch(:id) || 1, answer: any(%w[good stopped]) }

  def clear_stage(now)
    side = any(now.sides)
    stage = now.wear.next_stage(side) || any(now.wear.stages)
    { stage: stage&.key || "any", side: side, cleared_by: "Dr Lowe", hours: "4" }
  end

  def renew_part(now)
    { part: any(now.family.parts)&.key || "pads", side: any(now.sides), note: "worn flat" }
  end

  def take_protocol(now)
    offer = Store::Offer.of(now)
    { offer: offer&.digest || "0", take: "yes" }
  end

  # of a pair mostly one side by itself
  # the prescriber, or another side: the first changes the paper alone
  def correct_order(now)
    order = now.prescription
    {
      side: one_in(3) ? any(now.family.sides) : order.side,
      prescriber: "Dr #{any(%w[Spec Other])}",
      prescribed_on: order.prescribed_on.iso8601,
      product_id: now.fitting.product_id.to_s,
      fields: order.fields.to_h,
      why: "the letter says so"
    }
  end

  def send_for_piece(now) =
    { doer: "maker", due_on: (now.clinic.today + 9).iso8601, side: any(now.sides) }
  def withdraw_order(_now) = { why: one_in(3) ? "ordered twice" : "" }
  def move_order(_now) = { record: "no such", why: "the wrong record was open" }

  def end_fitting(now)
    { why: "healed, no device needed", side: (any(now.sides) if now.sides.size > 1 && !one_in(3)) }
  end
end
