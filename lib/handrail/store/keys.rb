# frozen_string_literal: true

module Handrail
  module Store
    # The keys that someone may choose for themselves. Enter, Space, / and ? stay as they are. What
    # a foot pedal sends may be a key with a name, see PEDALS; the others are letters.
    module Keys
      # action => [key that it has of itself, what it does]
      ALL = {
        "unit" => ["u", "the other unit"],
        "side" => ["s", "the other side"],
        "again" => ["r", "read this site again"],
        "strike" => ["x", "strike out the last reading"],
        "problem" => ["p", "name a problem"],
        "yes" => ["y", "yes to the check"],
        "no" => ["n", "no to the check; new patient, on the board"],
        "meant" => ["w", "it was what is offered, for a reading in question"],
        "pedal" => ["PageDown", "pedal: on; at a check held down is yes, twice is no"],
        "back" => ["b", "back: the site before, or the stage before"],
        "say" => ["h", "say again what is asked"],
        "together" => ["g", "the steps that follow in one go"],
        "down" => ["j", "down the board"],
        "up" => ["k", "up the board"]
      }.freeze
      ONE = /\A[a-z]\z/
      # what a foot pedal with several switches may stand for
      BY_FOOT = %w[pedal yes no again back say together].freeze
      # what foot pedals send, beside letters
      PEDALS = %w[PageDown PageUp ArrowRight ArrowLeft Home End] + (1..12).map { |n| "F#{n}" }

      class << self
        # action => key of an account, with those that were never changed.
        # A key that somebody chose before there was another action for it stays theirs.
        def of(account)
          own = account.own_keys.to_h.slice(*ALL.keys)
          ALL
            .to_h { |action, (key, _)| [action, own[action] || (own.value?(key) ? nil : key)] }
            .compact
        end

        # The keys of a form; what was left empty is the key it has of itself.
        def read(form)
          ALL.to_h { |action, (own, _)| [action, typed(action, form[action].to_s.strip) || own] }
        end

        # action => words
        def faults(keys)
          keys
            .to_h do |action, key|
              twin = keys.find { |other, its| other != action && its == key }&.first
              [
                action,
                (
                  if !allowed?(action, key)
                    no_key(action)
                  elsif twin
                    "“#{key}” is also for: #{ALL.fetch(twin).last}."
                  end
                )
              ]
            end
            .compact
        end

        private

        # what was typed, as it is kept; nil for nothing
        def typed(action, text)
          return if text.empty?
          return text.downcase unless BY_FOOT.include?(action)

          PEDALS.find { |name| name.casecmp?(text) } || text.downcase
        end

        def allowed?(action, key) =
          key.match?(ONE) || (BY_FOOT.include?(action) && PEDALS.include?(key))

        def no_key(action)
          return "Choose one letter; figures begin a reading." unless BY_FOOT.include?(action)

          "Choose a letter, or one of #{PEDALS.first(6).join(", ")}, F1 to F12."
        end
      end
    end
  end
end
