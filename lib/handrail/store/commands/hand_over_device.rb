# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Hands the device over, closes the visit, takes the pieces from the shelf and plans the next
      # recheck. A recheck that gives out something new ends with it as well.
      #
      #   HandOverDevice.new("start_hours" => "2 to 3 hours", "signed_name" => "Wilma Quarrel",
      #                      "signature" => "M 1 2 L 3 4", "initials" => { "0" => "WQ", "1" => "WQ" },
      #                      "spares" => "one liner", "plan" => { "start" => "2", ... })
      #
      # signature - the drawn strokes as an SVG path, empty where the name stands for it or where it
      # is signed on paper; statements - the texts that were on the page, in order, initials - number
      # of a statement => initials. Once one is initialled all are to be; on paper none need be.
      # Refuses with every reason while something stands in the way.
      class HandOverDevice < VisitCommand
        input :start_hours, :text, most: 80, missing: t(:write_how_long_worn)
        input :signed_name, :text, most: 200, missing: t(:write_who_signs)
        input :signature, :line, most: 20_000
        input :on_paper, :flag
        input :initials, :map
        input :statements, :map
        input :spares, :line, most: 500
        input :plan, :map

        # params - see Command; asked - the statements as the clinic asks them now, from whoever serves
        # the page: what a page sends is held against them; nil where the caller is itself the source
        def initialize(params = {}, asked: nil)
          super(params)
          @asked = asked
        end

        def topic = "hand_over"
        def watch = [//]
        def rests_on(_visit) = [:hand_overs]

        def decide(visit)
          drawn!
          same_statements!
          pass!(visit)
          today = visit.clinic.today
          window =
            if visit.recheck?
              visit.wear.next_recheck(today: today)
            else
              Followup::Plan.next(visit.recheck_plan, handed_over: today)
            end
          Decision.closing(
            t(:handed_over, signed: signed),
            visit,
            window,
            rows: [[:hand_overs, { fitting_id: visit.fitting.id, **given }]]
          )
        end

        private

        # only what was drawn, or lies on paper, is a signature
        def signed
          return t(:signed_paper, signed_name: signed_name) if on_paper
          return t(:signed_by, signed_name: signed_name) if signature

          initialled = initials.values.any? { |marks| !marks.empty? }
          t(
            :received_not_signed,
            initialled: ("initialled, " if initialled),
            signed_name: signed_name
          )
        end

        PATH = /\AM [\d.]+ [\d.]+(?: [ML] [\d.]+ [\d.]+)*\z/
        # the least that a signature is drawn long, in the pad's own measure
        LEAST_DRAWN = 30
        private_constant :PATH, :LEAST_DRAWN

        def drawn!
          return unless signature

          unacceptable("signature", t(:signature_could_not_read)) unless signature.match?(PATH)
          return if length_drawn >= LEAST_DRAWN

          unacceptable("signature", t(:dot_no_signature_clear))
        end

        def length_drawn
          points =
            signature.scan(/([ML]) ([\d.]+) ([\d.]+)/).map { |kind, x, y| [kind, x.to_f, y.to_f] }
          points
            .each_cons(2)
            .sum do |(_, x, y), (kind, to_x, to_y)|
              kind == "L" ? Math.hypot(to_x - x, to_y - y) : 0
            end
        end

        # what is initialled is what the clinic asks now, not what a page says it asked
        def same_statements!
          return if @asked.nil? || @asked == in_order

          unacceptable("initials", t(:statements_have_changed_meanwhile))
        end

        def given
          {
            start_hours: start_hours,
            signed_name: signed_name,
            signature: on_paper ? nil : signature,
            signed_how: on_paper ? "paper" : (signature ? "drawn" : "name"),
            spares: spares,
            statements: Store.json(confirmed),
            plan: wear_plan && Store.json(wear_plan.to_h)
          }
        end

        def in_order = statements.sort_by { |number, _| number.to_i }.map(&:last)

        # [[statement, initials], ...]
        def confirmed
          pairs =
            in_order
              .first(20)
              .each_with_index
              .map { |text, i| [text, initials[i.to_s].to_s[0, 12]] }
          given, missing = pairs.partition { |_, marks| !marks.empty? }
          if given.any? && missing.any? && !on_paper
            unacceptable("initials", t(:initials_missing, missing: missing.first.first[0, 80]))
          end

          pairs
        end

        # what the fitter left or changed of the family's plan; nothing where there is none
        def wear_plan
          return if plan.empty? || plan.values.all?(&:empty?)

          @wear_plan ||= Followup::WearPlan.read(plan)
        rescue Followup::WearPlan::Unsound => e
          unacceptable("plan", e.message)
        end
      end
    end
  end
end
