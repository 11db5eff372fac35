# frozen_string_literal: true

require "digest"

module Handrail
  module Store
    # What has changed since a running fitting was pinned: the family's file, the knowledge beside it,
    # the methods, the product's options, the chart. It is offered once; taking it or leaving it is an
    # entry (Commands::TakeProtocol).
    #
    # current - the Visit::Pin that would be taken; changes - Families::Difference::Lines; digest -
    # of what is offered.
    Offer =
      Value.new(:current, :changes, :digest) do
        # The offer for a visit, or nil where nothing changed, where it was left already, or where the
        # visit is closed.
        def self.of(visit)
          return if visit.closed?

          current = Pin.current(visit.clinic, visit.fitting, row: visit.source.product_now)
          before, now = [visit.pin, current].map { |pin| current_key(pin) }
          return if before == now

          changes = OfferChanges.kept([before, now]) { OfferChanges.between(visit.pin, current) }
          return if changes.empty?

          digest = Digest::SHA256.hexdigest(now)[0, 32]
          self[current: current, changes: changes, digest: digest] unless visit.pin.offer == digest
        end

        def self.current_key(current)
          [
            current.family.digest,
            current.edition.digest,
            current.methods.sort.inspect,
            current.product.options.sort.inspect,
            current.revision&.id
          ].join("|")
        end

        # What changed, in a word each: "protocol", "knowledge", "method", "product", "chart".
        def names = changes.map(&:what).uniq
      end

    # The differences between two pins, as lines for the screen.
    module OfferChanges
      # what - "protocol", "knowledge", "method", "product" or "chart"; path - where; before, after - texts, nil where
      # there was nothing.
      Line = Value.new(:what, :path, :before, :after)

      KEPT = Memory.new(500)
      private_constant :KEPT

      class << self
        # The changes of two pins that were found before; what changed is the same at every page of every fitting that
        # is pinned so. key - of both
        def kept(key, &) = KEPT.remember(key, &)

        def between(pinned, current)
          protocol(pinned, current) + knowledge(pinned, current) + methods(pinned, current) +
            options(pinned, current) + chart(pinned, current)
        end

        private

        def protocol(pinned, current)
          return [] if pinned.family.digest == current.family.digest

          Families::Difference
            .between(pinned.family.to_h, current.family.to_h)
            .map do |path, before, after|
              Line[what: "protocol", path: path, before: before, after: after]
            end
        end

        def knowledge(pinned, current)
          return [] if pinned.edition.digest == current.edition.digest

          before, after = [pinned, current].map { |pin| pin.edition.of(current.family) }
          Families::Difference
            .between(before, after)
            .map { |path, was, is| Line[what: "knowledge", path: path, before: was, after: is] }
        end

        # a method that is computed by other code than was pinned
        def methods(pinned, current)
          return [] if pinned.methods == current.methods

          current.methods.keys.filter_map do |name|
            next if pinned.method_of(name) == current.method_of(name)

            Line[
              what: "method",
              path: name.tr("_", " "),
              before: pinned.methods[name]&.to_s,
              after: current.methods[name].to_s
            ]
          end
        end

        def options(pinned, current)
          before, after = [pinned, current].map { |pin| pin.family.config({}, pin.product.options) }
          (before.keys | after.keys)
            .reject { |key| before[key] == after[key] }
            .map do |key|
              label = current.family.option(key)&.label || key
              Line[
                what: "product",
                path: label,
                before: printed(pinned, key, before),
                after: printed(current, key, after)
              ]
            end
        end

        def printed(pin, key, values) = values[key] && pin.family.option(key)&.print(values[key])

        def chart(pinned, current)
          return [] if pinned.revision&.id == current.revision&.id

          before, after =
            [pinned, current].map { |pin| pin.revision && Quantity::Day.write(pin.revision.dated) }
          [Line[what: "chart", path: "size chart of", before: before, after: after]]
        end
      end
    end
  end
end
