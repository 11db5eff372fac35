# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # Show me: the wearer, or a named carer, puts it on alone.
      module TeachStage
        # What the teaching page prints.
        class Page < StagePage
          STAGE = :teach

          include WithChecks

          def blocks = @blocks ||= worded(visit.gates.before(:record_teach_back))
          def who = typed("who") || visit.patient.name

          # [task, how it went as typed, or nil]
          def tasks = visit.tasks.map { |task| [task, typed_in("levels", task.key)] }
          def levels =
            Fitting::LEVELS.map { |level| [level, Wording.t("teaching.levels.#{level}")] }
          def doffing = visit.family.doff(visit.config)

          def mistakes
            visit
              .family
              .mistakes_for(visit.config)
              .map { |one| [one, typed_list("mistakes").include?(one.key)] }
          end

          def taught? = visit.gates.done?(:teach)

          # A teach-back in one line: who, how, in how many tries, what was not seen and what is wrong.
          def how_shown(one, missing, left)
            tries = one.tries && Wording.t("web.tries", count: one.tries)
            done = [
              one.side,
              one.who,
              one.unaided ? Wording.t("web.unaided") : Wording.t("web.with_help"),
              tries
            ].compact
            [
              done.join(", "),
              (Wording.t("web.not_seen", missing: missing.join(", ")) if missing.any?),
              (Wording.t("web.mistakes_still", left: left.join(", ")) if left.any?),
              (Wording.t("web.counts_no_longer", gone: Wording.t("causes.#{one.gone}")) if one.gone)
            ].compact.join("; ")
          end

          # What was shown so far, newest first: [teach-back, passed, what was missing, mistakes].
          def shown
            visit.fit.teach_backs.reverse.map do |one|
              missing = one.open_tasks(visit.tasks).map { |task| visit.fill(task.text) }
              left =
                visit
                  .family
                  .mistakes
                  .select { |mistake| one.mistakes.include?(mistake.key) }
                  .map(&:text)
              [one, one.passed?(visit.tasks) && one.gone.nil?, missing, left]
            end
          end
        end

        def self.registered(app)
          app.get("/:id/teach") do
            clinical!
            show(Page, visit!)
          end

          # once all of it was shown and nothing stands in the way, there is nothing more to see here
          app.post("/:id/teach") do
            enter(Page, Store::Commands::RecordTeachBack) do |taken|
              next unless taken.visit.gates.open?(:hand_over) && !taken.visit.handed_over?

              stage_path(id, :hand_over)
            end
          end
        end
      end
    end
  end
end
