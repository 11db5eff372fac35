# frozen_string_literal: true

module Handrail
  # Charts, and what readings say on them.
  module Sizing
    # A closed band [min, max] of a size at one site. min, max - Rational mm, both ends belong to
    # it; unit - the chart's own unit, for printing; posture, tension - nil where the chart takes
    # any.
    Band =
      Value.new(:site, :min, :max, :unit, :posture, :tension) do
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
    Demand =
      Value.new(:site, :posture, :tension) do
        def met_by?(reading)
          reading.site == site && (posture.nil? || reading.posture == posture) &&
            (tension.nil? || reading.tension == tension)
        end

        def how = [posture, tension].compact.join(", ")
        def to_s = how.empty? ? site : "#{site} (#{how})"
      end

    # One size of one part, with its bands in chart order. position counts from 0, the smallest.
    Size =
      Value.new(:name, :position, :bands) do
        def hold?(values) = bands.all? { |band| band.hold?(values[band.demand].mm) }
        def to_s = name
      end

    # A site as it is called in a sentence: its name where the site is known, else the chart's own
    # word.
    def self.site_name(key) = Anatomy::Vocabulary.default.said(key) || key

    # What was computed for a device that is made to measure or cut to fit: lengths with their
    # reason, what to watch, and the piece to scale.
    #
    # state - :good, :look_again, :stop (not possible so) or :not_done (readings are missing); size
    # - what to order or cut, or nil lines - SheetLines; notes - SheetNotes; drawn - makes the Piece, or
    # nil; missing - Remarks on what is still to be read; count - of pieces, where the sheet counts
    # them (straps)
    Sheet =
      Value.new(:key, :title, :state, :size, :lines, :notes, :piece, :missing, :count, :worn) do
        def complete? = missing.empty?
      end

    # Where a computed piece lies on the wearer, for the figure. below, above - mm from the level of
    # the site that the family names as its anchor, nil where the piece's heights are the family's
    # own; opening - [mm to the wearer's left of the middle of the front, along the skin; mm above
    # the anchor; diameter in mm], or nil; seams - mm to the wearer's left along the skin at which
    # parts of it meet.
    Worn = Value.new(:below, :above, :opening, :seams)

    # Something found while a size is looked for, as data. code - what, under which it is worded;
    # figures - name => what it is about, such as JSON can keep: a length or a name as a String,
    # degrees as a Float, a count as an Integer, or lists of these.
    Remark = Value.new(:code, :figures)

    # key; value - figures as they are printed, or a Symbol that is worded; about - the Remark that
    # it is worded by: what it is called, and where it comes from.
    SheetLine = Value.new(:key, :value, :about)
    # key; state - nil, :good, :look_again or :stop; remark - a Remark
    SheetNote = Value.new(:key, :state, :remark)

    # A piece drawn to scale, in mm, y down. shapes - Arrays: [:outline, points], [:fold, x1, y1,
    # x2, y2], [:cut, ...], [:hole, x, y, diameter], [:dim, x1, y1, x2, y2, text], [:label, x, y,
    # text], [:mark, x, y, text], [:ring, x, y, diameter], [:arc, x, y, radius, from, to] (degrees
    # from the top, clockwise).
    Piece = Value.new(:width, :height, :shapes)

    # What makes the sheet of the name that a family's `derive` gives, as its method in force.
    def self.sheet_maker(key)
      raise KeyError, "no sheet is called #{key}" unless SHEETS.include?(key)

      Methods.made_by(key, Methods::VERSIONS.fetch(key))
    end

    SHEETS = %w[
      support_belt
      panel_arms
      stays
      kafo_levels
      heel_wedge
      wrap_straps
      strap_ends
      strut
      residual_pressure
    ].freeze
  end
end
