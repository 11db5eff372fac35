# frozen_string_literal: true

module Handrail
  module Store
    module Entries
      # Show me: the wearer, or a named carer, takes it off and puts it on.
      module Teaching
        # shown, mistakes - keys of the tasks seen and of the mistakes that were left at the end.
        def self.show(ledger, who:, unaided:, shown: [], mistakes: [], note: nil)
          who = Entries.said(who, "who", "Write who put it on: the wearer, or the carer's name.")
          ledger.write("teach") do |owner, record|
            Entries.pass(record, :teach) unless record.recheck?
            shown &= record.family.tasks.map(&:key)
            mistakes &= record.family.mistakes.map(&:key)
            Store.db[:teach_backs].insert(**owner, who: who, unaided: unaided, shown: Store.json(shown), mistakes: Store.json(mistakes),
                                                   note: Entries.optional(note))
            "#{who} put it on #{unaided ? 'unaided' : 'with help'}, #{shown.size} of #{record.family.tasks.size} tasks" \
              "#{", #{mistakes.size} #{mistakes.one? ? 'mistake' : 'mistakes'} left" if mistakes.any?}"
          end
        end
      end
    end
  end
end
