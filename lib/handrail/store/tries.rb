# frozen_string_literal: true

module Handrail
  module Store
    # How often something was tried, by a key, for as long as it counts: in the database, so that
    # neither a restart nor a flood of other keys forgets it. Speaks as rack-attack asks its store.
    #
    #   tries = Tries.new
    #   tries.increment("account 5:ab12 192.0.2.1", 1, expires_in: 60) # => 1
    class Tries
      # keys are sums of short parts; longer ones are cut
      LONGEST = 200

      # Adds to a count and returns it; one that has ended begins anew. expires_in - seconds
      def increment(key, amount, expires_in:)
        Retention.sweep_at_times
        now = Store.now
        row = { key: key.to_s[0, LONGEST], count: amount, ends_at: now + expires_in }
        fresh = Sequel[:tries][:ends_at] > now
        Store.db[:tries]
          .returning(:count)
          .insert_conflict(
            target: :key,
            update: {
              count: Sequel.case({ fresh => Sequel[:tries][:count] + amount }, amount),
              ends_at: Sequel.case({ fresh => Sequel[:tries][:ends_at] }, row[:ends_at])
            }
          )
          .insert(row)
          .first[
          :count
        ]
      end

      # The count of a key, or nil.
      def read(key) = Retention.standing(:tries).where(key: key.to_s[0, LONGEST]).get(:count)

      # Sets a count.
      def write(key, count, expires_in:)
        delete(key)
        increment(key, count, expires_in: expires_in)
      end

      def delete(key) = Store.db[:tries].where(key: key.to_s[0, LONGEST]).delete

      # Forgets those whose key matches. pattern - a Regexp
      def delete_matched(pattern) = Store.db[:tries].where(key: pattern).delete
    end
  end
end
