# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # A senior's word: lets exactly the blocks pass that stand in the way of handing over (or of
      # closing a recheck), each as it stands now. What is new or changes afterwards blocks again;
      # the reason is shown for ever.
      #
      #   LetPass.new("reason" => "carer comes Friday")
      #   LetPass.new("reason" => "carer comes Friday", "only" => ["check_failed:no_pinch"])
      #
      # Refuses from anyone but a senior, and from one whose word the clinic does not let count
      # there, before size and device are there, and under a stop sign.
      class LetPass < VisitCommand
        role :senior
        input :reason,
              :text,
              least: 5,
              most: 500,
              missing: t(:write_reason_shown_ever),
              short: t(:write_reason_few_words)

        # Fitting::Block#keys of the blocks that are meant, all that stand where there is none
        input :only, :keys

        def authorize!(account)
          super
          @account = account
        end

        def topic = "override"
        def watch = [//]
        def rests_on(_visit) = [:overrides]

        def decide(visit)
          pass!(visit)
          blocks = visit.gates.passable
          blocks = blocks.select { |block| only.include?(block.key) } if only.any?
          unacceptable("reason", t(:nothing_stands_way_nothing)) if blocks.empty?
          hold_to_names(visit, blocks)
          Decision.insert(
            t(:seniors_word, reason: reason),
            overrides: {
              reason: reason,
              blocks: Store.json(blocks.map { |block| block.name.merge(words(visit, block)) })
            }
          )
        end

        private

        # a clinic may have settled whose word counts for which stage
        def hold_to_names(visit, blocks)
          chosen = visit.clinic.choices_made
          stage = blocks.map(&:stage).uniq.find { |one| !chosen.word_of?(@account, one) } or return
          raise NotAllowed, t(:clinic_has_named_seniors, stage: stage)
        end

        # what the protocol calls it, so that it reads the same for ever
        def words(visit, block)
          item = visit.family.check(block.subject) || visit.family.step(block.subject)
          { "words" => item ? visit.fill(item.title) : block.figures.to_h[:label] }
        end
      end
    end
  end
end
