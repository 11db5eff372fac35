# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # Steps, checks, changes and marks.
      module FitStage
        # What the fitting page prints, for the device of one side.
        class Page < StagePage
          STAGE = :fit
          AHEAD = true

          include WithChecks
          include WithInstruments

          # A problem and what can be done about it.
          Wrong = Value.new(:problem, :offers)
          # A change as it is told: what was wrong, what was done, what came of it (a state and a
          # word, nil where nobody has looked yet).
          Changed = Value.new(:at, :problem, :title, :values, :note, :result)

          def line_row = @line_row ||= LineRow.new(visit)
          def blocks = @blocks ||= worded(visit.gates.before(:record_check))
          def applying = visit.fit.applying(side)

          # The step to do now: the one asked for, else the first that is open.
          def step =
            @step ||= applying.open.find { |one| one.key == given("step") } || applying.next
          def current_step = step

          # What has to be seen to be good before the step to do now, as items of the checklist.
          def unlooked = @unlooked ||= step ? applying.unlooked(step, checklist) : []

          # The step whose button is drawn: none while something is looked at first.
          def step_now = (step if unlooked.empty?)

          # what is looked at first goes first
          def next_check
            return super if unlooked.empty? || given("check")

            unlooked.find { |item| !item.failed? } || unlooked.first
          end

          def steps = applying.steps.map { |one| [one, visit.fill(one.title), applying.done?(one)] }

          # The steps that this fitter ticks together from here on, two or more; else none.
          def together
            return [] unless step && step == applying.next && Store::Ways.on?(account, "one_go")

            found = applying.together(Families::Hazards.steps_apart(visit.family))
            found.size > 1 ? found : []
          end

          def open_checks = checklist.open_again.size
          def good? = checklist.good?

          # The problem being changed: the one named, else what a failed check points to; with its
          # offers, or nil.
          def wrong
            return @wrong if defined?(@wrong)

            problem = named_problem || failed_problem
            @wrong =
              problem && Wrong[problem: problem, offers: visit.remedies.offers(problem, side)]
          end

          # What else may show itself in the check that failed.
          def else_wrong = shown_by_failure.reject { |problem| problem == wrong&.problem }

          # How somebody names what is wrong, and the point of the figure that was tapped.
          def felt = (given("felt") if Families::FELT.include?(given("felt")))
          def tapped
            return @tapped if defined?(@tapped)

            @tapped = Spot.read(given("x"), given("y"))
          end
          # somebody points at the figure, or says what it does
          def naming_now? = given("problem").nil? && !(felt.nil? && tapped.nil?)
          def felt_ways = Families::FELT.map { |one| [one, Wording.t("felt.#{one}")] }

          # The problems, those first that are named so.
          def problems
            return visit.remedies.problems unless felt

            @problems ||= visit.remedies.problems.partition { |one| like_felt?(one) }.flatten(1)
          end

          def like_felt?(problem) = !felt.nil? && problem.felt.to_a.include?(felt)

          # What a link to a problem carries.
          def naming =
            { "side" => side, "felt" => felt, "x" => tapped&.x, "y" => tapped&.y }.compact

          def changing? = !wrong.nil? && (checklist.failed.any? || !given("problem").nil?)

          # What was chosen and not taken: nothing is chosen for anybody.
          def picked_remedy = typed("remedy")

          # Where the keys go first: to what is proposed, until something is chosen.
          def proposed?(offer) = picked_remedy.nil? && trouble.nil? && offer.equal?(proposed)
          def proposed = wrong.offers.find { |offer| offer.state == :next }

          # What is said beside an offer: who does it, what it costs, what can not be undone, the
          # limit, and what it came to here.
          def offer_words(offer)
            Wording.offer(offer.remedy, limit: offer.limit, record: offer.record)
          end

          # What was changed, newest first, as Changed.
          def history
            ended = visit.fit.tries.to_h { |try| [try.seq, try.ended] }
            here = visit.fit.changes.map(&:seq)
            visit
              .fit
              .all_changes
              .select { |one| one.side.nil? || one.side == side }
              .last(5)
              .reverse
              .map { |change| changed(change, here.include?(change.seq) ? ended : {}) }
          end

          # --- work that is away ---

          # Job slips of this side: [row, whether it is out].
          def slips
            out = visit.fit.slips_out.map { |row| row[:id] }
            visit
              .fit
              .slips
              .select { |row| row[:side].nil? || row[:side] == side }
              .map { |row| [row, out.include?(row[:id])] }
          end

          def slips_out = slips.count(&:last)

          # The slip that is being written: what is typed, or what the last change asks for.
          def slip_form
            remedy = wrong && wrong.problem.remedies.find { |one| one.key == given("remedy") }
            {
              "doer" => typed("doer") || (remedy&.away? ? remedy.doer : "workshop"),
              "what" => typed("what") || (remedy && visit.fill(remedy.title)),
              "measures" => typed("measures"),
              "due_on" => typed("due_on"),
              "problem" => given("problem"),
              "remedy" => given("remedy")
            }
          end

          def slip_open? = given("slip") == "new" || !typed("what").nil?

          # [field, what is written or typed]
          def settings
            visit
              .fit
              .settings(side)
              .map { |field, row| [field, typed_in("settings", field.key) || (row && row[:typed])] }
          end

          def settings_open? = !given("marks").nil? || settings.any? { |field, _| fault(field.key) }
          def written = visit.fit.settings(side).count { |_, row| row }

          # The protocol's timers, each with whether it runs for this side.
          def timers
            visit
              .family
              .timers_for(visit.config)
              .map do |timer|
                [
                  timer,
                  visit.running_timers.any? { |row| row[:timer] == timer.key && row[:side] == side }
                ]
              end
          end

          # The side that is still to be fitted, where there are two.
          def other_side
            visit.sides.find do |one|
              one != side && !(visit.fit.applying(one).finished? && visit.fit.checklist(one).good?)
            end
          end

          # What the limb says of the straps that hang on it: [state, sentence].
          def seats
            visit
              .fit
              .seats(side)
              .map { |strap, seat| [seat.held? ? :good : :look_again, Wording.seat(strap, seat)] }
          end

          # The straps of a wrap with what they press, from the lowest up, or nil while one is not
          # read.
          def pressures = @pressures ||= visit.pressure.pressures(side)

          def pressure_picture
            Drawings::PressureProfile.new(
              pressures,
              within: visit.family.wanted_pressure(visit.config)[:within]
            ).to_s
          end

          # What the straps press on a thinner leg, as they are: [[percent, [mmHg, ...], below], ...],
          # below - numbers of straps that fall out of their band.
          def thinner
            visit
              .pressure
              .thinned(side)
              .map { |one| [one.percent, one.pressures.map(&:round), one.below] }
          end

          # What each strap pulls, and what that would press otherwise, a sentence each.
          def pulls = visit.pressure.pulls(side).map { |pull| Wording.pull(pull) }

          # What to change, lowest first.
          def pressure_changes =
            pressures.select(&:set_to).map { |strap| Wording.strap_change(strap) }

          # what was tapped just now
          def spots = tapped ? [[tapped, felt ? Wording.t("felt.#{felt}") : "here"]] : []

          def heading = good? ? Wording.t("web.it_fits") : Wording.t("web.look_feel_listen")

          private

          def changed(change, ended)
            gone = ended[change.seq]
            Changed[
              at: change.at,
              problem: visit.family.problem(change.problem)&.title,
              title: change.title,
              values: Wording.from_to(change.before, change.after),
              note: change.note,
              result: result(gone)
            ]
          end

          # what came of a change: [state, word], nil where nobody looked since
          def result(gone)
            return if gone.nil?

            gone ? [:good, Wording.t("web.gone")] : [:stop, Wording.t("web.still_there")]
          end

          def named_problem = problems.find { |problem| problem.key == given("problem") }

          def failed_problem = shown_by_failure.first

          # problems that show in the first check that failed, those first that are named so
          def shown_by_failure
            @shown ||= visit.remedies.problems_shown(side).map(&:key)
            problems.select { |one| @shown.include?(one.key) }
          end
        end

        # The routes of work that goes away to the workshop or the maker.
        def self.slips_of(app)
          app.post("/:id/slips") do
            enter(Page, Store::Commands::WriteJobSlip) { { "side" => text("side") } }
          end

          app.post("/:id/slips/:slip/close") do
            enter(Page, Store::Commands::CloseJobSlip) { { "side" => text("side") } }
          end

          # for the workshop
          app.get("/:id/slips/:slip") do
            clinical!
            visit = visit!
            slip = found(visit.fit.slips.find { |row| row[:id].to_s == params["slip"] })
            erb :"visits/slip",
                layout: :print,
                locals: {
                  visit: visit,
                  slip: slip,
                  page: Page.new(visit, account, params: { "side" => slip[:side] })
                }
          end
        end
        private_class_method :slips_of

        def self.steps_of(app)
          app.post("/:id/steps") do
            # a step of the other device of a pair leaves the page where it is
            stays = text("shown_side")
            enter(Page, Store::Commands::FinishStep) do
              { "side" => stays.empty? ? text("side") : stays }
            end
          end
        end
        private_class_method :steps_of

        def self.checks_of(app)
          # lands in the field of the strap that it was asked for
          app.post("/:id/checks/from/:kind") do
            clinical!
            page = params["stage"] == "recheck" ? RecheckStage::Page : Page
            from_device(instrument!, page, visit!)
          end

          app.post("/:id/checks") do
            page = params["stage"] == "recheck" ? RecheckStage::Page : Page
            enter(page, Store::Commands::RecordCheck) do
              acknowledge(params["source"], params["message"])
              { "side" => text("side") }
            end
          end
        end
        private_class_method :checks_of

        def self.registered(app)
          slips_of(app)
          steps_of(app)
          checks_of(app)
          app.get("/:id/fit") do
            clinical!
            show(Page, visit!)
          end

          app.post("/:id/timers") do
            enter(Page, Store::Commands::StartTimer) { { "side" => text("side") } }
          end

          # a timer is answered on whatever page of the visit it rings
          app.post("/:id/timers/:row/answer") do
            enter(Visits.page_of(text("stage")), Store::Commands::AnswerTimer) do
              { "side" => text("side") }
            end
          end

          app.post("/:id/changes") do
            enter(Page, Store::Commands::ChangeOneThing) do |taken|
              if %w[measure size].include?(taken.result["goes_to"])
                next stage_path(id, taken.result["goes_to"].to_sym)
              end
              if taken.result["away"]
                named = { "problem" => text("problem"), "remedy" => text("remedy") }
                next { "side" => text("side"), "slip" => "new", **named }
              end

              { "side" => text("side") }
            end
          end

          app.post("/:id/settings") do
            enter(Page, Store::Commands::WriteSettings) do
              { "marks" => "1", "side" => text("side") }
            end
          end
        end
      end
    end
  end
end
