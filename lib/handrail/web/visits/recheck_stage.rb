# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # Rechecks: then and now.
      module RecheckStage
        # What the recheck's page prints.
        class Page < StagePage
          STAGE = :recheck
          AHEAD = true

          include WithVerdict
          include WithChecks
          include WithInstruments
          include WithReading
          include Wording::OfPages

          # A site at the first visit, at the last one before this, and now. change - since the first:
          # [state, word, sentence] or nil.
          Girth = Value.new(:item, :name, :before, :last, :now, :change)
          # how many stages further than the one it stands at => what that is
          STEPS = { 0 => :here, 1 => :next }.freeze
          # A question about the device of this side. state - a mark; twin - of the other device of a pair:
          # [state, what was answered], or nil.
          Ask = Value.new(:field, :answer, :state, :twin)

          def held_against = visit.first

          # The visit between the first and this one at which something was read last, or nil.
          def between
            return @between if defined?(@between)

            last = visit.before
            @between = last && last.id != visit.first.id ? last : nil
          end

          # The site that is read now: the one that a link names, else, while anything must be read, what is
          # asked about or comes next on this side; nil where nothing is.
          def current
            return @current if defined?(@current)

            @current = takes?(:take_reading) ? named || waiting : nil
          end

          # Where it goes on after a reading: with the next that must be read, else with the checks.
          def self.after_reading(visit, row, params)
            on = MeasureStage::Page.after_reading(visit, row, params)
            item = visit.needs.find { |one| one.key == on["at"] }
            must =
              item && [*visit.unread, *visit.doubts].any? &&
                (visit.unread.include?(item) || visit.doubts.any? { |one| item.takes?(one) })
            # one side is done before the other is turned to
            here = must && [nil, params["on"]].include?(visit.sides.find { |one| one == item.side })
            { **on, "at" => (on["at"] if here), "side" => params["on"] }.compact
          end

          # Where a site is read: here, as long as anything may be read at all.
          def path_to(item)
            return "/visits/#{visit.id}/measure?at=#{item.key}" unless takes?(:take_reading)

            on = [item.side, side].find { |one| visit.sides.include?(one) }
            "?#{{ "at" => item.key, "side" => on }.compact.map { |pair| pair.join("=") }.join("&")}"
          end

          def girths
            visit
              .needs
              .select { |item| own?(item) }
              .map do |item|
                before = held_against.repeats_of(item)
                now = visit.repeats_of(item)
                Girth[
                  item: item,
                  name: name_of(item),
                  before: printed(before),
                  last: printed(between&.repeats_of(item)),
                  now: printed(now),
                  change: change(item, before, now)
                ]
              end
          end

          def asks
            visit
              .family
              .recheck_asks
              .select { |ask| ask.applies?(visit.config) }
              .map do |ask|
                row = visit.answer(ask.key, ask.once ? nil : side)
                Ask[
                  field: ask,
                  answer: typed("field") == ask.key ? typed("answer") : row && row[:answer],
                  state: answer_state(row),
                  twin: twin && !ask.once ? answered_on(twin.side, ask) : nil
                ]
              end
          end

          # Which question waits for an answer by one key: the first one open here, once readings and checks are
          # done, as its key; nil where something else is asked.
          def ask_now
            return if current || doubt || !takes?(:answer_recheck) || (answerable? && next_check)

            field, = visit.asks_open.find { |_, own| [nil, side].include?(own) }
            field.key if field&.type == "choice"
          end

          # What the wearer said of pain. key - of its field; before, now - "–" where they were not asked.
          Said = Value.new(:key, :words, :before, :now)

          # What the wearer said, then and now, as Saids; nothing where they were never asked.
          def sayings
            first = visit.body.words.first or return []
            now = visit.body.word_here || {}
            [[t(:pain_without), :pain_without], [t(:pain_with_it), :pain_with]].map do |words, name|
              Said[key: name.to_s, words: words, before: first[name] || "–", now: now[name] || "–"]
            end
          end

          # Places on the skin: [state, words, whether it waits to be looked at].
          def places
            waiting = visit.body.skin_waiting.map(&:id)
            visit.body.skin.map do |place|
              course = place.last[:course] && Wording.t("courses_of_skin.#{place.last[:course]}")
              words = [Wording.t("skin.#{place.kind}"), course, place.last[:note]].compact.join(
                ", "
              )
              ask = waiting.include?(place.id)
              [place.alarming? ? :stop : (ask ? :not_done : :good), words, ask]
            end
          end

          # Problems of the last visits that were changed and not seen to end, as texts.
          def problems_open
            earlier =
              visit.visits.reverse.find { |row| row.number < visit.number && row.opened_at } or
              return []
            visit
              .at(earlier)
              .concerns
              .problems
              .map { |one| [visit.said_side(one.side), one.figures[:title]].compact.join(" ") }
          end

          def blocks = @blocks ||= worded(visit.gates.before(:close_recheck))
          def passable? = visit.gates.passable.any?
          def sized? = visit.usable_readings.any? && visit.needs.any?(&:decides)

          # Another size than the one that is worn, where the readings say so clearly.
          def other_size
            advice = visit.sizing.advice(side)
            chosen = visit.sizing.choice(side)
            if advice&.size && chosen && advice.ready? && advice.size != chosen[:chosen]
              chosen[:chosen]
            end
          end

          # What another size would mean: [size, words on the shelf], or nil where it can not be
          # chosen here and now.
          def resize
            return unless other_size && writable? && visit.gates.open?(:size)

            size = visit.sizing.advice(side).size
            return size, nil unless visit.sizing.stocked?

            left = visit.sizing.on_shelf(size, side)
            [size, left.zero? ? t(:none_on_shelf) : t(:on_the_shelf, left: left)]
          end

          # How the girths that decide have changed over the visits: [picture, sentences, state],
          # each.
          def courses
            followed = visit.trend.courses(side)
            followed.map do |course|
              name = name_of(course.item)
              said =
                Wording.course(
                  course,
                  name,
                  last: course.trend.last,
                  following: following,
                  steady: visit.family.steady
                )
              [
                picture(course, "#{name}: #{said.first}"),
                said,
                course.before?(following) ? :look_again : :good
              ]
            end
          end

          # What else has changed over the visits: [picture, sentence, state], each.
          def series
            followed = visit.trend.series(side)
            followed.map do |one|
              said = Wording.series(one)
              drawn =
                Drawings::TrendLine.new(
                  one.trend.points.map { |date, value| [date, value, 0] },
                  one.trend,
                  label: said,
                  said: ->(value) { "#{Families::Number.print(value.round(1).to_r)} #{one.unit}" }
                )
              [drawn.to_s, said, one.worse? ? :look_again : :good]
            end
          end

          # The stages of the device of this side: [Families::Stage, :done, :here, :next or :later], each, all of
          # them :open where none was ordered; empty
          # for most.
          def stages
            all = visit.wear.stages
            at = all.index(visit.wear.stage(side)) or return all.map { |one| [one, :open] }

            all.each_with_index.map do |one, i|
              [one, STEPS.fetch(i - at) { i < at ? :done : :later }]
            end
          end

          # The stage of this side's device that comes next, as its key, or nil.
          def coming_stage = visit.wear.next_stage(side)&.key

          # Each step that was taken of this side's device: [label, day, who cleared it, what was agreed or nil,
          # whether it was of the one that is worn now].
          def steps_cleared
            visit
              .rows_so_far(:stage_clearances)
              .select { |row| row[:side].nil? || row[:side] == side }
              .map do |row|
                label =
                  visit.wear.stages.find { |one| one.key == row[:stage] }&.label || row[:stage]
                hours = row[:hours] && Wording.hours_a_day(row[:hours])
                agreed = [hours, row[:agreed]].compact.join("; ")
                [
                  label,
                  visit.clinic.today(row[:at]),
                  row[:cleared_by],
                  agreed[/.+/],
                  visit.wear.clears?(row, side)
                ]
              end
          end

          # "calf strap 60 mm, thigh strap 68 mm"
          def marks
            visit
              .fit
              .settings(side)
              .filter_map do |field, row|
                row &&
                  "#{field.label.downcase} #{row[:value_mm] ? length(row[:value_mm]) : field.print(row[:typed])}"
              end
          end

          # The stage of the next thing to do before it can be closed.
          def next_stage
            return unless writable? && blocks.any?
            return :order unless visit.gates.open?(:measure)
            new_stage if visit.gates.gives_out?
          end

          # The other side of a pair, where something of it is still to do and nothing of this one.
          def turn_to
            return unless twin && blocks.any?

            open = visit.gates.before(:close_recheck)
            if open.none? { |block| block.side == side } && open.any? { |b| b.side == twin.side }
              twin.side
            end
          end

          private

          # whether a site is read for the device of this side
          def own?(item) = item.side == side || !visit.sides.include?(item.side)

          def named = visit.needs.find { |item| item.key == given("at") }

          def waiting
            open = [
              *visit.needs.select { |item| visit.doubts.any? { |row| item.takes?(row) } },
              *visit.unread
            ]
            open.find { |item| own?(item) }
          end

          # what is given out is put on, looked at, shown and signed for: the first stage that is open
          def new_stage
            open = visit.gates.before(:close_recheck).map(&:stage)
            %i[size fit teach hand_over].find { |one| open.include?(one) }
          end

          # the latest day of the next recheck
          def following = visit.wear.next_recheck&.to

          def picture(course, label)
            site = course.item.site.key
            points =
              course.trend.points.map do |date, mm|
                [date, mm, visit.sizing.precision(side).sd(site, once(mm))]
              end
            Drawings::TrendLine.new(
              points,
              course.trend,
              tape: visit.clinic.tape_kind,
              label: label,
              low: course.low,
              high: course.high
            ).to_s
          end

          # one reading of so many mm
          def once(mm)
            Measuring::Repeats.new(
              [Quantity::Length.mm(mm)],
              resolution: visit.clinic.tape_kind.resolution
            )
          end

          def printed(repeats) = repeats&.length&.to_s(visit.clinic.tape_kind)

          def change(item, before, now)
            return unless before && now

            own = visit.sides.include?(item.side) ? item.side : visit.sides.first
            found =
              Followup::ChangeOfGirth.new(
                item.site.key,
                before,
                now,
                precision: visit.sizing.precision(own)
              )
            [
              found.real? ? :look_again : :good,
              found.real? ? t(:changed) : t(:the_same),
              Wording.change_of_girth(found, visit.clinic.tape_kind)
            ]
          end

          def answer_state(row)
            return :not_done unless row

            row[:stop] ? :stop : :good
          end

          def answered_on(side, ask)
            row = visit.answer(ask.key, side)
            [answer_state(row), row ? ask.print(row[:answer]) : "–"]
          end

          def length(value) = Quantity::Length.mm(value.to_r).plain("mm")
        end

        def self.registered(app)
          app.get("/:id/recheck") do
            clinical!
            visit = visit!
            later = visit.visits.reject(&:first?).reject(&:called_off_at).last
            next go(stage_path(later.id, :recheck)) if visit.first? && later

            show(Page, visit)
          end

          app.post("/:id/answers") do
            enter(Page, Store::Commands::AnswerRecheck) { { "side" => text("side") } }
          end
          app.post("/:id/stage") do
            enter(Page, Store::Commands::ClearStage) { { "side" => text("side") } }
          end
          # one tap from the verdict to the new device: what is worn is replaced when that is written down
          app.post("/:id/resize") do
            page = text("stage") == "measure" ? MeasureStage::Page : Page
            enter(page, Store::Commands::ChooseSize) do
              "#{stage_path(id, :size)}?#{query("side" => text("side"))}"
            end
          end
          app.post("/:id/close") do
            enter(Page, Store::Commands::CloseRecheck) { "/visits/#{id}/record" }
          end
        end
      end
    end
  end
end
