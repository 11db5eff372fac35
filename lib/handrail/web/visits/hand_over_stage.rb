# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # Handing over.
      module HandOverStage
        # What the page of the hand-over prints.
        class Page < StagePage
          STAGE = :hand_over

          # The hand-over as it was signed: at a recheck that gives out something new its own one.
          def done = visit.gates.gives_out? ? visit.hand_over_here : visit.hand_over

          def blocks = @blocks ||= done ? [] : worded(visit.gates.before(:hand_over_device))

          # Whether a senior's word can let pass what stands here.
          def passable? = visit.gates.passable.any?
          def start_hours = typed("start_hours") || visit.family.wear["start_hours"]
          def signed_name = typed("signed_name") || visit.patient.owner_name || visit.patient.name
          # "signed by Wilma Quarrel"; who did not sign did not.
          def signed_words
            Wording.t("signed.#{done[:signed_how]}", who: done[:signed_name])
          end

          # What is confirmed with initials, as texts in the wearer's language.
          def statements = sheet.statements

          # The family's plan of getting used to it, or nil.
          def plan = visit.family.wear["break_in"]
          def plan_value(key) = typed_in("plan", key) || format("%g", plan[key])

          def plan_said
            return fault("plan") if fault("plan")

            made = Followup::WearPlan.read(plan.to_h { |key, _| [key, plan_value(key)] })
            Wording.t("plan", days: made.full_on, most: Families::Number.print(made.most))
          rescue Followup::WearPlan::Unsound => e
            e.message
          end

          def sheet = @sheet ||= SheetPage.new(visit)

          # Papers that were kept: [row, what].
          def papers = visit.rows(:papers)

          # What the wearer takes home, as texts.
          def takes_home
            hours = done ? done[:start_hours] : visit.family.wear["start_hours"]
            start =
              visit.family.fill(
                visit.family.wear["start"],
                visit.config.merge("start_hours" => hours)
              )
            [start, *visit.family.rules(visit.config).map { |rule| visit.fill(rule) }]
          end
        end

        def self.registered(app)
          app.get("/:id/hand-over") do
            clinical!
            show(Page, visit!)
          end

          # the record as it then stands is kept as a paper, in an entry of its own
          app.post("/:id/hand-over") do
            asked = Page.new(visit!, account).statements
            enter(Page, Store::Commands::HandOverDevice, asked: asked) do |taken|
              keep_record(taken.visit) if taken.visit.closed?
              stage_path(id, :hand_over)
            end
          end
          app.post("/:id/override") do
            page = params["stage"] == "recheck" ? RecheckStage::Page : Page
            enter(page, Store::Commands::LetPass)
          end
        end
      end
    end
  end
end
