# frozen_string_literal: true

# bin/handrail rehearsals: plays the golden walks of every family anew, as the family's own next step leads, and
# keeps events and answers in knowledge/rehearsals/. What changed there is to be read before it is committed.

require "csv"
require_relative "../../lib/handrail"

module Handrail
  # A walk that follows what the rehearsal says comes next, with the answers that its kind asks for.
  class GoldenWalk
    FOLDER = File.join(ROOT, "knowledge", "rehearsals")
    KINDS = %w[plain faults distress stop].freeze
    # events that no walk needs; more is a walk that goes round
    MOST = 300
    UNITS = ["", "mm", "mmHg", "degrees", "h"].freeze
    PRESSURES = {
      "arm_left" => "130",
      "ankle_left_front" => "140",
      "ankle_right_front" => "138"
    }.freeze

    attr_reader :events

    def initialize(family, kind)
      @family = family
      @kind = kind
      @played = Exchange::RehearseCommand.rehearsal(family)
      @events = []
      @wrong = []
    end

    def self.write
      Families::Registry.all.each_value do |family|
        KINDS.each do |kind|
          walk = new(family, kind)
          walk.tell or next
          keep(family, kind, walk)
        end
      end
    end

    def self.keep(family, kind, walk)
      folder = File.join(FOLDER, family.key)
      FileUtils.mkdir_p(folder)
      events = File.join(folder, "#{kind}.csv")
      File.write(events, csv([%w[do key value], *walk.events]))
      File.write(File.join(folder, "#{kind}.out.csv"), csv(answers(family.key, events)))
    end
    private_class_method :keep

    # What a rehearsal prints of a file of events, without what still stands in the way: that is all that was
    # not done yet. Rows of texts, the header first.
    def self.answers(family, events)
      out = StringIO.new
      Exchange::RehearseCommand.new({ family: family, events: events, format: "csv" }).put(out)
      CSV
        .parse(out.string, headers: true)
        .then do |table|
          kept = table.headers - ["blocked"]
          [kept, *table.map { |row| row.fields(*kept) }]
        end
    end

    def self.csv(rows) = rows.map(&:to_csv).join

    # Tells the walk; nil where the family has nothing of its kind.
    def tell
      return if @kind == "distress" && @family.all_checks.none?(&:distress)

      order
      cautions
      stopped if @kind == "stop"
      go_on until over?
      @events
    end

    private

    def visit = @played.visit

    def play(name, key = "", value = "")
      @events << [name, key, value]
      raise "#{@family.key} #{@kind} goes round at #{@events.last(4)}" if @events.size > MOST

      @line = @played.play(name, key, value)
    end

    def over?
      return true if @line.next.empty? || @over

      @line.stage == "closed" && (@kind != "plain" || visit.recheck?)
    end

    def order
      play("order", "side", @family.sides.last) if @family.sides.any?
      product = Exchange::RehearseCommand.product(@family)
      @family
        .fields
        .select { |field| field.required || field.same_as }
        .each { |field| play("order", field.key, ordered(field, product)) }
    end

    def ordered(field, product)
      if field.same_as
        return product.dig("options", field.same_as) || @family.option(field.same_as).default
      end

      field.type == "choice" ? field.choices.first.key : "60"
    end

    def cautions
      PRESSURES.each { |key, value| play("caution", key, value) } if @family.index
      unless @kind == "stop"
        @family.stop_signs.first(2).each { |sign| play("caution", sign.key, "no") }
      end
      play("caution", "identity", "yes")
    end

    # a stop sign is ticked: nothing goes on until somebody writes what was done
    def stopped
      play("caution", @family.stop_signs.first.key, "yes")
      play("word", "stop", "it will be well")
      item = visit.needs.first
      play("read", item_key(item), likely(item)) if item
      play("act", @line.stop.first, "referred; seen today, may go on")
    end

    def go_on
      case @line.next
      when "caution"
        cautions
      when "recheck"
        due = visit.visits.find { |row| row.purpose == "recheck" && row.closed_at.nil? }.due_from
        play("recheck", "", due.iso8601)
      when "act"
        play("act", @line.stop.first, "referred; seen today, may go on")
      else
        # a step may be called "close" too
        ends =
          visit.gates.before(:hand_over_device).empty? || visit.gates.before(:close_recheck).empty?
        ends ? play(@line.next) : go_on_at(*split(@line.next))
      end
      @over = true unless @line.taken == "yes" || @refused_on_purpose
      @refused_on_purpose = false
    end

    # ["left:", "left", "calf_widest", ...]
    def split(key)
      first, *rest = key.split(":")
      %w[left right].include?(first) ? [first, *rest] : [nil, first, *rest]
    end

    def go_on_at(side, key, *more)
      own = side || visit.sides.first
      return play("answer", @line.next, "so") if visit.doubts.any?
      return asked(side, key) if %w[choose issue problem].include?(key)
      # a task may be called as a check is
      return play("teach", @line.next, "unaided") if @line.stage == "teach"

      read(side, key) || ask(key) || step(key, own) ||
        check(visit.fit.checklist(own)[[key, *more].join(":")], own)
    end

    def asked(side, key)
      own = side || visit.sides.first
      case key
      when "choose"
        choose(own, side)
      when "issue"
        play("issue", side.to_s, "S-#{own || "1"}")
      else
        change(side)
      end
    end

    def read(side, key)
      named = [@line.next, [side, key].compact.join(":")]
      item = visit.unread.find { |one| named.include?(item_key(one)) }
      item && play("read", @line.next, likely(item))
    end

    def ask(key)
      ask = visit.asks_open.find { |one, _| one.key == key }&.first
      ask && play("ask", @line.next, ask.choices.find { |choice| !choice.stop }.key)
    end

    def choose(own, side)
      if visit.family.size_rule.by == "trial"
        return(
          play(
            "choose",
            side.to_s,
            visit.sizing.trial_run(own).next || visit.sizing.advice(own).size
          )
        )
      end

      advice = visit.sizing.advice(own)
      play("choose", side.to_s, advice.size || "#{advice.names.first}: none of the chart serves")
    end

    # what can not be undone is bounded first
    def step(key, own)
      step = visit.fit.applying(own).next
      return unless step&.key == key

      named = @line.next
      bound(step, own)
      play("step", named, step.for_good ? "sure" : "")
    end

    def bound(one, own)
      return unless one.for_good && one.within && visit.fit.bound_lacking(one, own)

      field = visit.fit.settings(own).find { |setting, _| setting.key == one.within }&.first
      if field
        play(
          "set",
          [*visit.said_side(own), field.key].join(":"),
          field.type == "length" ? "20 mm" : "2"
        )
      end
    end

    def check(item, own)
      whole = @line.next
      check = item.check
      return fail_check(whole, item, own) if fails?(item)

      note = item.taken_back? ? "; looked at again" : ""
      play("check", whole, "#{check.measured? ? value(check, good: true) : "yes"}#{note}")
    end

    # two faults that something can be done about here; or the first sign of distress
    def fails?(item)
      check = item.check
      return false if @wrong.include?(check.key) || check.answered_by
      return @wrong.empty? && check.distress if @kind == "distress"

      @kind == "faults" && @wrong.size < 2 && !check.distress && !check.final && mendable?(check)
    end

    def mendable?(check)
      return false if check.measured? && value(check, good: false).nil?

      @family
        .problems_for(visit.config)
        .any? do |problem|
          problem.shown_by?(check.key, check.ways.to_a.first&.key) &&
            problem.remedies.any? { |one| one.goes_to.nil? && !one.away? }
        end
    end

    def fail_check(whole, item, own)
      check = item.check
      @wrong << check.key
      way = check.ways.to_a.first&.key
      said = [check.measured? ? value(check, good: false) : "no", *way].join(":")
      play("check", whole, said)
      distressed(whole, own) if @kind == "distress"
    end

    # no word passes it; off and waited; it does not come back; it is dealt with
    def distressed(whole, own)
      firm = @line.blocked.find { |name| name.start_with?("check_distress") }
      play("word", firm, "it will be well")
      pre = visit.said_side(own) ? "#{own}:" : ""
      play("change", "#{pre}#{@line.offered.first}")
      stays = visit.family.problems_for(visit.config).flat_map(&:remedies).select(&:stop)
      mine = stays.find { |remedy| @line.offered.include?(remedy.key) }
      play("change", "#{pre}#{mine.key}")
      @refused_on_purpose = true
      play("check", whole, "yes")
      play("act", @line.stop.first, "emergency; taken in")
      @over = true
    end

    def change(side)
      own = side || visit.sides.first
      problem = visit.remedies.problems_shown(own).first
      # one that is seen here; to read again, or to send somebody on, is another walk
      offered = @line.offered.map { |key| problem.remedies.find { |one| one.key == key } }
      remedy = offered.find { |one| one.goes_to.nil? } || offered.first
      bound(remedy, own)
      play("change", [*side, remedy.key].join(":"), remedy.for_good ? "sure" : "")
    end

    def value(check, good:)
      (0..400).each do |number|
        UNITS.each do |unit|
          text = "#{number} #{unit}".strip
          return text if check.good?(check.criterion.parse(text)) == good
        rescue Fitting::Criterion::Unreadable
          next
        end
      end
      nil
    end

    def item_key(item)
      several =
        visit.needs.count { |one| one.site.key == item.site.key && one.side == item.side } > 1
      [item.side, item.site.key, *(item.posture if several)].compact.join(":")
    end

    # in the middle of a size, or of what a body gives
    def likely(item)
      parts = visit.pin.chart ? visit.pin.chart.parts : []
      bands = parts.map { |part| part.sizes[part.sizes.size / 2] }.flat_map(&:bands)
      band = bands.find { |one| one.site == item.site.key }
      mm = band ? band.middle : item.site.range(visit.patient.species).sum(&:mm) / 2
      "#{mm.to_f.round(1)} mm"
    end
  end
end
