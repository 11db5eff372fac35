# frozen_string_literal: true

require "digest"
require "prawn"
require "prawn/table"
require "prawn-svg"

module Handrail
  module Exchange
    # A paper as PDF: the same text gives the same bytes, so that its digest says whether it was
    # changed. What it says is put together elsewhere; here it is set.
    #
    #   paper = Paper.make(title: "Fitting record", head: ["Heron Quay ...", "..."], foot: "...", at: time) do |p|
    #     p.heading "Readings"
    #     p.table [["Calf", "37.3 cm"]]
    #     p.drawing svg, width: 200
    #   end
    #   paper.bytes, paper.pages, paper.sha256
    class Paper
      # size - A4 or LETTER; large - 14 pt and more, for wearers
      SIZES = %w[A4 LETTER].freeze
      FONTS = File.join(ROOT, "assets", "fonts")
      FAMILY = {
        "DejaVu" => {
          normal: File.join(FONTS, "DejaVuSansCondensed.ttf"),
          bold: File.join(FONTS, "DejaVuSansCondensed-Bold.ttf")
        }
      }.freeze
      INK = "22303C"
      SOFT = "5B6772"
      LINE = "B9B0A0"
      # colours of the styles by name
      COLOURS = {
        "white" => "#fffef9",
        "ink" => "#22303c",
        "soft" => "#5b6772",
        "pine" => "#1f5148",
        "tape" => "#f2c230",
        "brick" => "#a63d2f",
        "ochre" => "#9a6a00",
        "line" => "#ddd5c6",
        "edge" => "#b9b0a0",
        "paper" => "#f7f4ee",
        "mono" => "DejaVu"
      }.freeze
      # the drawings look on paper as they do on the screen: the styles of the figure, read from there
      STYLE =
        File
          .read(File.join(ROOT, "assets", "styles", "_figure.scss"))
          .gsub(%r{//.*$}, "")
          .gsub(/var\(--(\w+)\)/) { COLOURS.fetch(Regexp.last_match(1)) }
          .gsub(/rgb\(31 81 72 [^)]*\)/, "#dde4df")
          .gsub(/^\.figure \{.*?^\}/m, "")
          .gsub(".figure ", "")
          .gsub(/font-family: "[^"]*"(, sans-serif)?/, "font-family: DejaVu")
          .squeeze(" \n")
          .freeze

      # What was made.
      Made = Value.new(:bytes, :pages) { def sha256 = Digest::SHA256.hexdigest(bytes) }

      # title; head - lines of the letterhead; foot - a line at the foot of every page; at - the time
      # that the paper says it was made; size; large. Yields the Paper.
      def self.make(title:, head:, foot:, at:, size: "A4", large: false)
        paper = new(title, at, size, large)
        paper.head(head, title)
        yield paper
        paper.finish(foot)
      end

      def initialize(title, at, size, large)
        @large = large
        @pdf =
          Prawn::Document.new(
            page_size: size,
            margin: large ? [40, 46, 50, 46] : [54, 54, 60, 54],
            info: {
              Title: title,
              Creator: "Handrail",
              CreationDate: at.getutc,
              ModDate: at.getutc
            },
            compress: true
          )
        @pdf.font_families.update(FAMILY)
        @pdf.font("DejaVu")
        @pdf.default_leading(large ? 1 : 2)
      end

      attr_reader :pdf

      def text_size = @large ? 14 : 9.5

      def head(lines, title)
        first, *rest = lines
        pdf.text(clean(first), size: @large ? 13 : 10, style: :bold, color: SOFT)
        rest.each { |line| pdf.text(clean(line), size: @large ? 11 : 8.5, color: SOFT) }
        pdf.move_down 8
        pdf.text(clean(title), size: @large ? 20 : 17, style: :bold, color: INK)
        pdf.move_down 6
      end

      def heading(words)
        pdf.start_new_page if pdf.cursor < 60
        pdf.move_down @large ? 4 : 8
        pdf.text(clean(words), size: @large ? 16 : 11.5, style: :bold, color: INK)
        pdf.move_down 2
      end

      def text(words, strong: false)
        pdf.text(clean(words), size: text_size, style: strong ? :bold : :normal, color: INK)
      end

      # items - texts, or [strong text, text] pairs; ordered - with numbers
      def list(items, ordered: false)
        items.each_with_index do |item, i|
          lead = ordered ? "#{i + 1}." : "•"
          strong, more = item.is_a?(Array) ? item : [nil, item]
          parts = [{ text: "#{lead} " }]
          parts << { text: "#{clean(strong).chomp(".")}. ", styles: [:bold] } if strong
          parts << { text: clean(more) }
          pdf.indent(8) do
            pdf.formatted_text(parts.map { |one| { size: text_size, color: INK, **one } })
          end
        end
      end

      # rows - Arrays of texts; header - true where the first row names the columns
      def table(rows, header: false, widths: nil)
        return if rows.empty?

        cells = rows.map { |row| row.map { |cell| clean(cell) } }
        options = widths ? { column_widths: widths } : { width: pdf.bounds.width }
        pdf.table(
          cells,
          header: header,
          **options,
          cell_style: {
            size: text_size,
            padding: [2, 4],
            border_width: 0.4,
            border_color: LINE
          }
        ) { row(0).font_style = :bold if header }
        pdf.move_down 4
      end

      # svg - a drawing of ours; width - in points
      def drawing(svg, width: 220)
        styled = svg.sub(/(<svg[^>]*>)/, "\\1<style>#{STYLE}</style>")
        pdf.svg(styled, width: width, position: :center, enable_web_requests: false)
        pdf.move_down 6
      end

      # svg - a drawing in mm, width_mm wide: set at its own size
      def at_scale(svg, width_mm)
        points = width_mm * 72 / 25.4
        if points > pdf.bounds.width
          raise Handrail::Error, "The drawing is wider than the paper: #{width_mm.round} mm."
        end

        styled = svg.sub(/(<svg[^>]*>)/, '\\1<style>text { font-family: DejaVu; }</style>')
        pdf.svg(styled, width: points, position: :center, enable_web_requests: false)
        pdf.move_down 6
      end

      # path - strokes as the signature field keeps them, on a field of 420 by 110
      def signature(path)
        height = 44
        pdf.bounding_box([0, pdf.cursor], width: 168, height: height) do
          pdf.stroke_color(INK)
          pdf.line_width(1.1)
          strokes(path).each do |points|
            pdf.stroke do
              points.each_cons(2) do |(ax, ay), (bx, by)|
                pdf.line([ax * 0.4, height - (ay * 0.4)], [bx * 0.4, height - (by * 0.4)])
              end
            end
          end
        end
        pdf.move_down 4
      end

      def finish(foot)
        pdf.number_pages(
          "#{clean(foot)}   <page> / <total>",
          at: [pdf.bounds.left, -18],
          size: 8,
          color: SOFT
        )
        pages = pdf.page_count
        Made[bytes: pdf.render, pages: pages]
      end

      private

      # "M 1 2 L 3 4 M 5 6" => [[[1, 2], [3, 4]], [[5, 6]]]
      def strokes(path)
        path
          .to_s
          .split("M")
          .map do |part|
            part.scan(/-?[\d.]+/).map(&:to_f).each_slice(2).select { |pair| pair.size == 2 }.to_a
          end
      end

      # what the font can not write is shown as a box, never left out silently
      def clean(words) = words.to_s.unicode_normalize(:nfc).gsub(/[\x00-\x08\x0b-\x1f]/, "")
    end
  end
end
