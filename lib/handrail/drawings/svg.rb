# frozen_string_literal: true

require "cgi"

module Handrail
  module Drawings
    # A drawing in the making: elements with escaped attributes, looks by class.
    class SVG
      def self.draw(width, height, label:, **attributes)
        svg = new
        yield svg
        attrs = {
          viewBox: "0 0 #{width} #{height}",
          role: "img",
          "aria-label": label,
          **attributes
        }
        "<svg xmlns=\"http://www.w3.org/2000/svg\"#{svg.attributes(attrs)}>#{svg}</svg>"
      end

      def initialize = @parts = []

      def element(name, text = nil, **attrs)
        @parts << "<#{name}#{attributes(attrs)}#{text ? ">#{CGI.escapeHTML(text.to_s)}</#{name}>" : "/>"}"
      end

      # Everything drawn inside leads somewhere. For the mouse alone: a list beside the drawing says
      # the same.
      def link(href)
        @parts << "<a#{attributes(href: href, tabindex: "-1")}>"
        yield
        @parts << "</a>"
      end

      # Everything drawn inside is moved, turned or looks as the group says.
      def group(**attrs)
        @parts << "<g#{attributes(attrs)}>"
        yield
        @parts << "</g>"
      end

      def path(points, **attrs) = element(:path, d: points, **attrs)
      def text(x, y, said, **attrs) = element(:text, said, x: n(x), y: n(y), **attrs)
      def line(x1, y1, x2, y2, **attrs) =
        element(:line, x1: n(x1), y1: n(y1), x2: n(x2), y2: n(y2), **attrs)
      def circle(x, y, r, **attrs) = element(:circle, cx: n(x), cy: n(y), r: n(r), **attrs)

      def rect(x, y, width, height, **attrs)
        element(:rect, x: n(x), y: n(y), width: n(width), height: n(height), **attrs)
      end

      # A polyline as path data.
      def trace(points, close: false)
        "M#{points.map { |x, y| "#{n(x)} #{n(y)}" }.join(" L")}#{" Z" if close}"
      end

      # A number for SVG: at most one decimal. By whole tenths, since a drawing has hundreds of these and a Float takes
      # its time to be written.
      def n(number)
        return number if number.is_a?(String)

        tenths = (number * 10).round
        return "-#{-tenths / 10}#{TENTHS[-tenths % 10]}" if tenths.negative?

        "#{tenths / 10}#{TENTHS[tenths % 10]}"
      end

      TENTHS = ["", *(1..9).map { |tenth| ".#{tenth}" }].freeze
      private_constant :TENTHS

      def attributes(attrs)
        attrs.compact.map { |key, value| " #{key}=\"#{CGI.escapeHTML(value.to_s)}\"" }.join
      end

      def to_s = @parts.join
    end
  end
end
