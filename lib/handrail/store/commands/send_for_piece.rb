# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Has the device made, or orders it, in the size that was chosen. Until it has come (CloseJobSlip) nothing is
      # fitted on that side; its serial number is written down when it is there (IssueDevice).
      #
      #   SendForPiece.new("side" => "left", "doer" => "maker", "due_on" => "12 Dec 2026", "measures" => "foam in blue")
      #
      # Refuses before a size was chosen, where the device is there, and while one is on its way. It is called off like
      # any other slip.
      class SendForPiece < VisitCommand
        input :side, :key
        input :doer, :one_of, of: %w[workshop maker], missing: t(:say_who_makes_sends)
        input :due_on, :day
        input :measures, :line, most: 1000

        def topic = "piece:#{side}"
        def watch = [/\Asize/, /\Adevice:/, /\Apiece:/, /\Aslip/]

        def decide(visit)
          pass!(visit)
          own = side_of(visit, side)
          size = visit.sizing.choice(own)&.fetch(:chosen) or
            unacceptable("size", t(:choose_size_first))
          there!(visit, own)
          unacceptable("due_on", t(:day_has_passed_write)) if due_on < visit.clinic.today

          what = "#{visit.family.name.downcase}, size #{size}"
          Decision.insert(
            with_side(
              visit,
              own,
              t(:sent_due, doer: doer, what: what, due_on: Quantity::Day.write(due_on))
            ),
            job_slips: {
              fitting_id: visit.fitting.id,
              side: own,
              doer: doer,
              what: with_side(visit, own, what),
              measures: measures,
              due_on: due_on,
              marks: Store.json({}),
              opens: Store.json([]),
              piece: true,
              size: size
            }
          )
        end

        private

        def there!(visit, own)
          unacceptable("side", t(:device_written_down_already)) if visit.sizing.device_fits?(own)
          return unless visit.fit.slips_out.any? { |row| row[:piece] && row[:side] == own }

          unacceptable("side", t(:one_way_already_call))
        end
      end
    end
  end
end
