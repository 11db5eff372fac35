# frozen_string_literal: true

module Handrail
  module Drawings
    # A person from the front, with a link on each part of the body for which there is a device: a
    # way to choose among many families at a glance. The lists beside it say the same in words.
    class BodyMap
      WIDTH = 200
      HEIGHT = 460
      # half of the outline, from the top of the head down, mirrored at the middle
      HALF = [
        [0, 12],
        [14, 15],
        [20, 30],
        [17, 46],
        [9, 56],
        [10, 66],
        [34, 76],
        [46, 92],
        [54, 140],
        [60, 190],
        [58, 206],
        [50, 204],
        [42, 150],
        [36, 112],
        [33, 150],
        [36, 190],
        [40, 222],
        [38, 280],
        [31, 330],
        [32, 362],
        [22, 410],
        [22, 424],
        [30, 440],
        [10, 442],
        [8, 412],
        [8, 366],
        [6, 330],
        [3, 240],
        [0, 232]
      ].freeze
      # place => [x, y] from the middle
      SPOTS = {
        "shoulder" => [38, 84],
        "trunk" => [0, 150],
        "whole_body" => [0, 205],
        "knee" => [22, 334],
        "lower_leg" => [20, 372],
        "ankle" => [14, 412],
        "foot" => [20, 436]
      }.freeze

      # places - those that have a device.
      def initialize(places)
        @places = SPOTS.keys & places
      end

      def to_s
        SVG.draw(WIDTH, HEIGHT, label: "Parts of the body", class: "body-map") do |svg|
          svg.path(outline, class: "skin")
          @places.each { |place| spot(svg, place) }
        end
      end

      private

      def outline
        right = HALF.map { |x, y| [100 + x, y] }
        left = HALF.reverse.map { |x, y| [100 - x, y] }
        "M #{(right + left).map { |x, y| "#{x} #{y}" }.join(" L ")} Z"
      end

      def spot(svg, place)
        x, y = SPOTS.fetch(place)
        svg.link("#place-#{place}") { svg.circle(100 + x, y, 9, class: "spot") }
      end
    end
  end
end
