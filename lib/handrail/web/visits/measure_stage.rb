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
          include WithReading

          # A site in the list. item - of the plan; name; state - a mark; value - printed or "–";
          # note; current.
          Line = Value.new(:item, :name, :state, :value, :note, :current)
          # A reading that was taken here. row; value - printed; words - how, when and by whom.
          Taken = Value.new(:row, :value, :words, :struck, :newest)

          def current =
            @current ||= visit.needs.find { |item| item.key == given("at") } || first_open
          def lines = visit.needs.map { |item| line(item) }
          def side =
            visit.sides.find { |one| one == given("side") || one == current&.side } ||
              visit.sides.first

          def figure = Figures.new(visit, side: side, current: current, tape: tape).plain

          # Where the primary button leads, and its words; nil while something is still to be read.
          def onward
            return :recheck, Wording.t("web.then_now") if visit.recheck?
            return unless visit.gates.open?(:size)
            return :size, Wording.t("web.look_sheet") if visit.family.size_rule.by == "sheet"

            [
              :size,
              [
                Wording.t("web.choose_size"),
                (verdict.size if verdict.size && !two_sides?)
              ].compact.join(" ")
            ]
          end

          # The size that is chosen by one tap where nothing speaks against it: [side, size], else nil.
          def clear_size
            return if visit.recheck? || visit.closed? || !visit.gates.open?(:size)
            return if visit.family.size_rule.by == "sheet"

            open = visit.sides.find { |one| visit.sizing.choice(one).nil? } || return
            advice = visit.sizing.advice(open)
            [open, advice.size] if advice&.size && advice.ready? && advice.clear?
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
            paper =
              params.slice("read_time", "read_on", "read_by").reject { |_, text| text.to_s.empty? }
            kept = { "unit" => params["unit"], "at" => here, **paper }.compact
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

          def state_of(item, rows, repeats)
            return :not_done if rows.empty?
            if rows.any? { |row| visit.doubtful?(row) } || repeats.nil? || !repeats.agree?
              return :look_again
            end

            (item.decides && again?(item)) || pairing_of(item)&.unusual? ? :look_again : :good
          end

          def note_of(item, rows, repeats)
            if rows.empty?
              return item.decides ? Wording.t("web.size_hangs") : Wording.t("web.for_the_record")
            end
            return Wording.t("web.is_that_so") if rows.any? { |row| visit.doubtful?(row) }
            if repeats.nil?
              return(
                Wording.t("web.not_kept_not_used", posture: item.posture, tension: item.tension)
              )
            end

            count = "#{repeats.count} #{repeats.count == 1 ? "reading" : "readings"}"
            wish = item.decides && Wording.wish(repeats)
            wish ? "#{count}, #{wish}" : count
          end
        end

        # The page on which the tape is read: a recheck reads on its own.
        def self.page(params) = params["stage"] == "recheck" ? RecheckStage::Page : Page

        # what the tape sent last, into the strip
        def self.tape_of(app)
          app.post("/:id/tape") do
            clinical!
            from_device("tape", MeasureStage.page(params), visit!)
          end
        end
        private_class_method :tape_of

        def self.readings_of(app)
          app.post("/:id/readings") do
            page = MeasureStage.page(params)
            enter(page, Store::Commands::TakeReading) do |taken|
              acknowledge(params["source"], params["message"])
              row =
                taken.visit.rows(:readings).find { |one| one[:version] == taken.entry[:version] }
              page.after_reading(taken.visit, row, params)
            end
          end

          {
            "answer" => Store::Commands::AnswerReading,
            "strike" => Store::Commands::StrikeReading
          }.each do |path, command|
            app.post("/:id/readings/:row/#{path}") do
              enter(MeasureStage.page(params), command) do
                { "at" => text("at"), "unit" => text("unit"), "side" => text("side") }.compact
              end
            end
          end
        end
        private_class_method :readings_of

        def self.registered(app)
          tape_of(app)
          readings_of(app)
          app.get("/:id/measure") do
            clinical!
            visit = visit!
            next go(stage_path(id, :order)) unless visit.closed? || visit.gates.open?(:measure)

            show(Page, visit)
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
