# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # What withdrawing an order and moving it have in common: pieces that were written down or held come back, the
      # visit is called off.
      module TakesBack
        def self.included(command)
          command.input :why,
                        :text,
                        least: 5,
                        most: 300,
                        missing: Wording.t("commands.say_why_it_is_taken_back"),
                        short: Wording.t("commands.say_why_taken_back")
        end

        def topic = "order"
        # whatever somebody else wrote meanwhile is looked at first
        def watch = [//]
        def opens? = false
        # a closed visit is refused by what it was closed for
        def correction? = true

        private

        def taken_back(visit, said, as, effects: [])
          held =
            visit.source.stock.select { |row| row[:state] == "reserved" }.map { |row| row[:id] }
          Decision.of(
            said,
            updates:
              written_down(visit).map do |id|
                [
                  :issued_devices,
                  id,
                  { ended_at: Store.now, ended_why: "returned", ended_by: :account }
                ]
              end,
            effects: [
              Effects::GiveBack[ids: held],
              Effects::TakeBackOrder[why: why, as: as],
              *effects
            ]
          )
        end

        def written_down(visit) =
          visit
            .rows_of_fitting(:issued_devices)
            .reject { |row| row[:ended_at] }
            .map { |row| row[:id] }
      end
    end
  end
end
