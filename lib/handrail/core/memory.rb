# frozen_string_literal: true

module Handrail
  # What was read or computed once and can not have changed, kept from one request to the next: the
  # newest, up to a number.
  #
  #   memory = Memory.new(500)
  #   memory.remember_many(%w[a b]) { |missing| missing.to_h { |key| [key, read(key)] } }
  #   # => {"a" => .., "b" => ..}
  #
  # A key says everything that the value depends on. A value is frozen with all that it holds, as
  # several requests share it: what may change, under the same key or in itself, does not belong here.
  class Memory
    # The same object, frozen with all that it holds: what a constant, a class or a memory keeps from
    # one request to the next is made so.
    def self.freeze(object) = Ractor.make_shareable(object)

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

      read = Memory.freeze(yield(missing))
      @lock.synchronize do
        @kept.merge!(read)
        @kept.shift while @kept.size > @most
      end
      found.merge(read)
    end

    def remember(key)
      found = @lock.synchronize { @kept.fetch(key, MISSING) }
      found.equal?(MISSING) ? remember_many([key]) { { key => yield } }.fetch(key) : found
    end

    MISSING = Object.new.freeze
    private_constant :MISSING

    def size = @kept.size
  end
end
