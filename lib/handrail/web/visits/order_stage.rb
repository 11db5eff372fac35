# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The order, and what is asked before anything is measured.
      module OrderStage
        # What the order's page prints.
        class Page < StagePage
          STAGE = :order

          # [[label, text], ...] of the order's fields.
          def facts = visit.order_facts

          # What was put right of the order, as rows of entries.
          def corrections =
            visit.fitting_events.select do |entry|
              entry[:command] == Store::Commands::CorrectOrder.key
            end

          # [key, label, typed] of the pressures to ask for, where the family asks for the index.
          def pressures
            return [] unless visit.family.index && writable?

            labels =
              Compression::AnkleBrachial::LABELS.reject do |key, _|
                key.start_with?("ankle") && visit.sides.none? { |side| key.include?(side.to_s) }
              end
            labels.map do |key, label|
              [
                key,
                label,
                typed_in("pressures", key) || kept_pressures[key],
                fault("pressures[#{key}]")
              ]
            end
          end

          def agreed_by = typed("agreed_by") || kept_pressures["agreed_by"]

          # What the pressures say: [[state, sentence], ...].
          def index_findings
            return [] if kept_pressures.empty? && visit.safety.questions.nil?

            read, =
              visit.method_of("ankle_brachial").read(
                kept_pressures.except("agreed_by", "measured_on")
              )
            if read
              read
                .findings(visit.sides.compact)
                .map { |finding| [finding.state, Wording.ankle_index(finding)] }
            else
              []
            end
          end

          # [prompt, ticked] of the stop signs and of what to take care of.
          def stop_prompts = prompts(visit.family.stop_signs, "stops", :stops)
          def care_prompts = prompts(visit.family.care_prompts, "care", :care)

          # When the cautions were asked before, nil at a first visit and once they are asked here.
          def asked_before = visit.safety.questions ? nil : visit.safety.answered_before&.fetch(:at)

          # The day of pressures that were measured at an earlier visit, nil where they were measured here.
          def measured_on
            return visit.safety.pressures_before&.last unless visit.safety.questions

            visit.safety.questions[:pressures].to_h["measured_on"]&.then { |day| Date.iso8601(day) }
          end

          def identity? =
            trouble ? typed("identity") == "yes" : visit.safety.identity? || !beside.nil?
          def note = typed("note") || (visit.safety.questions || beside)&.fetch(:note)

          # What this fitter asked at this sitting for another device of the wearer, as a row; nil where it can not
          # stand for this one: another wearer's name since, a stop sign there, somebody else who asked.
          def beside
            return @beside if defined?(@beside)

            row = visit.safety.questions.nil? && writable? ? visit.source.asked_beside : nil
            @beside = row if row && row[:by] == account.id &&
              Store::Commands::AskedBeside.stands?(row, visit)
          end

          # Whether a prompt was not asked there.
          def new_here?(prompt) =
            !beside.nil? &&
              !Store::Commands::AskedBeside.prompts(beside, visit).include?(prompt.key)

          # The wearer's other visits of today: rows of visit_id, stage and title.
          def here_beside = @here_beside ||= writable? ? visit.source.here_beside : []
          def figure = Figures.new(visit, side: side).plain

          # When a stop sign was seen or told and by whom, in words; of another fitting of the wearer, at which.
          def told(stop)
            return Wording.t("web.seen_at_other", title: stop.from[:title]) if stop.from

            entry = visit.fitting_events.find { |one| one[:version] == stop.seq } or return
            at = visit.clinic.local(entry[:made_at] || entry[:at])
            Wording.t(
              "web.seen_by",
              day: Quantity::Day.write(at.to_date),
              clock: at.strftime("%H:%M"),
              who: visit.name_of(entry[:by])
            )
          end

          private

          # those of this visit, else those of an earlier one that still hold
          def kept_pressures
            return visit.safety.questions[:pressures].to_h if visit.safety.questions

            visit.safety.pressures_before&.first.to_h
          end

          def prompts(all, name, column)
            before = name == "care" ? beside || visit.safety.answered_before : nil
            ticked =
              trouble ? typed_list(name) : (visit.safety.questions || before)&.fetch(column).to_a
            all
              .select { |prompt| prompt.applies?(visit.config) }
              .map { |prompt| [prompt, ticked.include?(prompt.key)] }
          end
        end

        def self.registered(app)
          app.get("/:id/order") do
            clinical!
            show(Page, visit!)
          end

          app.post("/:id/order") do
            enter(Page, Store::Commands::AskCautions) do |taken|
              next nil if taken.visit.safety.stops.any?

              stage_path(id, taken.visit.recheck? ? :recheck : :measure)
            end
          end

          app.post("/:id/stop-actions") { enter(Page, Store::Commands::RecordStopAction) }
          app.post("/:id/protocol") { enter(Page, Store::Commands::TakeProtocol) }

          # for the prescriber, when a stop sign was found
          app.get("/:id/referral") do
            clinical!
            visit = visit!
            erb :"visits/referral",
                layout: :print,
                locals: {
                  page: Page.new(visit, account),
                  visit: visit
                }
          end
        end
      end
    end
  end
end
