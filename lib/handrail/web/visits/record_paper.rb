# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The fitting record of a visit as a paper: what was ordered, read, chosen, looked at, changed, taught and handed
      # over, of which side, and what was put right since; then all that was written, in its order.
      class RecordPaper
        include Wording::OfPages
        include Done

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
            away(paper)
            body(paper)
            settings(paper)
            teaching(paper)
            hand_over(paper)
            story(paper)
            written_here(paper)
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
          rows = @page.readings
          return if rows.empty?

          paper.heading("Readings")
          lines =
            rows.map do |row|
              struck = (t(:struck_out, strike_reason: row[:strike_reason]) if row[:struck_at])
              [
                @page.reading_words(row),
                as_typed(row),
                [
                  (Wording.read_on_paper(row, visit) if row[:read_at]),
                  visit.name_of(row[:by]),
                  struck,
                  @page.corrected_words(rows, row)
                ].compact.join("; ")
              ]
            end
          paper.table(
            [[t(:where_how), t(:read), t(:by)], *lines],
            header: true,
            widths: [250, 90, 147]
          )
        end

        # with its unit, where that was not typed along
        def as_typed(row) =
          row[:typed].match?(/\d\s*\z/) ? "#{row[:typed]} #{row[:unit]}" : row[:typed]

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
              seen = [SEEN.fetch(row[:outcome]), row[:note]].compact.join(": ")
              said = [seen, @page.corrected_words(@page.results, row)].compact.join("; ")
              [@page.result_words(row), said, clock(row[:at])]
            end
          paper.table([%w[Check Seen At], *lines], header: true, widths: [300, 137, 50])
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
          done = visit.hand_over_here or return
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
          actions = @page.stop_actions.map { |at, who, what| "#{day(at)}, #{who}: #{what}" }
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

        # every entry of the visit, so that nothing is missing that has no heading above
        def written_here(paper)
          return if written.empty?

          paper.heading(t(:as_it_was_written))
          lines = written.map { |entry| [moment(entry), entry[:said], visit.name_of(entry[:by])] }
          paper.table(lines, widths: [110, 287, 90])
        end

        def moment(entry)
          at = ->(time) { "#{day(time)}, #{clock(time)}" }
          return at[entry[:at]] unless entry[:made_at]

          t(:arrived_at, at: at[entry[:made_at]], arrived: at[entry[:at]])
        end
      end
    end
  end
end
