# frozen_string_literal: true

module Handrail
  # What was read or computed once and can not have changed, kept from one request to the next: the
  # newest, up to a number.
  #
  #   memory = Memory.new(500)
  #   memory.remember_many(%w[a b]) { |missing| missing.to_h { |key| [key, read(key)] } }
  #   # => {"a" => .., "b" => ..}
  #
  # A key says everything that the value depends on; a value is frozen, as several requests share
  # it. What may change under the same key does not belong here.
  class Memory
    # most - how many values are kept; the oldest go first.
    def initialize(most)
      @most = most
      @kept = {}
      @lock = Mutex.new
    end

    # key => value. The block gets the keys that are not kept, and returns their values: key =>
    # value.
    def remember_many(keys)
      found = @lock.synchronize { @kept.slice(*keys) }
      missing = keys - found.keys
      return found if missing.empty?

      read = yield missing
      @lock.synchronize do
        @kept.merge!(read)
        @kept.shift while @kept.size > @most
      end
      found.merge(read)
    end

    def remember(key) = remember_many([key]) { { key => yield } }.fetch(key)
    def size = @kept.size
  end
end
