# frozen_string_literal: true

module Handrail
  module Store
    # What pages need of the whole clinic, kept beside the rows that it follows from: where each
    # visit stands, how well each fitter repeats each site, and what
    # each remedy came to. `keep` runs in the transaction of
    # every entry; `rebuild` makes everything anew, and `differences` proves that both come to the
    # same.
    module Summaries
      # tables after which another thing may be due
      DUE = %i[
        hand_overs
        part_renewals
        readings
        size_choices
        issued_devices
        changes
        check_results
        skin_findings
        strap_settings
      ].freeze

      class << self
        # Brings a visit's summary up to date. decision - what was written, nil for a visit that was
        # just made.
        def keep(visit, decision = nil)
          Store.replace(:visit_summaries, :visit_id, **row_of(visit))
          if decision.nil? || touches?(decision, :readings)
            Repeatability.keep(visit, added: (visit.version if only_added?(decision)))
          end
          RemedyTries.keep(visit) if touches?(decision, :changes, :check_results)
          Dues.keep(visit) if touches?(decision, *DUE)
        end

        # Makes all summaries of a clinic anew. Returns how many visits were read.
        def rebuild(clinic)
          Store.db.transaction do
            Store.db[:visit_summaries].where(clinic_id: clinic.id).delete
            Repeatability.clear(clinic)
            RemedyTries.clear(clinic)
            Dues.clear(clinic)
            each_visit(clinic) do |visit|
              keep(visit)
              RemedyTries.keep(visit) if visit.changes.any?
              Dues.keep(visit) if visit.handed_over?
            end
          end
        end

        # Visits whose kept summary is not what would be made now: [[visit id, kept, made], ...].
        def differences(clinic)
          found = []
          each_visit(clinic) do |visit|
            kept = Store.db[:visit_summaries].where(visit_id: visit.id).select(*COLUMNS).first
            made = row_of(visit).slice(*COLUMNS)
            found << [visit.id, kept, made] unless same?(kept, made)
            found << [visit.id, :fitting_dues] if visit.handed_over? && !Dues.kept?(visit)
            found << [visit.id, :remedy_tries] if visit.changes.any? && !RemedyTries.kept?(visit)
          end
          found + Repeatability.differences(clinic)
        end

        private

        COLUMNS = %i[title stage state finding figures done patient_id].freeze

        def row_of(visit)
          step = Handrail::Fitting::NextStep.of(visit)
          {
            clinic_id: visit.clinic.id,
            visit_id: visit.id,
            patient_id: visit.patient.id,
            title: visit.title,
            stage: step.stage.to_s,
            state: step.state.to_s,
            finding: step.finding.to_s,
            figures: Store.json(step.figures),
            done: Store.json(step.done.map(&:to_s))
          }
        end

        def same?(kept, made)
          return false unless kept

          plain = ->(row) do
            JSON.parse(
              JSON.generate(row.transform_values { |v| v.respond_to?(:to_hash) ? v.to_hash : v })
            )
          end
          plain[kept] == plain[made]
        end

        def touches?(decision, *tables)
          (decision&.rows.to_a + decision&.updates.to_a).any? { |table, *| tables.include?(table) }
        end

        # whether no reading that stood was struck, answered or corrected
        def only_added?(decision)
          decision && decision.updates.to_a.empty? &&
            decision.rows.none? { |_, row| row[:corrects_id] }
        end

        # every visit of a clinic, some fittings at a time
        def each_visit(clinic)
          count = 0
          Fitting
            .where(clinic_id: clinic.id)
            .order(:id)
            .select_map(:id)
            .each_slice(500) do |ids|
              Visits
                .of_fittings(clinic, ids)
                .each_value { |visits| visits.each { |visit| (count += 1) && yield(visit) } }
            end
          count
        end
      end
    end
  end
end
