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

    # most - how many values are kept; the oldest go first. The block, where there is one, says of a key whose state it
    # tells: of each thing only the newest state is kept, and an older one goes at once.
    #
    #   Memory.new(500) { |fitting, _version| fitting }
    def initialize(most, &whose)
      @most = most
      @whose = whose
      @newest = {}
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
      @lock.synchronize { keep(read) }
      found.merge(read)
    end

    def remember(key)
      found = @lock.synchronize { @kept.fetch(key, MISSING) }
      found.equal?(MISSING) ? remember_many([key]) { { key => yield } }.fetch(key) : found
    end

    MISSING = Object.new.freeze
    private_constant :MISSING

    def size = @kept.size

    private

    def keep(read)
      read.each_key { |key| replace(key) } if @whose
      @kept.merge!(read)
      forget(@kept.first.first) while @kept.size > @most
    end

    def replace(key)
      whose = @whose.call(*key)
      older = @newest[whose]
      @kept.delete(older) unless older == key
      @newest[whose] = key
    end

    def forget(key)
      @kept.delete(key)
      return unless @whose

      whose = @whose.call(*key)
      @newest.delete(whose) if @newest[whose] == key
    end
  end
end
