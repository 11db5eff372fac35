# frozen_string_literal: true

module Handrail
  module Fitting
    # Where the electrodes of a stimulator cuff lie on one leg: outlines in mm from the notch and the
    # midline, as they are drawn on a sheet at their own size and laid on the leg.
    #
    #   sheet = Locator.of(family, config, { "upper_across" => 45r, ... }, side: "right")
    #   sheet.electrodes.first.x # => -45.0: outward on the right leg is to the viewer's left
    #
    # Seen from the front: x to the viewer's right, y downward, the notch at 0, 0.
    Locator =
      Value.new(:notch, :electrodes, :missing) do
        # family - with a `locator`; found - setting key => mm, exact; side - "left" or "right".
        def self.of(family, config, found, side:)
          raw = family.locator
          shape = Locator.shape(config[raw["size"]] || family.option(raw["size"]).default)
          placed, missing =
            raw["electrodes"].partition { |one| found[one["across"]] && found[one["down"]] }
          self[
            notch: raw["notch"],
            electrodes: placed.map { |one| Electrode.placed(one, found, shape, side) }.freeze,
            missing: missing.map { |one| one["label"] }.freeze
          ]
        end

        # "oval_40_64" => [:oval, 40, 64]; "round_32" => [:round, 32, 32]
        def self.shape(key)
          kind, width, height = key.to_s.split("_")
          [kind.to_sym, Integer(width), Integer(height || width)]
        end

        def complete? = missing.empty?

        # Whether two outlines touch: electrodes that touch carry the current past the nerve.
        def touching? = electrodes.combination(2).any? { |a, b| a.touches?(b) }

        # [left, top, right, bottom] in mm of all that is drawn, the notch among it.
        def frame
          boxes = [[0, 0, 0, 0], *electrodes.map(&:box)]
          [
            boxes.map { |b| b[0] }.min,
            boxes.map { |b| b[1] }.min,
            boxes.map { |b| b[2] }.max,
            boxes.map { |b| b[3] }.max
          ]
        end
      end

    # One electrode. x, y - its middle in mm; kind - :round, :oval or :square; width, height - mm;
    # pole - "plus" or "minus"; lead - where its lead leaves it, "up" or "down".
    Electrode =
      Value.new(:key, :label, :x, :y, :kind, :width, :height, :pole, :lead) do
        def self.placed(raw, found, (kind, width, height), side)
          outward = side == "right" ? -1 : 1
          self[
            key: raw["key"],
            label: raw["label"],
            x: outward * found[raw["across"]].to_f,
            y: found[raw["down"]].to_f,
            kind: kind,
            width: width,
            height: height,
            pole: raw["pole"],
            lead: raw["lead"]
          ]
        end

        def box = [x - (width / 2.0), y - (height / 2.0), x + (width / 2.0), y + (height / 2.0)]

        # by their boxes; round ones by their middles
        def touches?(other)
          if kind == :round && other.kind == :round
            return Math.hypot(x - other.x, y - other.y) < (width + other.width) / 2.0
          end

          a = box
          b = other.box
          a[0] < b[2] && b[0] < a[2] && a[1] < b[3] && b[1] < a[3]
        end
      end
  end
end
