# frozen_string_literal: true

module Handrail
  # Charts, and what readings say on them.
  module Sizing
    # A closed band [min, max] of a size at one site. min, max - Rational mm, both ends belong to it; unit - the
    # chart's own unit, for printing; posture, tension - nil where the chart takes any.
    Band = Value.new(:site, :min, :max, :unit, :posture, :tension) do
      def hold?(mm) = mm.between?(min, max)
      def middle = (min + max) / 2

      # How far outside the band a value lies, in mm; 0 inside.
      def outside(mm)
        return min - mm if mm < min

        mm > max ? mm - max : 0
      end

      # Distance to the nearest edge in mm, negative outside.
      def margin(mm) = hold?(mm) ? [mm - min, max - mm].min : -outside(mm)

      # What the band asks of a reading, as the key under which repeats are kept.
      def demand = Demand[site: site, posture: posture, tension: tension]

      def to_s
        low, high = [min, max].map { |mm| Quantity::Length.mm(mm).plain(unit) }
        "#{low.delete_suffix(" #{unit}")} to #{high}"
      end
    end

    # A reading that a chart needs: this site, in this posture and tension (nil: any).
    Demand = Value.new(:site, :posture, :tension) do
      def met_by?(reading)
        reading.site == site && (posture.nil? || reading.posture == posture) && (tension.nil? || reading.tension == tension)
      end

      def how = [posture, tension].compact.join(", ")
      def to_s = how.empty? ? site : "#{site} (#{how})"
    end

    # One size of one part, with its bands in chart order. position counts from 0, the smallest.
    Size = Value.new(:name, :position, :bands) do
      def hold?(values) = bands.all? { |band| band.hold?(values[band.demand].mm) }
      def to_s = name
    end

    # A site as it is called in a sentence: its name where the site is known, else the chart's own word.
    def self.site_name(key) = Anatomy::Vocabulary.default[key]&.said || key
  end
end
