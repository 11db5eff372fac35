# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # Steps, checks, changes and marks.
      module FitStage
        # What the fitting page prints, for the device of one side.
        class Page < StagePage
          STAGE = :fit

          include WithChecks

          # A problem and what can be done about it. state - of the problem's check, for its mark.
          Wrong = Value.new(:problem, :offers)

          def blocks = @blocks ||= worded(visit.gates.blocks(visit.recheck? ? :measure : :fit))
          def applying = visit.applying(side)

          # The step to do now: the one asked for, else the first that is open.
          def step = @step ||= applying.open.find { |one| one.key == given("step") } || applying.next
          def current_step = step
          def steps = applying.steps.map { |one| [one, visit.fill(one.title), applying.done?(one)] }
          def open_checks = checklist.open_again.size
          def good? = checklist.good?

          # The problem being changed: the one named, else what a failed check points to; with its
          # offers, or nil.
          def wrong
            problem = named_problem || failed_problem or return
            @wrong ||= Wrong[problem: problem,
                             offers: Fitting::Advice.new(problem, changes: own_changes,
                                                                  config: visit.config).offers]
          end

          def problems = visit.family.problems_for(visit.config)
          def changing? = !wrong.nil? && (checklist.failed.any? || !given("problem").nil?)
          def picked_remedy = typed("remedy") || wrong.offers.find { |offer| offer.state == :next }&.remedy&.key

          # What was changed, newest first: [when, problem, remedy, note].
          def history
            visit.all_changes.select { |one| one.side.nil? || one.side == side }.last(5).reverse.map do |change|
              [change.at, visit.family.problem(change.problem)&.title, change.title, change.note]
            end
          end

          # [field, what is written or typed]
          def settings
            visit.settings(side).map { |field, row| [field, typed_in("settings", field.key) || (row && row[:typed])] }
          end

          def settings_open? = !given("marks").nil? || settings.any? { |field, _| fault(field.key) }
          def written = visit.settings(side).count { |_, row| row }

          # The protocol's timers, each with whether it runs for this side.
          def timers
            visit.family.timers_for(visit.config).map do |timer|
              [timer, visit.running_timers.any? { |row| row[:timer] == timer.key && row[:side] == side }]
            end
          end

          # The side that is still to be fitted, where there are two.
          def other_side
            visit.sides.find { |one| one != side && !(visit.applying(one).finished? && visit.checklist(one).good?) }
          end

          # What the limb says of the straps that hang on it: [state, sentence].
          def seats
            visit.seats(side).map { |strap, seat| [seat.held? ? :good : :look_again, Wording.seat(strap, seat)] }
          end

          # The straps of a wrap with what they press, from the lowest up, or nil while one is not
          # read.
          def pressures = @pressures ||= visit.pressures(side)

          def pressure_picture
            Drawings::PressureProfile.new(pressures, within: visit.family.pressure_line["within"].to_r).to_s
          end

          # What to change, lowest first.
          def pressure_changes = pressures.select(&:set_to).map { |strap| Wording.strap_change(strap) }

          def heading = good? ? "It fits" : "Look, feel, listen"

          private

          def own_changes = visit.all_changes.select { |one| one.side.nil? || one.side == side }
          def named_problem = problems.find { |problem| problem.key == given("problem") }

          def failed_problem
            failed = checklist.failed.first
            failed && problems.find { |problem| problem.shows_in.to_a.include?(failed.check.key) }
          end
        end

        def self.registered(app)
          app.get("/:id/fit") do
            clinical!
            show(Page, visit!)
          end

          app.post("/:id/steps") { enter(Page, Store::Commands::FinishStep) { { "side" => text("side") } } }

          app.post("/:id/checks") do
            page = params["stage"] == "recheck" ? RecheckStage::Page : Page
            enter(page, Store::Commands::RecordCheck) { { "side" => text("side") } }
          end

          app.post("/:id/timers") { enter(Page, Store::Commands::StartTimer) { { "side" => text("side") } } }

          # a timer is answered on whatever page of the visit it rings
          app.post("/:id/timers/:row/answer") do
            enter(Visits.page_of(text("stage")), Store::Commands::AnswerTimer) { { "side" => text("side") } }
          end

          app.post("/:id/changes") do
            enter(Page, Store::Commands::ChangeOneThing) do |taken|
              next stage_path(id, taken.result["goes_to"].to_sym) if %w[measure
                                                                        size].include?(taken.result["goes_to"])

              { "side" => text("side") }
            end
          end

          app.post("/:id/settings") do
            enter(Page, Store::Commands::WriteSettings) { { "marks" => "1", "side" => text("side") } }
          end
        end
      end
    end
  end
end
