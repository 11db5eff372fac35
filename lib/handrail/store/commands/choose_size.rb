# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Chooses a size for a side. What was advised, on which chart revision or sheet, and why, is
      # kept with the choice; a piece on the shelf is held.
      #
      #   ChooseSize.new("size" => "M", "side" => "left", "why" => "")
      #
      # Refuses before everything was read, a size that the chart does not have, and another size
      # than the one advised without a reason.
      class ChooseSize < VisitCommand
        input :size, :text, most: 120, missing: t(:choose_size)
        input :side, :key
        input :why, :line, most: 500

        def topic = "size:#{side}"
        def watch = [/\Areading/, /\Asize/, /\Atrial/, /\Apin\z/]
        def rests_on(visit) = [:size_choices, { side: side_of(visit, side) }]

        def decide(visit)
          pass!(visit)
          own = side_of(visit, side)
          advice = visit.sizing.advice(own) or unacceptable("size", t(:product_has_no_size))
          unless advice.names.include?(size)
            unacceptable(
              "size",
              t(:no_size_here_choose, size: size, names: advice.names.first(20).join(", "))
            )
          end

          different = why_different(advice)
          Decision.insert(
            said(visit, own, advice, different),
            effects: [Effects::HoldPiece[size: size, side: own]],
            size_choices: {
              **choice(visit, advice, own),
              side: own,
              why_different: different
            }
          )
        end

        private

        def said(visit, own, advice, different)
          chosen = with_side(visit, own, t(:size_chosen, size: size))
          if different
            t(:was_advised, chosen: chosen, advice: advice.size || "none", different: different)
          else
            chosen
          end
        end

        def why_different(advice)
          return if size == advice.size
          return why if why

          unacceptable(
            "why",
            t(
              :say_why_you_take,
              advice: advice.size ? t(:is_advised, many: advice.size) : t(:no_size_advised),
              size: size
            )
          )
        end

        def choice(visit, advice, own)
          by_sheet = visit.family.size_rule.by == "sheet"
          sheet = Store.json(sheet_kept(advice.sheet, visit.pin.methods)) if by_sheet
          {
            chart_revision_id: sheet ? nil : visit.revision.id,
            verdict: advice.verdict,
            advised: advice.size,
            chosen: size,
            parts: parts(visit, own),
            sheet: sheet,
            probability: advice.probability,
            margin_mm: advice.margin && Store.numeric(advice.margin),
            reason: Wording.grounds(advice),
            configuration: Store.json(configuration(visit, own))
          }
        end

        # the size of each part: of the readings where it is what they advise, else by its name
        def parts(visit, own)
          chart = visit.pin.chart or return
          match = visit.sizing.match(own)
          found =
            if match&.size == size
              match.parts.to_h { |part| [part.part.name, part.size.name] }
            else
              chart.split(size)
            end
          found && Store.json(found)
        end

        # the figures as they stood
        def sheet_kept(sheet, methods)
          {
            "key" => sheet.key,
            "title" => sheet.title,
            "notes" => sheet.notes.map { |note| Wording.remark(note.remark) },
            "lines" => sheet.lines.map { |line| Wording.sheet_line(line) },
            "method" => methods.fetch(sheet.key)
          }
        end

        def configuration(visit, own) =
          visit.configuration&.gives.to_h.merge(visit.config, "for" => own).compact
      end
    end
  end
end
