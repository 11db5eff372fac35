# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The size that the readings give, and the device that is taken for it.
      module SizeStage
        # What the size page prints, for one side.
        class Page < StagePage
          STAGE = :size

          include WithVerdict

          def blocks = @blocks ||= worded(visit.gates.before(:choose_size))
          def blocked? = blocks.any?
          def advice = @advice ||= visit.sizing.advice(side)
          def choice = visit.sizing.choice(side)
          def device = visit.sizing.device(side)
          def rule = visit.family.size_rule
          def sheet = visit.sizing.sheets(side)[rule.sheet]
          def sheets = visit.sizing.sheets(side).values.select(&:complete?)

          # Whether one of them is a piece that is drawn.
          def drawn? = sheets.any?(&:piece)
          def trial? = rule.by == "trial" && advice && writable?

          # A piece that is much wider than high is drawn above the work, across the page.
          def wide? = sheet&.piece ? sheet.piece.width > 2 * sheet.piece.height : false

          def drawing
            return Figures.new(visit, side: side).plain unless sheet&.piece

            Drawings::Piece.new(sheet.piece, label: sheet.title, width: wide? ? 790 : 380).to_s
          end

          def heading
            title =
              (
                if rule.by == "sheet"
                  visit.sizing.sheets(side)[rule.sheet].title
                else
                  Wording.t("web.why_size")
                end
              )
            two_sides? ? "#{title}, #{side}" : title
          end

          # [label, value, where it comes from] of each line of a computed sheet.
          def lines_of(sheet)
            sheet.lines.map { |line| Wording.sheet_line(line) }
          end

          def said(remark) = Wording.remark(remark)

          # What the prescription demands or forbids: [[label, text], ...].
          def demands
            visit
              .family
              .fields
              .select(&:demand)
              .filter_map do |field|
                value = visit.prescription.fields[field.key]
                [field.label, field.print(value)] if value
              end
          end

          # The product's choices with their reasons: [[label, reason], ...].
          def reasons
            visit
              .family
              .options
              .select(&:choice?)
              .filter_map do |option|
                chosen = option.choice(visit.config[option.key])
                [chosen.label, chosen.says] if chosen&.says
              end
          end

          def choosable? =
            writable? && !blocked? && !advice.nil? && (advice.ready? || rule.by == "chart")
          def picked = typed("size") || choice&.fetch(:chosen) || advice&.size
          def serial = typed("serial") || fresh_device&.fetch(:serial)
          def lot =
            typed("lot") || fresh_device&.fetch(:lot) || visit.sizing.reserved(side)&.fetch(:lot)

          # Whether a bar code was typed that is of another piece.
          def labelled? =
            [typed("serial"), typed("lot")].any? { |text| Labels::ElementString.like?(text) }
          # The slip with which this side's device was sent for, or nil; and the one that is out in another size.
          def awaited = visit.fit.awaited(side)
          def other_awaited =
            visit.fit.slips_out.find do |row|
              row[:piece] && row[:side] == side && row[:size] != choice&.fetch(:chosen)
            end
          def arrived? = visit.fit.arrived?(side)
          # Whether a device can be sent for from here.
          def sendable? = !device_written? && !awaited && !other_awaited && takes?(:send_for_piece)

          # The next thing to do here: :choose, :device, :other_side, :fit, or nil where nothing can
          # be done.
          def next_thing
            return if blocked? || !writable? || (choice.nil? && !choosable?)
            return :choose if choice.nil? || visit.sizing.size_outdated?(side)
            return :waiting if awaited
            return :device unless device_written?

            other_side ? :other_side : :fit
          end

          # the device that is written down is the one for the size that is chosen
          def device_written? = visit.sizing.device_fits?(side)
          def other_side =
            visit.sides.find do |one|
              one != side && !(visit.sizing.choice(one) && visit.sizing.device_fits?(one))
            end

          private

          # the device of this size; another size's serial is not offered again
          def fresh_device = device_written? ? device : nil
        end

        def self.registered(app)
          app.get("/:id/size") do
            clinical!
            show(Page, visit!)
          end

          app.post("/:id/size") do
            enter(Page, Store::Commands::ChooseSize) { { "side" => text("side") } }
          end
          app.post("/:id/pieces") do
            enter(Page, Store::Commands::SendForPiece) { { "side" => text("side") } }
          end
          app.post("/:id/pieces/:slip/close") do
            enter(Page, Store::Commands::CloseJobSlip) { { "side" => text("side") } }
          end
          app.post("/:id/trials") do
            enter(Page, Store::Commands::TrySize) { { "side" => text("side") } }
          end

          app.post("/:id/device") do
            enter(Page, Store::Commands::IssueDevice) do |taken|
              left = taken.visit.sides.find { |side| !taken.visit.sizing.device_fits?(side) }
              left ? { "side" => left } : stage_path(id, :fit)
            end
          end

          # the computed sheets on paper, to scale
          app.get("/:id/computed") do
            clinical!
            visit = visit!
            page = Page.new(visit, account, params: params)
            erb :"visits/computed", layout: :print, locals: { page: page, visit: visit }
          end

          app.get("/:id/computed.pdf") do
            clinical!
            page = Page.new(visit!, account, params: params)
            pdf(ComputedPaper.new(page, head_lines, size: size_of_paper).make, "computed-#{id}")
          end
        end
      end
    end
  end
end
