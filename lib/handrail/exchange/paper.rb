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
      # the rules of it, each as [classes that it speaks of, text]: a drawing is given those that it can need, since
      # each costs a search through the whole drawing
      RULES =
        STYLE
          .scan(/([^{}]+)(\{[^}]*\})/)
          .flat_map { |selectors, said| selectors.split(",").map { |one| [one.strip, said] } }
          .map { |selector, said| [selector.scan(/\.([\w-]+)/).flatten, "#{selector} #{said}"] }
          .each { |rule| rule.each(&:freeze) }
          .freeze

      # in points: what lies between two steps, and between a picture and its words
      GAP = 14
      BESIDE = 9

      # What was made. filled - how much of the last page is used, from 0 to 1
      Made = Value.new(:bytes, :pages, :filled) { def sha256 = Digest::SHA256.hexdigest(bytes) }

      # How steps are set. picture - how wide the picture of a step is, air - what is left below each row of them
      # (points); empty - true where only the pages are wanted, with room in place of drawings
      Look = Value.new(:picture, :air, :empty)
      USUAL = Look[picture: 92, air: 0]

      # title; head - lines of the letterhead; foot - a line at the foot of every page; at - the time
      # that the paper says it was made; size; large; look - a Look. Yields the Paper.
      def self.make(title:, head:, foot:, at:, size: "A4", large: false, look: USUAL)
        paper = new(title, at, size, large, look)
        paper.head(head, title)
        yield paper
        paper.finish(foot)
      end

      def initialize(title, at, size, large, look)
        @large = large
        @look = look
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
        pdf.text(clean(first), size: @large ? 14 : 10, style: :bold, color: SOFT)
        small = @large ? 14 : 8.5
        (@large ? [rest.join(", ")] : rest).each do |line|
          pdf.text(clean(line), size: small, color: SOFT)
        end
        pdf.move_down 8
        pdf.text(clean(title), size: @large ? 20 : 17, style: :bold, color: INK)
        pdf.move_down 6
      end

      # Stands on the page on which what comes below it begins.
      def heading(words) = @heading = clean(words)

      def text(words, strong: false)
        style = strong ? :bold : :normal
        room(pdf.height_of(clean(words), size: text_size, style: style))
        pdf.text(clean(words), size: text_size, style: style, color: INK)
      end

      # items - texts, or [strong text, text] pairs; ordered - with numbers. No item is broken over a page, and
      # none stands alone on one
      def list(items, ordered: false)
        lines = items.each_with_index.map { |item, i| listed(item, ordered ? "#{i + 1}." : "•") }
        heights = lines.map { |line| pdf.height_of_formatted(line, width: pdf.bounds.width - 8) }
        lines.each_with_index do |line, i|
          # the first two together, and the last two
          room(i.zero? || i == lines.size - 2 ? heights[i, 2].sum : heights[i])
          pdf.indent(8) { pdf.formatted_text(line) }
        end
      end

      # steps with their pictures, two beside each other, none broken over a page. cards - [number, svg, strong
      # text, text]
      def cards(cards)
        cards.each_slice(2) do |pair|
          height = pair.map { |card| card_height(card) }.max
          room(height)
          top = pdf.cursor
          pair.each_with_index { |card, i| card(card, [i * (card_width + GAP), top], height) }
          pdf.move_cursor_to(top - height)
        end
        pdf.move_down 4
      end

      # rows - Arrays of texts; header - true where the first row names the columns
      def table(rows, header: false, widths: nil)
        return if rows.empty?

        room(3 * (text_size + 8))

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
        room(width) if @large
        # those of a wearer are square
        return pdf.move_down(width + 6) if @look.empty

        pdf.svg(styled(svg), width: width, position: :center, enable_web_requests: false)
        pdf.move_down 6
      end

      # svg - a drawing in mm, width_mm wide: set at its own size; height_mm - where it is known, so that it goes on a
      # page of its own where it has no room; style - how its parts look
      def at_scale(svg, width_mm, height_mm: nil, style: "")
        points = width_mm * 72 / 25.4
        if points > pdf.bounds.width
          raise Handrail::Error, "The drawing is wider than the paper: #{width_mm.round} mm."
        end

        room(height_mm * 72 / 25.4) if height_mm
        styled = svg.sub(/(<svg[^>]*>)/, "\\1<style>text { font-family: DejaVu; } #{style}</style>")
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

      # for wearers the foot is said once, as large as the rest
      def finish(foot)
        room(0) if @heading
        text(foot) if @large
        filled = 1 - (pdf.cursor / pdf.bounds.height)
        numbers = @large ? "<page> / <total>" : "#{clean(foot)}   <page> / <total>"
        pdf.number_pages(numbers, at: [pdf.bounds.left, -18], size: @large ? 14 : 8, color: SOFT)
        pages = pdf.page_count
        Made[bytes: pdf.render, pages: pages, filled: filled]
      end

      private

      def drawn(svg, top)
        pdf.svg(styled(svg), at: [0, top], width: @look.picture, enable_web_requests: false)
      end

      # in our own font, which goes along with the paper
      def styled(svg)
        there = svg.scan(/class="([^"]*)"/).flat_map { |(names)| names.split }.to_set
        rules =
          RULES.filter_map { |classes, text| text if classes.all? { |one| there.include?(one) } }
        svg.sub(
          /(<svg[^>]*>)/,
          "\\1<style>text { font-family: DejaVu; } #{rules.join("\n")}</style>"
        )
      end

      def card_width = (pdf.margin_box.width - GAP) / 2
      def words_width = card_width - @look.picture - BESIDE

      def card_height(card)
        words = pdf.height_of_formatted(said_on(card), width: words_width)
        [words, @look.picture].max + 12 + @look.air
      end

      def said_on((number, _, strong, more))
        [
          { text: "#{number}  #{clean(strong).chomp(".")}. ", styles: [:bold] },
          { text: clean(more) }
        ].map { |one| { size: text_size, color: INK, **one } }
      end

      def card(card, at, height)
        pdf.bounding_box(at, width: card_width, height: height) do
          pdf.stroke_color(LINE)
          pdf.line_width(0.5)
          pdf.stroke_horizontal_line(0, card_width, at: height - 2)
          pdf.fill_color("F7F4EE")
          pdf.fill_rounded_rectangle([0, height - 6], @look.picture, @look.picture, 4)
          pdf.fill_color(INK)
          drawn(card[1], height - 6) unless @look.empty
          pdf.formatted_text_box(
            said_on(card),
            at: [@look.picture + BESIDE, height - 6],
            width: words_width,
            height: height
          )
        end
      end

      # a new page where so much (points) does not fit on this one, with the heading that waits
      def room(height)
        above = @heading ? (@large ? 4 : 8) + (heading_size * 1.4) + 2 : 0
        if pdf.cursor < [height + above, @heading ? 60 : 0].max && pdf.y < pdf.bounds.absolute_top
          pdf.start_new_page
        end
        return unless @heading

        words = @heading
        @heading = nil
        pdf.move_down @large ? 4 : 8
        pdf.text(words, size: heading_size, style: :bold, color: INK)
        pdf.move_down 2
      end

      def heading_size = @large ? 16 : 11.5

      # an item of a list as formatted text
      def listed(item, lead)
        strong, more = item.is_a?(Array) ? item : [nil, item]
        parts = [{ text: "#{lead} " }]
        parts << { text: "#{clean(strong).chomp(".")}. ", styles: [:bold] } if strong
        parts << { text: clean(more) }
        parts.map { |one| { size: text_size, color: INK, **one } }
      end

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
