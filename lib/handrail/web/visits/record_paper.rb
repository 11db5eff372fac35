# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The fitting record of a visit as a paper: what was ordered, read, chosen, looked at, changed,
      # taught and handed over, as it was written.
      class RecordPaper
        include Wording::OfPages

        KEPT = Store::Commands::KeepPaper.key
        SEEN = Wording.names("check_seen")

        # visit; head - lines of the letterhead
        def initialize(visit, head)
          @visit = visit
          @head = head
          @page = RecordPages::Page.new(visit)
        end

        # Returns an Exchange::Paper::Made. The same record gives the same bytes.
        def make
          Exchange::Paper.make(title: title, head: @head, foot: foot, at: written_at) do |paper|
            order(paper)
            asked(paper)
            readings(paper)
            size(paper)
            checks(paper)
            changes(paper)
            body(paper)
            teaching(paper)
            hand_over(paper)
            story(paper)
          end
        end

        private

        attr_reader :visit

        def title =
          "#{visit.first? ? t(:first_fitting) : Wording.t("stages.recheck")}: #{visit.title}"
        def foot
          t(
            :record_visit_version,
            patient: visit.patient.name,
            record_number: visit.patient.record_number,
            id: visit.id,
            version: written.size
          )
        end

        # what was written of the fitting: that a paper of it was kept changes no paper
        def written = @written ||= visit.events.reject { |entry| entry[:command] == KEPT }

        # the last thing that was written, so that the paper says no other time
        def written_at =
          written.map { |entry| entry[:at] }.max || visit.opened_at || visit.fitting.at
        def day(time) = Quantity::Day.write(visit.clinic.today(time))
        def clock(time) = visit.clinic.local(time).strftime("%H:%M")
        def date(day) = Quantity::Day.write(day)
        def side(row) = visit.said_side(row[:side])

        # what came of a change; gone - whether what was wrong is, nil where nobody looked since
        def result(gone)
          return if gone.nil?

          gone ? t(:gone_next_look) : t(:still_next_look)
        end

        def order(paper)
          paper.text(
            t(
              :born,
              patient: visit.patient.name,
              born_on: date(visit.patient.born_on),
              record_number: visit.patient.record_number
            ),
            strong: true
          )
          paper.table(
            [
              [
                t(:prescribed_by),
                "#{visit.prescription.prescriber}, #{date(visit.prescription.prescribed_on)}"
              ],
              ["Product", visit.product.full_name],
              *visit.order_facts
            ],
            widths: [150, 337]
          )
        end

        def asked(paper)
          return if @page.asked.empty?

          paper.heading(t(:identity_cautions))
          @page.asked.each do |at, who, sentences|
            paper.text(
              [*sentences, t(:asked_by, who: who, day: day(at), clock: clock(at))].join(" ")
            )
          end
        end

        def readings(paper)
          rows = visit.rows(:readings)
          return if rows.empty?

          paper.heading("Readings")
          lines =
            rows.map do |row|
              struck = (t(:struck_out, strike_reason: row[:strike_reason]) if row[:struck_at])
              [
                @page.reading_words(row),
                "#{row[:typed]} #{row[:unit]}",
                [
                  (Wording.read_on_paper(row, visit) if row[:read_at]),
                  visit.name_of(row[:by]),
                  struck
                ].compact.join("; ")
              ]
            end
          paper.table(
            [[t(:where_how), t(:read), t(:by)], *lines],
            header: true,
            widths: [250, 90, 147]
          )
        end

        def size(paper)
          return if visit.sizing.choices.empty?

          paper.heading("Size")
          visit.sizing.choices.each do |own, row|
            paper.text(
              [
                visit.said_side(own),
                "#{row[:chosen]}: #{row[:reason]}",
                row[:why_different]
              ].compact.join(". ")
            )
          end
          visit.sizing.devices.each do |own, row|
            number = Wording.device_number(row)
            number = t(:number_and_gtin, number: number, gtin: row[:gtin]) if row[:gtin]
            use_by = row[:use_by]
            number = t(:number_to_be_used_by, number: number, use_by: date(use_by)) if use_by
            paper.text(
              [
                visit.said_side(own),
                t(:device_size, size: row[:size], number: number)
              ].compact.join(" ")
            )
          end
        end

        def checks(paper)
          return if @page.results.empty?

          paper.heading(t(:looked_at))
          lines =
            @page.results.map do |row|
              seen = SEEN.fetch(row[:outcome])
              [@page.result_words(row), [seen, row[:note]].compact.join(": "), clock(row[:at])]
            end
          paper.table([%w[Check Seen At], *lines], header: true, widths: [300, 137, 50])
        end

        def changes(paper)
          return if visit.fit.changes.empty?

          paper.heading("Changed")
          ended = visit.fit.tries.to_h { |try| [try.seq, try.ended] }
          paper.list(visit.fit.changes.map { |change| changed(change, result(ended[change.seq])) })
          visit.fit.slips.each do |slip|
            paper.text(
              t(:to_the_due, doer: slip[:doer], what: slip[:what], due_on: date(slip[:due_on]))
            )
          end
        end

        def changed(change, result)
          problem = visit.family.problem(change.problem)&.title
          values = Wording.from_to(change.before, change.after)
          done = [change.title, values, change.note, result].compact.join(", ")
          problem ? "#{visit.fill(problem)} - #{done}" : done
        end

        def body(paper)
          word = visit.body.word_here
          if word
            paper.heading(t(:what_wearer_says))
            paper.table(
              [
                [t(:pain_without), word[:pain_without].to_s],
                [t(:pain_with_it), word[:pain_with].to_s],
                ["Where", word[:place].to_s],
                ["Wants", word[:wants].to_s]
              ].reject { |_, value| value.empty? },
              widths: [150, 337]
            )
          end
          return if visit.body.skin.empty?

          paper.heading("Skin")
          paper.list(visit.body.skin.map { |place| skin_words(place.last) })
        end

        def skin_words(row)
          size = row[:size_mm] && Quantity::Length.mm(row[:size_mm].to_r).plain("mm")
          course = row[:course] && Wording.t("courses_of_skin.#{row[:course]}")
          [side(row), Wording.t("skin.#{row[:kind]}"), size, course, row[:note]].compact.join(", ")
        end

        def teaching(paper)
          written = visit.fit.settings.select { |_, row| row }
          unless written.empty?
            paper.heading(t(:marks_settings))
            paper.table(
              written.map { |field, row| [field.label, field.say(row)] },
              widths: [250, 237]
            )
          end
          return if visit.fit.teach_backs.empty?

          paper.heading(t(:shown_back))
          paper.list(
            visit.fit.teach_backs.map do |one|
              open = one.open_tasks(visit.tasks).map { |task| visit.fill(task.text) }
              [
                one.side,
                one.who,
                one.unaided ? t(:unaided) : t(:with_help),
                (t(:open, open: open.join(", ")) if open.any?)
              ].compact.join(", ")
            end
          )
        end

        def hand_over(paper)
          done = visit.rows(:hand_overs).first or return
          paper.heading(t(:handed_over))
          paper.text(
            t(
              :worn_first,
              day: day(done[:at]),
              clock: clock(done[:at]),
              who: visit.name_of(done[:by]),
              start_hours: done[:start_hours]
            )
          )
          paper.text(t(:with_it, spares: done[:spares])) if done[:spares]
          paper.table(
            done[:statements].to_a.map { |text, initials| [text, initials.to_s] },
            widths: [407, 80]
          )
          said = Wording.t("signed.#{done[:signed_how]}", who: done[:signed_name])
          paper.text("#{said[0].upcase}#{said[1..]}.")
          paper.signature(done[:signature]) if done[:signature]
        end

        def story(paper)
          words =
            visit.overrides.map do |row|
              t(
                :seniors_word,
                day: day(row[:at]),
                who: visit.name_of(row[:by]),
                reason: row[:reason]
              )
            end
          actions =
            visit
              .rows(:stop_actions)
              .map do |row|
                t(:stop_sign_dealt, at: day(row[:at]), who: row[:who], advice: row[:advice])
              end
          unless (words + actions).empty?
            paper.heading(t(:let_pass_stops))
            paper.list(words + actions)
          end
          return if visit.notes.empty?

          paper.heading("Notes")
          paper.list(
            visit.notes.map { |row| "#{day(row[:at])}, #{visit.name_of(row[:by])}: #{row[:text]}" }
          )
        end
      end
    end
  end
end
