# frozen_string_literal: true

module Handrail
  module Store
    # The single keys that someone may choose for themselves. Enter, Space, / and ? stay as they
    # are.
    module Keys
      # action => [key that it has of itself, what it does]
      ALL = { "unit" => ["u", "the other unit"], "side" => ["s", "the other side"],
              "again" => ["r", "read this site again"], "strike" => ["x", "strike out the last reading"],
              "problem" => ["p", "name a problem"], "yes" => ["y", "yes to the check"],
              "no" => ["n", "no to the check; new patient, on the board"],
              "meant" => ["w", "it was what is offered, for a reading in question"],
              "down" => ["j", "down the board"], "up" => ["k", "up the board"] }.freeze
      ONE = /\A[a-z]\z/

      class << self
        # action => key of an account, with those that were never changed.
        def of(account) = ALL.transform_values(&:first).merge(account.own_keys.to_h.slice(*ALL.keys))

        # The keys of a form; what was left empty is the key it has of itself.
        def read(form)
          ALL.to_h do |action, (own, _)|
            typed = form[action].to_s.strip.downcase
            [action, typed.empty? ? own : typed]
          end
        end

        # action => words
        def faults(keys)
          keys.to_h do |action, key|
            twin = keys.find { |other, its| other != action && its == key }&.first
            [action, (if !key.match?(ONE) then "Choose one letter; figures begin a reading."
                      elsif twin then "“#{key}” is also for: #{ALL.fetch(twin).last}."
                      end)]
          end.compact
        end
      end
    end
  end
end
