# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The wearer's sheet as a paper in large type: what SheetPage says, set as PDF.
      class SheetPaper
        def initialize(page, head, size: "A4")
          @page = page
          @head = head
          @size = size
        end

        # widths of a picture and the air below it (points) that are tried until no page is left nearly empty
        LOOKS = [[92, 0], [76, 0], [60, 0], [92, 12], [92, 24], [92, 40], [92, 60]].freeze
        # the least of the last page that is to be used, and the most pages
        FILLED = 1 / 3.0
        MOST = 4
        private_constant :LOOKS, :FILLED, :MOST

        # Returns an Exchange::Paper::Made.
        def make
          looks = LOOKS.map { |picture, air| Exchange::Paper::Look[picture: picture, air: air] }
          made(looks.find { |look| whole?(made(look.with(empty: true))) } || looks.first)
        end

        private

        attr_reader :page

        def whole?(made) = made.pages <= MOST && (made.pages == 1 || made.filled >= FILLED)

        def made(look)
          Exchange::Paper.make(
            title: page.title,
            head: @head,
            foot: page.foot,
            at: page.visit.hand_over ? page.visit.hand_over[:at] : Store.now,
            size: @size,
            large: true,
            look: look
          ) do |paper|
            who(paper)
            stop(paper)
            wearing(paper)
            on_and_off(paper)
            keeping(paper)
          end
        end

        def visit = page.visit

        def who(paper)
          size = page.size && "#{page.t("size")} #{page.size}"
          born = "#{page.t("born")} #{page.date(visit.patient.born_on)}"
          paper.text([visit.patient.name, born, size, *page.devices].compact.join(", "))
          paper.text(page.t("draft"), strong: true) if page.draft?
        end

        def stop(paper)
          if page.way_out.any?
            paper.heading(page.t("way_out"))
            paper.list(page.way_out, ordered: true)
          end
          paper.heading(page.t("calls"))
          paper.list(page.calls)
          paper.text("#{@head.join(", ")}. #{page.out_of_hours}", strong: true)
        end

        def wearing(paper)
          paper.heading(page.t("wearing"))
          page.plans.each { |plan| paper.text(plan.start, strong: true) }
          paper.list(page.rules)
          paper.list(page.stages)
          break_in(paper)
        end

        def break_in(paper)
          plans = page.plans.reject { |plan| plan.break_in.empty? }
          return if plans.empty?

          paper.heading(page.t("break_in"))
          plans.each do |plan|
            paper.text(page.t("sides.#{plan.side}").capitalize, strong: true) if plan.side
            paper.table(plan.break_in_said)
          end
          paper.text(page.t("break_in_skin"))
        end

        def on_and_off(paper)
          paper.heading(page.t("skin"))
          paper.text(page.skin)
          paper.heading(page.t("putting_on"))
          paper.cards(cards(page.putting_on))
          paper.text(page.look) if page.look
          return if page.taking_off.empty?

          paper.heading(page.t("taking_off"))
          paper.cards(cards(page.taking_off))
        end

        def cards(steps) = steps.map { |step| [step.number, step.picture, step.title, step.words] }

        def keeping(paper)
          marks(paper)
          paper.heading(page.t("care"))
          paper.list([*page.cares, *page.parts.map { |pair| pair.join(": ") }, page.t("heat")])
          if (window = visit.wear.next_recheck)
            paper.heading(page.t("coming_back"))
            paper.text(
              page.t("between", from: page.date(window.from), to: page.date(window.to)),
              strong: true
            )
            paper.text(@head.join(", "))
          end
          return if page.warranty.empty?

          paper.heading(page.t("warranty"))
          paper.text(page.warranty)
        end

        def marks(paper)
          return if page.marks.empty?

          paper.heading(page.t("marks"))
          paper.text(page.marks_say)
          page.marks.each do |side, lines|
            paper.text(side, strong: true) if side
            paper.list(lines.map { |pair| pair.join(": ") })
          end
          page.pictures.each do |side, picture|
            paper.text(page.yours(side), strong: true) if side
            paper.drawing(picture)
          end
        end
      end
    end
  end
end
