# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The wearer's sheet: what they need at home, in their words, their language and large type.
      class SheetPage
        # A step as the sheet has it. number - within its list; picture - SVG
        Step = Value.new(:number, :title, :words, :picture)

        attr_reader :visit, :language

        # language - a key of Language::ALL; empty for the wearer's own
        def initialize(visit, language: nil)
          @visit = visit
          @language = Language.of(language.to_s.empty? ? visit.patient.language : language)
        end

        def title
          whose = visit.patient.name if visit.patient.animal?
          named = language.within(device)
          whose ? t("title_of", name: whose, device: named) : t("title", device: named)
        end

        # "knee unloader, left, inner side". side - the one meant, where not all that was ordered is
        def device(side = visit.config["side"])
          extras =
            visit
              .family
              .fields_for(visit.config)
              .select(&:part_of_name)
              .filter_map { |field| field.choice(visit.config[field.key])&.in_words }
          named = [
            say(visit.family.name),
            side && t("sides.#{side}"),
            *extras.map { |text| say(text) }
          ]
          named.compact.join(", ")
        end

        def draft? = visit.hand_over.nil?

        # The id of a later visit that gave something out: what is worn now stands on its sheet. nil where this is
        # the newest.
        def newer
          given = visit.visits.reverse.find { |row| visit.at(row).hand_over_here }
          given.id if given && given.number > visit.number
        end

        # "serial number WH-20501", by side
        def devices
          visit.sizing.devices.map do |side, device|
            number =
              (
                if device[:serial]
                  t("serial", number: device[:serial])
                else
                  t("lot", number: device[:lot])
                end
              )
            [visit.said_side(side) && t("sides.#{side}"), number].compact.join(": ")
          end
        end

        def size = visit.sizing.size_said&.gsub(/\b(left|right)\b/) { |side| t("sides.#{side}") }
        def calls = visit.family.calls(visit.config).map { |text| say(text) }

        # How it is worn at first, as SheetPlans.
        def plans = @plans ||= SheetPlan.of(self)

        def rules = visit.family.rules(visit.config).map { |rule| fill(rule) }
        def skin = say(visit.family.wear["skin"])
        def cares = visit.family.care_rules(visit.config).map { |text| say(text) }
        def warranty = visit.clinic.choices_made.warranty

        # What the wearer confirms at hand-over, as texts; of a pair a recheck may give out one.
        def statements
          given = visit.wear.given_side ? device(visit.wear.given_side) : device
          Store::Statements
            .of(visit)
            .map do |code, figures|
              next figures[:text] if code == "own"

              on = figures[:on] && { on: day_and_side(*figures.values_at(:on, :side)) }
              t("statements.#{code}", **figures, device: given, **on.to_h)
            end
        end

        # How to get out of it, in order.
        def way_out = visit.family.way_out(visit.config).map { |text| fill(text) }

        # The steps that the wearer does, as Steps.
        def putting_on = @putting_on ||= home_steps(visit.family.steps(visit.config), [])
        def taking_off =
          @taking_off ||= home_steps(visit.family.doff(visit.config), straps.map(&:key))
        LISTS = { "on" => :putting_on, "off" => :taking_off }.freeze
        # A step shown by itself. heading; step - a Step; before, after - [list, number] or nil; of - how
        # many there are in its list
        Shown = Value.new(:heading, :step, :before, :after, :of)

        # One step by itself, or nil. list - "on" or "off"; number - from 1
        def shown(list, number)
          steps = LISTS.key?(list) ? public_send(LISTS[list]) : []
          all = LISTS.flat_map { |name, way| public_send(way).map { |step| [name, step.number] } }
          at = all.index([list, number.to_i]) or return
          Shown[
            heading: t(LISTS[list]),
            step: steps[number.to_i - 1],
            before: (all[at - 1] if at.positive?),
            after: all[at + 1],
            of: steps.size
          ]
        end

        def look = visit.family.wear["putting_on"]&.then { |text| fill(text) }

        def marks_say = say(visit.family.marks["says"])

        # Marks by side: [[side or nil, [[label, value], ...]], ...].
        def marks
          visit.sides.filter_map do |side|
            written = marks_of(side)
            next if written.empty?

            lines = written.map { |field, row| [say(field.label), say(field.say(row))] }
            [visit.said_side(side) && t("sides.#{side}"), lines]
          end
        end

        # Parts, and the stages that the devices stand at with the hours that were agreed: [label, words].
        def parts = kept(visit.family.parts)
        def stages
          by_side(
            ->(side) { [visit.wear.stage(side), visit.wear.stage_hours(side)] }
          ).flat_map do |side, (stage, hours)|
            a_day = hours && t("hours_a_day", hours: hours_said(hours))
            kept([stage].compact).map do |label, words|
              [of_side(side, label), [words, a_day].compact.join(" ")]
            end
          end
        end

        # What holds of each side: [[side, what], ...]; where it is the same of all, once and with no side.
        # what - called with a side
        def by_side(what)
          held = visit.sides.map { |side| [side, what[side]] }
          held.map(&:last).uniq.one? ? [[nil, held.first.last]] : held
        end

        # "Left: ...", or the text alone where no side is told apart.
        def of_side(side, text) = side ? "#{t("sides.#{side}").capitalize}: #{text}" : text

        # "one hour", "1.5 hours"
        def hours_said(hours)
          whole = hours.to_r.denominator == 1
          t("hours", count: whole ? hours.to_i : plain(hours))
        end

        # The device with the marks to which its straps are pulled: [[side, picture], ...], one with no side where they
        # are the same on all; nothing where no strap has one.
        def pictures
          by_side(
            ->(side) do
              marks = marks_of(side).to_h { |field, row| [field.key, say(field.say(row))] }
              [marks, visit.sizing.straps(side)]
            end
          ).filter_map do |side, (marks, straps)|
            own = side || visit.sides.first
            worn = straps.map { |strap| [strap, :done] }
            made = Figures.new(visit, side: own).marked(worn, marks, label: yours(side))
            [side, made] if made
          end
        end

        # What stands below such a picture.
        def yours(side) = of_side(side, t("your_device"))

        # Whom to call when the clinic is closed, and whose word stands above the sheet.
        def out_of_hours = t(of_animal("out_of_hours"))
        def foot = t(of_animal("foot"))

        # A word of the sheet in its language.
        def t(key, **figures) = Wording.t("sheet.#{key}", locale: language.key.to_sym, **figures)

        # A day as this language writes it: 3 Dec 2026, 3. Dez. 2026
        def date(day) = t("date", day: day.day, month: t("months.m#{day.month}"), year: day.year)

        private

        # "3 Dec 2026, left"
        def day_and_side(day, side) = [date(day), *(t("sides.#{side}") if side)].join(", ")

        def of_animal(key) = visit.patient.animal? ? "#{key}_animal" : key
        def say(text) = language.say(text)
        def fill(text) = language.fill(visit.family, text, visit.config)
        def plain(number) = Families::Number.print(number)

        def straps = visit.sizing.straps(visit.sides.first)

        # what is set for the wearer, with its row
        def marks_of(side) = visit.fit.settings(side).select { |field, row| row && !field.clinics }

        def kept(list)
          list
            .select { |one| one.applies?(visit.config) }
            .map { |one| [say(one.label), say(one.says.to_s)] }
        end

        # what only the clinic does is left out; the wearer's own words where there are some. closed - keys of
        # the straps that are closed before
        def home_steps(steps, closed)
          steps
            .reject { |step| step.at_home == false }
            .each_with_index
            .map do |step, i|
              title = fill(step.title)
              pulled = pulled_by(step)
              picture = figures.step(step, states(closed, pulled), label: title)
              closed = step.pictured == "open" ? [] : closed | pulled
              Step[
                number: i + 1,
                title: title,
                words: fill(step.at_home || step.do),
                picture: picture
              ]
            end
        end

        # keys of the straps that a step closes: of those that a sheet counts, the lowest, or all above it
        def pulled_by(step)
          return [] unless step.strap

          keys = straps.map(&:key)
          return [step.strap] if keys.include?(step.strap)

          step.strap == visit.family.straps.first&.key ? keys.first(1) : keys.drop(1)
        end

        def states(closed, pulled)
          straps.map do |strap|
            state = :waiting
            state = :done if closed.include?(strap.key)
            state = :active if pulled.include?(strap.key)
            [strap, state]
          end
        end

        def figures = @figures ||= Figures.new(visit, side: visit.sides.first)
      end
    end
  end
end
