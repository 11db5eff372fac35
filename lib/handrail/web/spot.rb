# frozen_string_literal: true

module Handrail
  module Web
    # A point of a figure that was tapped, in the figure's own frame.
    Spot =
      Value.new(:x, :y) do
        # What a page sent, or nil where that is no point of the frame.
        def self.read(x, y)
          return if x.to_s.empty? || y.to_s.empty?

          across, down = [x, y].map { |text| Float(text.to_s[0, 12], exception: false) }
          return unless across && down
          unless across.between?(0, Drawings::Figure::WIDTH) &&
                   down.between?(0, Drawings::Figure::HEIGHT)
            return
          end

          self[x: across.round(1), y: down.round(1)]
        end
      end
  end
end
