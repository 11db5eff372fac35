# frozen_string_literal: true

module Handrail
  class Effort
    # Of a Walk: shown, handed over, and looked at again.
    module FollowUp
      private

      def teach
        primary
        hands.wait_for("#teach")
        hands.write { hands.press("[data-all-unaided]") }
        primary
        hands.wait_for("#hand")
      end

      def hand_over
        hands.write { nil }
        hands.go_on("[form=hand].is-primary")
        book
      end

      def recheck
        later = visit.visits.last
        find(later)
        cautions
        hands.wait_for("#bench[data-stage=recheck]")
        visit.sides.each_with_index do |side, i|
          hands.go_on(".bar a.is-primary") if i.positive?
          look_again(side)
        end
        hands.decide
        hands.go_on(".bar button.is-primary")
        book
      end

      # from the search to the recheck, as somebody does who has the card in hand
      def find(later)
        number = visit.patient.record_number
        hands.key("/")
        hands.text(number)
        hands.wait_for("#found [data-asked='#{number}']")
        hands.key(:Enter)
        hands.wait_for(".doors a.button[href^='/visits/#{later.id}/']")
        hands.go_on
        hands.wait_for("#bench")
        hands.go_on unless hands.there?("#ask")
      end

      # the first of the times that are offered
      def book
        hands.wait_for(".next-visit")
        return unless hands.there?(".next-visit .openings button")

        hands.write { hands.tap(".next-visit .openings button") }
      end

      def look_again(side)
        while visit.unread.any? { |item| item.side.nil? || item.side == side || visit.sides.one? }
          hands.asked("#take")
          read(hands.js("return document.querySelector('#take [name=at]').value"))
        end
        checks_of(side)
        visit
          .asks_open
          .select { |_, own| own.nil? || own == side }
          .map(&:first)
          .each do |ask|
            hands.asked("form.ask-one.is-asked:has([value='#{ask.key}'])")
            hands.write { hands.key("1") }
          end
      end
    end
  end
end
