# frozen_string_literal: true

module Handrail
  module Store
    # What the wearer confirms at a hand-over, each with their initials: that they received it, that
    # it was shown to them, what the clinic adds, and what the records say of a like device.
    module Statements
      # kept in every language that a sheet is written in; code => what it is about
      OWN = %w[received taught].freeze

      class << self
        # [[code, figures], ...] of a visit; the words stand in the wording. A clinic's own text has
        # the code "own".
        def of(visit)
          OWN.map { |code| [code, { device: visit.title }] } +
            visit.clinic.choices_made.statements.map { |text| ["own", { text: text }] } +
            [like_device(visit)].compact
        end

        private

        # whether there was a like device, as the clinic asks and as the records say
        def like_device(visit)
          years = visit.clinic.choices_made.like_years
          return if years.zero?

          before = Visits.like_devices(visit, years).first
          figures = { device: visit.family.name.downcase, count: years }
          return "like_none", figures unless before

          ["like_there", { **figures, on: before.on, side: before.side }]
        end
      end
    end
  end
end
