# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A senior's word: lets exactly the blocks pass that stand in the way of handing over (or of
      # closing a recheck), each as it stands now. What is new or changes afterwards blocks again;
      # the reason is shown for ever.
      #
      #   LetPass.new("reason" => "carer comes Friday")
      #
      # Refuses from anyone but a senior, before size and device are there, and under a stop sign.
      class LetPass < VisitCommand
        role :senior
        input :reason,
              :text,
              least: 5,
              most: 500,
              missing: "Write the reason; it is shown for ever.",
              short: "Write the reason in a few words; it is shown for ever."

        def topic = "override"
        def watch = [//]

        def decide(visit)
          firm = visit.gates.firm
          raise Refused, firm if firm.any?

          blocks = visit.gates.passable
          if blocks.empty?
            unacceptable("reason", "Nothing stands in the way; there is nothing to let pass.")
          end
          Decision.insert(
            "senior's word: #{reason}",
            overrides: {
              reason: reason,
              blocks: Store.json(blocks.map { |block| block.name.merge(words(visit, block)) })
            }
          )
        end

        private

        # what the protocol calls it, so that it reads the same for ever
        def words(visit, block)
          item = visit.family.check(block.subject) || visit.family.step(block.subject)
          { "words" => item ? visit.fill(item.title) : block.figures.to_h[:label] }
        end
      end
    end
  end
end
