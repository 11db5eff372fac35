# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # Readings of the tape.
      module MeasureStage
        # What the measuring page prints: the figure with its tape lines, the list of sites, and the
        # one being read.
        class Page < StagePage
          STAGE = :measure
          AHEAD = true

          include WithVerdict
          include WithInstruments

          # A site in the list. item - of the plan; name; state - a mark; value - printed or "–";
          # note; current.
          Line = Value.new(:item, :name, :state, :value, :note, :current)
          # A reading that was taken here. row; value - printed; words - how, when and by whom.
          Taken = Value.new(:row, :value, :words, :struck, :newest)
          UNITS = %w[cm in].freeze
          TENSION_WORDS = {
            "snug" => "no slack, no dent",
            "resting" => "touches all round, dents nothing",
            "firm" => "slightly dents",
            "hard" => "pulled in"
          }.freeze
          TENSIONS = TENSION_WORDS.keys.freeze
          REASONS = [
            "tape slipped",
            "wrong level",
            "wrong side",
            "typed wrong",
            "tape not level"
          ].freeze

          def lines = visit.needs.map { |item| line(item) }
          def current =
            @current ||= visit.needs.find { |item| item.key == given("at") } || first_open
          # Readings of today for another device that are what is asked now.
          def beside = current ? visit.read_beside(current) : []

          def side =
            visit.sides.find { |one| one == given("side") || one == current&.side } ||
              visit.sides.first

          def unit =
            sent_unit || UNITS.find { |unit| unit == given("unit") } || visit.clinic.tape_kind.unit
          # a tape that sends millimetres or the other unit decides the strip's
          def sent_unit
            return unless sent

            sent.unit == "mm" ? "cm" : sent.unit
          end

          def posture =
            current.postures.find { |posture| posture == given("posture") } || current.posture
          def tension = typed("tension") || current.tension

          # The tape that values are printed from.
          def tape
            own = visit.clinic.tape_kind
            return own if unit == own.unit

            Quantity::Tape[unit == "in" ? "in 1/8" : "cm 1 mm"]
          end

          # What is read, as a heading.
          def heading
            site = current.site
            return "Other side: #{site.said}" if current.other

            two_sides? && current.side ? "#{current.side.capitalize}: #{site.said}" : current.name
          end

          # How it is read: posture and tension in words.
          def how
            posture = { "raised" => "lying, after the leg was raised" }.fetch(
              current.posture,
              current.posture
            )
            [posture.capitalize, current.tension, TENSION_WORDS[current.tension]]
          end

          # "2nd reading, last was 37.2 cm"
          def so_far
            rows = rows_here.reject { |row| row[:struck_at] }
            rows.empty? ? nil : [rows.size + 1, rows.last]
          end

          # The readings taken here, oldest first.
          def rows_here = visit.readings_of(current)

          # What is asked of a reading. row; words; meant - what is offered, or nil; outside -
          # whether limbs lie outside the figures that ask.
          Doubt = Value.new(:row, :words, :meant, :outside)

          # The reading in question here, as a Doubt, or nil.
          def doubt
            row = visit.doubts.reverse.find { |one| current.takes?(one) } or return
            asked = row[:question]
            other = asked["other"] && Anatomy::Vocabulary.default[asked["other"]].short
            Doubt[
              row: row,
              words: Wording.question(asked),
              meant: asked["meant"] || other || asked["side"],
              outside: asked["code"] == "beside"
            ]
          end

          # What stands in the strip: what was typed and not taken, or, marked, what is asked about.
          def in_strip = in_field || doubt&.row&.fetch(:typed)
          def marked? = !fault("value").nil? || (typed("value").nil? && !doubt.nil?)

          # What the reading says beside its partner: [state, sentence], or nil.
          def pair
            found = pairing_of(current) or return
            [found.unusual? ? :look_again : nil, Wording.pairing(found.finding)]
          end

          def figure = Figures.new(visit, side: side, current: current, tape: tape).plain

          # Where the primary button leads, and its words; nil while something is still to be read.
          def onward
            return :recheck, "Then and now" if visit.recheck?
            return unless visit.gates.open?(:size)
            return :size, "Look at the sheet" if visit.family.size_rule.by == "sheet"

            [
              :size,
              ["Choose size", (verdict.size if verdict.size && !two_sides?)].compact.join(" ")
            ]
          end

          # How many readings are still to take or to answer.
          def to_go = visit.unread.size + visit.doubts.size

          # Where to go on after a reading: stay where a question is open, else the next site
          # without a reading, else one that wants a repeat.
          def self.after_reading(visit, row, params)
            items = visit.needs
            asked = asked_with(visit, row)
            position = items.index { |item| item.takes?(asked || row) }
            here = position ? items[position].key : params["at"]
            kept = { "unit" => params["unit"], "at" => here }.compact
            if asked || position.nil?
              kept
            else
              kept.merge("at" => next_after(visit, items.rotate(position + 1)) || here)
            end
          end

          # the reading that is asked about since this one came: itself, or one before it that does
          # not go with it
          def self.asked_with(visit, row)
            visit.doubts.find { |one| one[:id] == row[:id] } ||
              visit.doubts.find do |one|
                one[:question]["beside"].to_a.any? { |site, _| site == row[:site] }
              end
          end

          # the key of the next item without a reading, else of one that wants a repeat
          def self.next_after(visit, in_turn)
            fresh =
              in_turn.find { |item| visit.live_readings.none? { |reading| item.takes?(reading) } }
            (fresh || in_turn.find { |item| item.decides && visit.repeats_of(item)&.wish })&.key
          end
          private_class_method :asked_with, :next_after

          private

          def line(item)
            rows = visit.readings_of(item).reject { |row| row[:struck_at] }
            repeats = visit.repeats_of(item)
            Line[
              item: item,
              name: name_of(item),
              current: item == current,
              state: state_of(item, rows, repeats),
              value: repeats ? repeats.length.on(tape) : "–",
              note: note_of(item, rows, repeats)
            ]
          end

          def name_of(item)
            return "Other side, #{item.short}" if item.other

            if two_sides? && item.side
              "#{item.side.capitalize}, #{item.short}"
            else
              "#{item.short[0].upcase}#{item.short[1..]}"
            end
          end

          def state_of(item, rows, repeats)
            return :not_done if rows.empty?
            if rows.any? { |row| visit.doubtful?(row) } || repeats.nil? || !repeats.agree?
              return :look_again
            end

            (item.decides && again?(item)) || pairing_of(item)&.unusual? ? :look_again : :good
          end

          def again?(item)
            return false if item.other || visit.family.size_rule.by == "sheet"

            visit.match(item.side || visit.sides.first)&.read_again&.include?(item.site.key)
          end

          def note_of(item, rows, repeats)
            return item.decides ? "the size hangs on it" : "for the record" if rows.empty?
            return "is that so?" if rows.any? { |row| visit.doubtful?(row) }
            return "not #{item.posture}, #{item.tension}: kept, not used" if repeats.nil?

            count = "#{repeats.count} #{repeats.count == 1 ? "reading" : "readings"}"
            wish = item.decides && Wording.wish(repeats)
            wish ? "#{count}, #{wish}" : count
          end

          # the same site on the other side, or in the other posture
          def pairing_of(item)
            here = visit.repeats_of(item) or return
            partner =
              visit.needs.find do |other|
                other.site == item.site && other != item &&
                  (other.side != item.side || other.posture != item.posture)
              end
            there = partner && visit.repeats_of(partner) or return
            sides = partner.side != item.side
            names = sides ? [item.side, partner.side] : [item.posture, partner.posture]
            Measuring::Pairing.new(
              here,
              there,
              kind: sides ? :sides : :postures,
              names: names,
              site: item.site.key,
              precision:
                visit.precision(visit.sides.include?(item.side) ? item.side : visit.sides.first)
            )
          end

          # a question first, since nothing goes on before it is answered
          def first_open
            visit.needs.find { |item| visit.doubts.any? { |row| item.takes?(row) } } ||
              visit.needs.find { |item| visit.live_readings.none? { |row| item.takes?(row) } } ||
              visit.needs.find { |item| again?(item) } ||
              visit.needs.find { |item| item.side == given("side") } || visit.needs.first
          end
        end

        # what the tape sent last, into the strip
        def self.tape_of(app)
          app.post("/:id/tape") do
            clinical!
            from_device("tape", Page, visit!)
          end
        end
        private_class_method :tape_of

        def self.registered(app)
          tape_of(app)
          app.get("/:id/measure") do
            clinical!
            visit = visit!
            next go(stage_path(id, :order)) unless visit.closed? || visit.gates.open?(:measure)

            show(Page, visit)
          end

          app.post("/:id/readings") do
            enter(Page, Store::Commands::TakeReading) do |taken|
              acknowledge(params["source"], params["message"])
              row =
                taken.visit.rows(:readings).find { |one| one[:version] == taken.entry[:version] }
              Page.after_reading(taken.visit, row, params)
            end
          end

          {
            "answer" => Store::Commands::AnswerReading,
            "strike" => Store::Commands::StrikeReading
          }.each do |path, command|
            app.post("/:id/readings/:row/#{path}") do
              enter(Page, command) { { "at" => text("at"), "unit" => text("unit") } }
            end
          end

          # every product of the catalogue, held against what was read
          app.get("/:id/fits") do
            clinical!
            visit = visit!
            side = visit.sides.find { |one| one == params["side"] } || visit.sides.first
            page = FitsPage.new(visit, side, all: params["all"] == "1")
            erb :"visits/fits", locals: { page: page, visit: visit }
          end
        end
      end
    end
  end
end
