# frozen_string_literal: true

module Handrail
  module Store
    # How somebody likes to work at the couch: each is off until it is switched on, and changes nothing of
    # what is kept or asked.
    #
    #   Ways.on?(account, "aloud")   # => false
    #   Ways.change(account, %w[large])
    module Ways
      # name => what it does
      ALL = {
        "one_go" =>
          "I put a device on in one go: the steps that follow are ticked together, but never one on which " \
            "something hangs that can hurt for long, and no check.",
        "aloud" => "Readings and what comes next are said aloud.",
        "large" => "Large: figures and what comes next can be read from two metres."
      }.freeze

      class << self
        def on?(account, name) = account.own_ways.to_a.include?(name)

        # names - of those to be on; what is no way of working is left out
        def change(account, names)
          Store.db.transaction do
            account.update(own_ways: Store.json(ALL.keys & names))
            People.note(account, "ways", by: account.id)
          end
        end
      end
    end
  end
end
