# frozen_string_literal: true

module Handrail
  class Visit
    # The questions that a recheck asks the wearer, of each device of a pair or once.
    #
    #   visit.asks_open               # => [[Families::Field, "left"], ...]
    #   visit.answer("skin", "left")  # => the newest row, or nil
    module Asks
      # The newest answer to one of the recheck's questions at this visit: of a side, of any where none is
      # said; one that was written before sides were told apart is of both. nil where there is none.
      def answer(key, side = nil)
        rows(:recheck_answers).reverse.find do |answer|
          answer[:field] == key && (side.nil? || answer[:side].nil? || answer[:side] == side)
        end
      end

      # The recheck's questions that are still to be asked: [[Families::Field, side], ...]; side - nil for what is
      # asked once. What is kept for the record alone holds nothing back.
      def asks_open
        return [] unless recheck?

        asked =
          family.recheck_asks.select do |ask|
            ask.type == "choice" && !ask.record && ask.applies?(config)
          end
        asked
          .flat_map { |ask| (ask.once ? [nil] : sides).map { |side| [ask, side] } }
          .reject { |ask, side| answer(ask.key, side) }
      end
    end
  end
end
