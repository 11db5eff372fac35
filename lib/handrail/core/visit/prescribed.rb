# frozen_string_literal: true

require "date"

module Handrail
  class Visit
    # The order as it stands at a visit: as it was written, with what was put right up to then.
    #
    #   Prescribed.of(written, [{ corrected: { "side" => "right" } }]).side # => "right"
    #
    # id, family and at are those of the order as it was written, which is never changed.
    Prescribed =
      Value.new(:id, :family, :side, :fields, :prescriber, :prescribed_on, :at) do
        # written - the order's row; corrections - rows, the oldest first. A field that was emptied is gone.
        def self.of(written, corrections)
          return written if corrections.empty?

          told = corrections.map { |row| row[:corrected] }
          fields = told.filter_map { |one| one["fields"] }.reduce(written.fields.to_h, :merge)
          last = told.reduce({}, :merge)
          self[
            id: written.id,
            family: written.family,
            side: last.fetch("side", written.side),
            fields: fields.reject { |_, text| text.to_s.empty? },
            prescriber: last.fetch("prescriber", written.prescriber),
            prescribed_on:
              last["prescribed_on"]&.then { |day| Date.iso8601(day) } || written.prescribed_on,
            at: written.at
          ]
        end
      end
  end
end
