# frozen_string_literal: true

module Handrail
  module Store
    class Rehearsal
      # What each event of a rehearsal becomes: a command, taken at the Bench. What several events say
      # together (an order, the cautions, the tasks of a teach-back, the parts of a size) is gathered until it is
      # whole.
      class Acts
        include Beginning

        NAMES = %w[
          order
          caution
          read
          answer
          choose
          issue
          set
          step
          check
          problem
          change
          teach
          word
          hand_over
          recheck
          ask
          act
          close
        ].freeze
        SIDES = %w[left right].freeze
        SURE = /\Asure\b[:,]?\s*/
        private_constant :SIDES, :SURE

        # family - the Families::Family; ordered - key => text; wrong - [side, problem's key] that was named last
        attr_reader :family, :ordered, :wrong

        def initialize(family, options:, chart:, rule:)
          @family = family
          @options = options
          @chart = chart
          @rule = rule
          @ordered = {}
          @cautions = {}
          @parts = {}
          @taught = {}
        end

        # The Handrail::Visit, nil while the order is being written.
        def visit = @bench&.visit

        # [side, key of the item, state] of each check as it stands
        def seen
          return [] unless visit

          visit.sides.flat_map do |side|
            visit.fit.checklist(side).items.map { |item| [side, item.key, item.state] }
          end
        end

        # --- events; each raises NotKept where it is not taken ---

        def read(key, value)
          side, site, posture = split(key)
          ready!
          item = reading_item(site, side, posture)
          take(
            Commands::TakeReading,
            "site" => site,
            "side" => side || item&.side || (visit.sides.first if paired?(site)),
            "posture" => posture || item&.posture,
            "tension" => item&.tension,
            "value" => value
          )
        end

        # what a reading that was asked about is: so, again, or what was offered
        def answer(key, value)
          side, site, = split(key)
          ready!
          row =
            visit.doubts.find { |one| one[:site] == site && (side.nil? || one[:side] == side) } or
            unacceptable("answer", "No reading of that site is asked about.")
          said = { "so" => "right", "meant" => "other" }.fetch(value, value)
          take(Commands::AnswerReading, "row" => row[:id], "answer" => said)
        end

        # key - a part of the chart, a side, or nothing; "L: why" gives the reason for another size
        def choose(key, value)
          side, part, = split(key)
          ready!
          size, why = value.split(/:\s+/, 2)
          own = side || visit.sides.first
          whole = whole_size(own, part, size) or return
          try(own, whole) if family.size_rule.by == "trial"
          take(Commands::ChooseSize, "side" => own, "size" => whole, "why" => why)
        end

        def issue(key, value)
          side, = split(key)
          ready!
          take(Commands::IssueDevice, "side" => side || visit.sides.first, "serial" => value)
        end

        # a mark or a setting
        def set(key, value)
          side, field, = split(key)
          ready!
          unless visit.fit.settings(side || visit.sides.first).any? { |one, _| one.key == field }
            unacceptable(field, "There is no such setting here.")
          end
          take(
            Commands::WriteSettings,
            "side" => side || visit.sides.first,
            "settings" => {
              field => value
            }
          )
        end

        # value - "sure" for what can not be undone
        def step(key, value)
          side, step, = split(key)
          ready!
          take(Commands::FinishStep, "side" => side, "step" => step, "sure" => sure(value))
        end

        # yes, no, no:WAY, a figure, FIGURE:WAY, or not possible; after a semicolon a note
        def check(key, value)
          side, check, place = split(key)
          ready!
          said, note = value.split(/;\s*/, 2)
          # what is seen now leads on, not what was named before
          @wrong = nil
          take(
            Commands::RecordCheck,
            "side" => side,
            "check" => check,
            "place" => place,
            "note" => note,
            **outcome(said.to_s)
          )
        end

        # key - a remedy of the problem that was named last, of one that shows in the failed check where none
        # was; or a setting
        def change(key, value)
          side, remedy, = split(key)
          ready!
          named = problem_of(remedy, side)
          return set(key, value) if named.nil? && setting?(remedy, side)

          unacceptable("problem", "Name what is wrong first.") unless named
          take(
            Commands::ChangeOneThing,
            "side" => side,
            "problem" => named,
            "remedy" => remedy,
            "after" => value.sub(SURE, ""),
            "sure" => sure(value)
          )
          @wrong = [side, named]
        end

        def teach(key, value)
          side, task, = split(key)
          ready!
          unless visit.tasks.any? { |one| one.key == task }
            unacceptable("task", "There is no such task here.")
          end
          said = { **@taught[[visit.id, side]].to_h, task => value }
          take(Commands::RecordTeachBack, "side" => side, "who" => "the wearer", "levels" => said)
          @taught[[visit.id, side]] = said
        end

        # a senior's; key - a block as it is printed, "check_failed:no_pinch"
        def word(key, value)
          ready!
          block =
            standing.find { |one| [Standing.named(one, visit), one.code.to_s].include?(key) } or
            unacceptable("block", "That does not stand in the way.")
          @bench.take(
            Commands::LetPass.new("reason" => value, "only" => [block.key]),
            Bench::SENIOR
          )
        end

        def hand_over(_key, value)
          ready!
          take(
            Commands::HandOverDevice,
            "start_hours" => value.empty? ? "as planned" : value,
            "signed_name" => "the wearer"
          )
        end

        # The next recheck begins; one that is open is closed before. value - the day
        def recheck(_key, value)
          ready!
          close("", "") if visit.recheck? && !visit.closed?
          day = value.empty? ? nil : Quantity::Day.read(value)
          planned = @bench.visits.reject(&:closed_at).find { |row| row.purpose == "recheck" }
          planned or
            unacceptable("recheck", "No recheck is planned: it was not handed over, or is over.")
          day ||= planned.due_from
          if day < @bench.clinic.today
            unacceptable("recheck", "That day is before what was written last.")
          end
          begin_visit(planned)
          Time.utc(day.year, day.month, day.day, 9)
        rescue Quantity::Day::Unreadable => e
          unacceptable("recheck", e.message)
        end

        # a question of the recheck
        def ask(key, value)
          side, field, = split(key)
          ready!
          take(Commands::AnswerRecheck, "side" => side, "field" => field, "answer" => value)
        end

        # what was done about a stop: referred, advised or emergency
        def act(key, value)
          ready!
          done, advice = value.split(/;\s*/, 2)
          take(
            Commands::RecordStopAction,
            "stop" => key,
            "action" => done,
            "who" => "the prescriber",
            "advice" => advice || "as they said"
          )
        end

        # ends the recheck
        def close(_key, _value)
          ready!
          take(Commands::CloseRecheck)
        end

        # what is wrong, as the fitter or the wearer names it
        def problem(key, _value)
          side, named, = split(key)
          ready!
          @wrong = [side, problem_named(named).key]
        end

        # What stands before the act that ends the visit, as Blocks.
        def standing
          visit.gates.blocks(visit.recheck? && !visit.gates.gives_out? ? :close : :hand_over)
        end

        private

        def unacceptable(field, message) = raise(Unacceptable.new(field, message))

        def take(command, **inputs)
          @bench.take(command.new(inputs.transform_keys(&:to_s).compact))
        end

        def begin_visit(row)
          @cautions = {}
          @wrong = nil
          @parts = {}
          @bench.stand_at(row)
        end

        # [side, key, place or posture] of "left:KEY:PLACE"
        def split(key)
          first, *rest = key.split(":")
          return first, *rest if SIDES.include?(first)

          [nil, first, *rest]
        end

        def paired?(site) = Anatomy::Vocabulary.default[site]&.paired

        # what is to be read there: what was not read yet comes first
        def reading_item(site, side, posture)
          fits =
            visit.needs.select do |one|
              one.site.key == site && (side.nil? || one.side == side) &&
                (posture.nil? || one.posture == posture)
            end
          fits.find { |one| visit.live_readings.none? { |row| one.counts?(row) } } || fits.first
        end

        # the name of the whole size, nil while a part of it is missing
        def whole_size(side, part, size)
          names = visit.pin.chart&.parts.to_a.map(&:name).reject(&:empty?)
          return size unless names.include?(part)

          chosen = (@parts[side] ||= {}).merge!(part => size)
          return unless names.all? { |name| chosen.key?(name) }

          names.map { |name| chosen[name] }.reject(&:empty?).join(" ")
        end

        # a size that is chosen after trying was tried
        def try(side, size)
          return if visit.sizing.advice(side)&.size == size

          take(Commands::TrySize, "side" => side, "size" => size, "outcome" => "good")
        end

        def sure(value) = value.match?(SURE) ? "yes" : nil

        def outcome(said)
          return { "outcome" => "not_possible" } if said == "not possible"
          return { "outcome" => "good" } if said == "yes"

          seen, way = said.split(":", 2)
          seen == "no" ? { "outcome" => "bad", "way" => way } : { "value" => seen, "way" => way }
        end

        def setting?(key, side) =
          visit.fit.settings(side || visit.sides.first).any? { |one, _| one.key == key }

        def problem_named(key)
          visit.family.problems_for(visit.config).find { |one| one.key == key } ||
            unacceptable("problem", "There is no such problem here.")
        end

        # the problem that a remedy is meant for
        def problem_of(remedy, side)
          named_side, key = wrong
          near = [
            (
              if key && (side.nil? || named_side.nil? || side == named_side)
                visit.family.problem(key)
              end
            )
          ]
          near += visit.remedies.problems_shown(side || visit.sides.first)
          near.compact.find { |one| one.remedies.any? { |other| other.key == remedy } }&.key
        end
      end
    end
  end
end
