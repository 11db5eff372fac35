# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Takes one reading of the tape. Every one is kept; one that no body would give is asked about
      # before it counts.
      #
      #   TakeReading.new("site" => "calf_widest", "side" => "left", "value" => "14 3/8", "unit" => "in")
      #
      # Where it does not go together with the other readings, the last visit or the other limb, the
      # reading that best explains it is asked about, be it this one or one before it.
      #
      # Refuses the same figure again while a question about it is open, before identity and
      # cautions were asked, under a stop sign, what can not be read as a length, and a posture or
      # tension that is none. Posture and tension are those that are asked for where none is given.
      class TakeReading < VisitCommand
        include ReadingValues
        include FromDevice

        input :site, :key, missing: t(:choose_site)
        input :side, :key
        input :value,
              :text,
              most: LONGEST,
              missing: Wording.t("commands.nothing_typed", example: Quantity::Length::EXAMPLE)
        input :unit, :one_of, of: %w[cm in mm ft m], default: nil
        input :posture, :key
        input :tension, :key
        # read on paper, and typed in afterwards: at what hour of which day, and by whom; today and who types where
        # that is not said
        input :read_time, :line, most: 10
        input :read_on, :line, most: 40
        input :read_by, :id, default: nil
        # id of the reading of today that was taken for another device of the wearer
        input :same_as, :id, default: nil

        # who types is who read, where nobody else is named
        def authorize!(account)
          super
          @typist = account.id
        end

        def topic = reading_topic(site, paired? ? side : nil)

        def decide(visit)
          pass!(visit)
          beside = beside(visit)
          values =
            values(visit).merge(sent(visit, :readings)).merge(
              same_as_id: beside&.fetch(:id),
              **read_on_paper(visit)
            )
          asked_already(visit, values)
          said =
            "#{reading_name(values)}: #{reading_said(values)}#{sent_said}#{beside_said(visit, beside)}" \
              "#{paper_said(visit, values)}"
          saying = values[:question] ? nil : visit.cross.question(values)
          return Decision.insert(said, readings: values) unless saying

          finding = Store.json(saying.finding)
          return Decision.insert(said, readings: values.merge(question: finding)) unless saying.ref

          Decision.of(
            said,
            rows: [[:readings, values]],
            updates: [[:readings, saying.ref, { question: finding }]]
          )
        end

        private

        # how long ago a reading on paper may be, in days
        LONG_AGO = 31
        private_constant :LONG_AGO

        def read_on_paper(visit)
          return {} unless read_time || read_on

          unacceptable("read_time", Wording.t("read_on_paper.hour")) unless read_time
          day = read_on ? Inputs.read(:day, read_on, "read_on") : visit.clinic.today
          at = visit.clinic.moment(day, *Inputs.read(:time, read_time, "read_time"))
          unacceptable("read_time", Wording.t("read_on_paper.ahead")) if at > Store.now
          if at < Store.now - (LONG_AGO * 86_400)
            unacceptable("read_on", Wording.t("read_on_paper.long_ago", days: LONG_AGO))
          end
          { read_at: at, read_by: reader(visit) || @typist }
        rescue TZInfo::PeriodNotFound
          unacceptable("read_time", Wording.t("read_on_paper.hour"))
        end

        def reader(visit)
          return unless read_by

          visit.source.readers.find { |one| one[:id] == read_by }&.fetch(:id) or
            unacceptable("read_by", Wording.t("read_on_paper.who"))
        end

        def paper_said(visit, values)
          return unless values[:read_at]

          t(
            :read_paper,
            read_at: visit.clinic.local(values[:read_at]).strftime("%-d %b %Y at %H:%M")
          )
        end

        # the reading that is taken over, as it stands
        def beside(visit)
          return unless same_as

          row = visit.source.readings_beside.find { |one| one[:id] == same_as }
          return row if row && row[:typed] == value && row[:site] == site

          unacceptable("value", t(:reading_struck_out_put))
        end

        def beside_said(visit, row)
          return unless row

          t(
            :read_at_for_the,
            at: visit.clinic.local(row[:at]).strftime("%H:%M"),
            title: row[:title]
          )
        end

        # the strip keeps what was typed: the same figure again is a slip of the hand, not a second
        # reading
        def asked_already(visit, values)
          open =
            visit.doubts.find do |row|
              values.slice(:site, :side, :typed) == row.slice(:site, :side, :typed)
            end
          unacceptable("value", t(:say_first_whether_so, reading_said: reading_said(open))) if open
        end

        def known = Anatomy::Vocabulary.default[site] || unacceptable("site", t(:no_such_site))
        def paired? = Anatomy::Vocabulary.default[site]&.paired

        def values(visit)
          own = known.paired ? side : nil
          if known.paired && !%w[left right].include?(side)
            unacceptable("side", t(:choose_left_right))
          end
          asked = visit.needs.find { |item| item.site.key == site && item.side == own }
          reading_values(
            visit,
            known,
            value,
            unit || visit.clinic.tape_kind.unit,
            side: own,
            posture:
              one_of("posture", posture, known.postures | [asked&.posture].compact, asked&.posture),
            tension: one_of("tension", tension, TENSIONS, asked&.tension || known.tension)
          )
        end

        def one_of(field, given, allowed, default)
          return default || allowed.first if given.nil?

          if allowed.include?(given)
            given
          else
            unacceptable(field, t(:choose_one, allowed: allowed.join(", ")))
          end
        end
      end
    end
  end
end
