# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      class RecordPaper
        # What was done to the device, on the record as a paper: what was changed and what came of it, what went away,
        # and the marks and settings as they stand, each of its side and place. For the RecordPaper alone.
        module Done
          private

          def changes(paper)
            return if visit.fit.changes.empty?

            paper.heading("Changed")
            ended = visit.fit.tries.to_h { |try| [try.seq, try.ended] }
            paper.list(
              visit.fit.changes.map { |change| changed(change, result(ended[change.seq])) }
            )
          end

          def changed(change, result)
            problem = visit.family.problem(change.problem)&.title
            values = Wording.from_to(change.before, change.after)
            where = [*@page.on_side(change.side), *@page.at_place(change.side, change.place)]
            done = [*where, change.title, values, change.note, result].compact.join(", ")
            problem ? "#{visit.fill(problem)} - #{done}" : done
          end

          # what went to the workshop or the maker up to this visit, and what came of it
          def away(paper)
            return if visit.fit.slips.empty?

            paper.heading(t(:at_work_away))
            ends = visit.rows_so_far(:slip_returns).to_h { |row| [row[:slip_id], row] }
            paper.list(
              visit.fit.slips.map do |slip|
                sent =
                  t(:to_the_due, doer: slip[:doer], what: slip[:what], due_on: date(slip[:due_on]))
                [*@page.on_side(slip[:side]), sent, *came(ends[slip[:id]])].join(", ")
              end
            )
          end

          def came(ended)
            return t(:not_back_yet) unless ended

            on = day(ended[:at])
            [
              ended[:outcome] == "back" ? t(:came_back, day: on) : t(:was_called_off, day: on),
              *ended[:note]
            ]
          end

          # of each side what stands written, also from visits before
          def settings(paper)
            lines =
              visit.sides.flat_map do |own|
                written = visit.fit.settings(own).select(&:last)
                written.map do |field, row|
                  [[*@page.on_side(own), field.label].join(", "), field.say(row)]
                end
              end
            return if lines.empty?

            paper.heading(t(:marks_settings))
            paper.table(lines, widths: [250, 237])
          end

          # what came of a change; gone - whether what was wrong is, nil where nobody looked since
          def result(gone)
            return if gone.nil?

            gone ? t(:gone_next_look) : t(:still_next_look)
          end
        end
      end
    end
  end
end
