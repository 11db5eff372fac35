# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What is seen on the skin at a place of the figure: before first wear as the baseline, later as
      # what the device did. A place that was seen before is followed: smaller, same, larger or gone.
      # Open, blistered or marked skin is a stop sign, and no later row that says less ends it: healed
      # skin is looked at again at another visit, and what was seen is written down. A place that was
      # tapped by mistake is taken back at the same visit, which is another thing than gone. It can be
      # written at any time once identity was confirmed, also under a stop.
      #
      #   RecordSkin.new("x" => "190", "y" => "333", "kind" => "mark_fades", "size" => "12 mm", "side" => "left")
      #   RecordSkin.new("follows" => "7", "course" => "smaller", "size" => "8 mm")
      #   RecordSkin.new("follows" => "7", "course" => "gone", "note" => "closed, pale, soft")
      #   RecordSkin.new("follows" => "7", "course" => "mistake", "note" => "wrong leg tapped")
      #
      # Refuses an open place that is gone or has become less at the visit at which it was seen open,
      # and one that has healed without what was seen.
      class RecordSkin < VisitCommand
        KINDS = %w[mark_fades mark_stays blister open old_sore].freeze
        COURSES = %w[smaller same larger gone mistake].freeze

        input :kind, :one_of, of: KINDS, default: nil
        input :course, :one_of, of: COURSES, default: nil
        input :follows, :line, most: 20
        input :figure, :key
        input :x, :line, most: 12
        input :y, :line, most: 12
        input :size, :line, most: 40
        input :side, :key
        input :note, :line, most: 300
        input :photo, :line, most: 20

        def topic = "skin"
        def watch = []

        def decide(visit)
          pass!(visit)
          before = follows && followed(visit)
          row = before ? again(before) : fresh(visit)
          Decision.insert(
            said(row),
            skin_findings: {
              **row,
              size_mm: measured,
              note: note,
              photo_id: photo_of(visit, photo)
            }
          )
        end

        private

        def followed(visit)
          place = visit.body.skin.find { |one| one.last[:id].to_s == follows } or
            unacceptable("follows", t(:place_not_open))
          unacceptable("course", t(:say_course)) unless course
          course == "mistake" ? taken_back!(visit, place) : healed!(visit, place)
          place.last
        end

        # of this visit alone, with why
        def taken_back!(visit, place)
          unless place.rows.all? { |row| row[:visit_id] == visit.id }
            unacceptable("course", t(:seen_at_earlier_visit))
          end
          unacceptable("note", t(:say_what_tapped_mistake)) unless note
        end

        # a stop for skin does not end by a row that says less
        def healed!(visit, place)
          return unless place.alarming? && less?(place)

          if place.last[:visit_id] == visit.id
            unacceptable("course", t(:place_seen_a_moment_ago, course: place.kind.tr("_", " ")))
          end
          unacceptable("note", t(:write_what_you_see)) unless note
        end

        def less?(place) =
          course == "gone" || !Handrail::Visit::BodyWork::ALARMS.key?(kind || place.kind)

        def again(before)
          {
            **before.slice(:side, :figure, :x, :y),
            kind: kind || before[:kind],
            follows_id: before[:id],
            course: course
          }
        end

        def fresh(visit)
          unacceptable("kind", t(:say_what)) unless kind
          point = [x, y].map { |text| Float(text || "", exception: false) }
          unless point.all? { |n| n&.between?(0, 600) }
            unacceptable("x", t(:tap_place_figure_first))
          end

          {
            side: side_of(visit, side),
            figure: Anatomy::Figure.all.key?(figure) ? figure : visit.sizing.figure.key,
            x: Store.numeric(point.first.round(1).to_r),
            y: Store.numeric(point.last.round(1).to_r),
            kind: kind
          }
        end

        def measured
          return unless size

          mm = Quantity::Length.parse(size, unit: "mm").mm
          unacceptable("size", t(:place_skin_measured_across)) if mm > 500 || mm <= 0
          Store.numeric(mm)
        rescue Quantity::Length::Unreadable => e
          unacceptable("size", e.message)
        end

        def said(row)
          words = row[:kind].tr("_", " ").sub(t(:old_sore), t(:old_sore_earlier_device))
          [t(:skin, words: words), row[:course], size].compact.join(", ")
        end
      end
    end
  end
end
