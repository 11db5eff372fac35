# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Points of the line of a limb or a trunk, on the figure's view or on a photo of this fitting,
      # before or after a change. A line that is seen from behind needs a photo.
      #
      #   PlaceLine.new("line" => "leg", "moment" => "before", "side" => "left", "known" => "80 cm",
      #                 "points" => { "hip" => "100,50", "knee" => "108,300", "toe" => "100,560" })
      class PlaceLine < VisitCommand
        input :line,
              :one_of,
              of: Handrail::Fitting::Alignment::LINES.keys,
              missing: t(:say_which_line)
        input :moment, :one_of, of: %w[before after], missing: t(:say_whether_before_after)
        input :side, :key
        input :bent, :flag
        input :points, :map
        input :known, :line, most: 40
        input :photo, :line, most: 20
        # placed on a live picture that was frozen, which may be kept as that photo, or not at all
        input :camera, :flag

        def topic = "line:#{line}:#{side}"

        def decide(visit)
          pass!(visit)
          seen_from(Handrail::Fitting::Alignment::LINES.fetch(line))
          own = line == "trunk" ? nil : side_of(visit, side)
          given = points.transform_values { |text| text.to_s.split(",").first(2).map(&:to_f) }
          given = given.slice(*Handrail::Fitting::Alignment::LINES.fetch(line).points.keys)
          made = Handrail::Fitting::Alignment.of(line, given, side: own, known: length)
          Decision.insert(
            with_side(visit, own, said(made)),
            alignments: {
              side: own,
              line: line,
              moment: moment,
              bent: bent,
              points: Store.json(given),
              known_mm: length && Store.numeric(length),
              photo_id: photo_of(visit, photo)
            }
          )
        rescue Handrail::Fitting::Alignment::Unknown => e
          unacceptable("points", e.message)
        end

        private

        # what is seen from behind has no figure of ours: on one from the front the sides are swapped
        def seen_from(wanted)
          return unless wanted.view == "behind" && photo.nil? && !camera

          unacceptable("points", t(:line_seen_behind_place))
        end

        def length
          return unless known

          mm = Quantity::Length.parse(known, unit: "cm").mm
          unacceptable("known", t(:length_between_two_points)) unless mm.positive? && mm <= 3000
          mm
        rescue Quantity::Length::Unreadable => e
          unacceptable("known", e.message)
        end

        def said(made)
          figures =
            made.figures.except(:unit).map { |name, value| "#{name} #{format("%.1f", value)}" }
          how = [
            moment,
            (t(:knee_bent_5_degrees) if bent),
            (t(:live_picture) if camera)
          ].compact.join(", ")
          "#{made.line.label.downcase}, #{how}: #{figures.join(", ")}"
        end
      end
    end
  end
end
