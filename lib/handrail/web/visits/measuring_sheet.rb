# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # What a measuring sheet for paper prints: the wearer, the order, what is asked first, and every site with
      # its place on the figure and room for two readings.
      class MeasuringSheet < OrderStage::Page
        # A site. picture - of the figure with its tape line; how - posture and tension in words
        Row = Value.new(:picture, :name, :landmark, :how, :decides)

        include WithReading

        # The sites, in the order in which they are read, as Rows.
        def to_read
          visit.needs.map do |item|
            own = visit.sides.find { |one| one == item.side } || visit.sides.first
            Row[
              picture: Figures.new(visit, side: own, current: item).alone,
              name: name_of(item),
              landmark: item.site.landmark,
              how: Wording.t("read_how", posture: item.posture, tension: item.tension),
              decides: item.decides
            ]
          end
        end

        # Nothing was asked here yet.
        def care_prompts =
          visit
            .family
            .care_prompts
            .select { |one| one.applies?(visit.config) }
            .map { |one| [one, false] }
      end
    end
  end
end
