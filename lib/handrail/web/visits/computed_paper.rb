# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The computed sheets of a side as a paper (PDF): figures with where they come from, and the piece to its scale,
      # with a ruler that proves it, on A4 and on Letter alike.
      class ComputedPaper
        WORDS = { stop: "Stop: ", look_again: "Look again: " }.freeze
        # how the parts of a piece look, strokes in mm on the paper
        LOOKS = {
          "piece-edge" => "fill: none; stroke: #22303c; stroke-width: 0.5",
          "piece-hole" => "fill: none; stroke: #22303c; stroke-width: 0.4",
          "piece-fold" => "fill: none; stroke: #1f5148; stroke-width: 0.3; stroke-dasharray: 2 1.6",
          "piece-cut" => "fill: none; stroke: #a63d2f; stroke-width: 0.6; stroke-dasharray: 1 1",
          "piece-dim" => "fill: none; stroke: #5b6772; stroke-width: 0.25",
          "piece-limb" => "fill: none; stroke: #b9b0a0; stroke-width: 0.4",
          "piece-strip" => "fill: none; stroke: #1f5148; stroke-width: 1.2",
          "piece-strap" => "fill: none; stroke: #1f5148; stroke-width: 1",
          "piece-cuff" => "fill: none; stroke: #1f5148; stroke-width: 0.5",
          "piece-mark" => "fill: #f2c230; stroke: #22303c; stroke-width: 0.3",
          "piece-end" => "fill: #f2c230; stroke: #22303c; stroke-width: 0.3",
          "piece-text" => "fill: #22303c"
        }.freeze
        private_constant :WORDS, :LOOKS

        # page - a SizeStage::Page; head - lines of the letterhead; size - A4 or LETTER
        def initialize(page, head, size:)
          @page = page
          @head = head
          @size = size
        end

        # Returns an Exchange::Paper::Made.
        def make
          Exchange::Paper.make(
            title: title,
            head: @head,
            foot: Wording.t("computed.foot"),
            at: written_at,
            size: @size
          ) do |paper|
            paper.text(whose, strong: true)
            sheets.each_value { |sheet| set(paper, sheet) }
            paper.text(Wording.t("computed.none")) if sheets.empty?
          end
        end

        private

        attr_reader :page

        def visit = page.visit
        def sheets = @sheets ||= visit.sizing.sheets(page.side)
        def title =
          [visit.title.sub(/\A\p{L}/, &:upcase), *(page.side if page.two_sides?)].join(", ")
        def written_at = visit.events.map { |entry| entry[:at] }.max || visit.fitting.at

        def whose
          Wording.t(
            "computed.whose",
            name: visit.patient.name,
            born: Quantity::Day.write(visit.patient.born_on),
            number: visit.patient.record_number,
            product: visit.product.full_name,
            prescriber: visit.prescription.prescriber,
            day: Quantity::Day.write(visit.prescription.prescribed_on)
          )
        end

        def set(paper, sheet)
          paper.heading(sheet.title)
          unless sheet.complete?
            return sheet.missing.each { |remark| paper.text(page.said(remark)) }
          end

          paper.text(sheet.size.sub(/\A\p{L}/, &:upcase), strong: true) if sheet.size
          if sheet.size.nil? && sheet.state == :stop
            paper.text(Wording.t("computed.stopped"), strong: true)
          end
          paper.table(page.lines_of(sheet), widths: [150, 90, 247])
          sheet.notes.each { |note| paper.text("#{WORDS[note.state]}#{page.said(note.remark)}") }
          draw(paper, sheet) if sheet.piece
        end

        def draw(paper, sheet)
          piece = Drawings::Piece.new(sheet.piece, label: sheet.title)
          paper.at_scale(
            piece.to_s,
            piece.width_on_paper,
            style: style(piece.scale),
            height_mm: piece.height_on_paper
          )
        end

        # strokes are as wide on the paper whatever the scale
        def style(scale)
          LOOKS
            .map do |name, look|
              wide =
                look.gsub(/(?<=stroke-width: |stroke-dasharray: )[\d. ]+/) do |lengths|
                  lengths.split.map { |mm| (mm.to_f * scale).round(3) }.join(" ")
                end
              ".#{name} { #{wide} }"
            end
            .join(" ")
        end
      end
    end
  end
end
