# frozen_string_literal: true

module Handrail
  module Web
    # The figure of a visit: the wearer's profile with the tape lines of what was read, or with the
    # device on it.
    class Figures
      SIDES = %w[left right].freeze
      # two feet side by side have less room than one
      SMALLER_BESIDE = 0.84
      # centre lines of two limbs seen from the front, the right one on the viewer's left
      BESIDE = [["left", 268], ["right", 112]].freeze

      # visit; side - the one that the page is about; current - the item of the plan being read, or
      # nil; tape - the Quantity::Tape in which values are printed.
      def initialize(visit, side: nil, current: nil, tape: visit.clinic.tape_kind)
        @visit = visit
        @side = side
        @current = current
        @tape = tape
      end

      # drawings by all that they show
      DRAWN = Memory.new(500)

      # The figure of the site being read, or of the device; both limbs where both are ordered.
      def plain(spots: [])
        shown = @current ? Anatomy::Figure.fetch(@current.site.figure) : @visit.sizing.figure
        unless shown.mirrored? && @visit.sides.size > 1
          one = drawing(shown, side_on(shown), spots: drawn_spots(spots))
          return DRAWN.remember(one.key) { one.to_s }
        end

        left, right = BESIDE.map { |side, centre| drawing(shown, side, centre: centre, slim: true) }
        DRAWN.remember([left.key, right.key]) do
          Drawings::Figure.pair(left, right, label: [right.label, left.label].join("; "))
        end
      end

      # The figure of the site being read, of one limb, whatever is ordered.
      def alone
        shown = @current ? Anatomy::Figure.fetch(@current.site.figure) : @visit.sizing.figure
        made = drawing(shown, side_on(shown), spots: [])
        DRAWN.remember(made.key) { made.to_s }
      end

      # Another view of the body as it is, without readings: the leg from the front, the trunk.
      def of_view(key)
        shown = Anatomy::Figure.fetch(key)
        profile = @visit.sizing.profile(shown, @side) if shown.reference
        made = Drawings::Figure.new(shown, profile: profile, side: @side || side_on(shown))
        DRAWN.remember(made.key) { made.to_s }
      end

      # The device on the figure, and points on it. spots - [[Spot, words], ...]; straps -
      # [Families::Strap, state] pairs, state as Drawings::Figure::Strap takes it.
      def with_device(straps, spots: [])
        raw = @visit.family.drawing or return plain(spots: spots)
        shown = @visit.sizing.figure
        made =
          Drawings::Figure.new(
            shown,
            profile: @visit.sizing.profile(shown, @side),
            side: @side || side_on(shown),
            device: device(raw, straps),
            spots: drawn_spots(spots)
          )
        DRAWN.remember(made.key) { made.to_s }
      end

      # One step of putting on or taking off, for the wearer's sheet. step - a Families::Step; straps -
      # [Families::Strap, state] pairs as they are then; label - the step in words
      def step(step, straps, label:)
        shown = step.view ? Anatomy::Figure.fetch(step.view) : @visit.sizing.figure
        raw = @visit.family.drawing
        made =
          Drawings::StepPicture.new(
            shown,
            shows: step.pictured || "whole",
            at: places(step),
            label: label,
            profile: @visit.sizing.profile(shown, @side),
            side: @side || side_on(shown),
            device: raw ? device(raw, straps) : straps_alone(straps)
          )
        DRAWN.remember(made.key) { made.to_s }
      end

      # The device as it is worn, each strap with the mark to which it is pulled, for the wearer's sheet; nil where
      # no strap has one. marks - key of a strap => words
      def marked(straps, marks, label:)
        return if straps.none? { |strap, _| marks[strap.key] && strap.level }

        raw = @visit.family.drawing
        shown = @visit.sizing.figure
        made =
          Drawings::StepPicture.new(
            shown,
            shows: "marks",
            label: label,
            profile: @visit.sizing.profile(shown, @side),
            side: @side || side_on(shown),
            device: raw ? device(raw, straps, marks) : straps_alone(straps, marks)
          )
        DRAWN.remember(made.key) { made.to_s }
      end

      private

      def places(step)
        step.at.to_a.map do |one|
          Quantity::Length.parse(one).mm.to_f
        rescue Quantity::Length::Unreadable
          one
        end
      end

      # a device whose shape is not drawn is told by its straps
      def straps_alone(straps, marks = {})
        return if straps.empty?

        Drawings::Figure::Device[shells: [], straps: drawn(straps, marks)]
      end

      def drawn_spots(spots)
        spots.map { |spot, words| Drawings::Figure::Spot[x: spot.x, y: spot.y, words: words] }
      end

      def device(raw, straps, marks = {})
        hinge = raw["hinge"][@visit.config["height_landmark"]] || raw["hinge"].values.first
        upright = @visit.configuration&.gives.to_h["upright"] || (hinge && "outer")
        worn = worn_piece(@side || @visit.sides.first)
        anchor = raw["anchor"] && Anatomy::Vocabulary.default.fetch(raw["anchor"]).level.mm.to_f
        Drawings::Figure::Device[
          shells: shells(raw, worn, anchor),
          opening: opening(worn, anchor),
          seams: worn&.seams,
          hinge: hinge && metres(hinge),
          upright: upright,
          straps: drawn(straps, marks)
        ]
      end

      # the piece as it was computed here, or for the first fitting where nothing was read here yet
      def worn_piece(side)
        [@visit, @visit.first].lazy
          .flat_map { |one| one.sizing.sheets(side).values }
          .filter_map(&:worn)
          .first
      end

      # protocols that were pinned before the figure showed it name no anchor
      def opening(worn, anchor)
        return unless anchor && worn&.opening

        along, above, wide = worn.opening
        [along, anchor + above, wide]
      end

      # as high as this wearer's piece lies, where that is computed
      def shells(raw, worn, anchor)
        return [[anchor - worn.below, anchor + worn.above]] if worn&.below && anchor

        raw["shells"]
          .select { |shell| Families.applies?(shell["when"], @visit.config) }
          .map { |shell| [metres(shell["from"]), metres(shell["to"])] }
      end

      def drawn(straps, marks = {})
        straps
          .select { |strap, _| strap.level }
          .map do |strap, state|
            Drawings::Figure::Strap[
              number: strap.number,
              level: metres(strap.level),
              state: state,
              mark: marks[strap.key]
            ]
          end
      end

      def drawing(shown, side, **how)
        own = @visit.sides.include?(side) ? side : @visit.sides.first
        profile, read = @visit.sizing.expected_profile(shown, own) if shown.reference
        Drawings::Figure.new(
          shown,
          profile: profile,
          read: read,
          side: side,
          tapes: tapes(shown, side),
          grown: grown(shown, side),
          bracket: how[:slim] ? nil : bracket(side),
          **how
        )
      end

      # a limb has a side; the side view of a trunk is seen from the left; what lies on a trunk lies
      # on the side ordered
      def side_on(shown)
        if shown.sided?
          return(
            [@side, @visit.config["side"], @visit.config[@visit.family.lies_on]].find do |s|
              SIDES.include?(s)
            end
          )
        end
        return unless shown.mirrored?

        @current&.side || @side || @visit.sides.first || "left"
      end

      # how much larger than the reference, across and along, for a figure that follows lengths
      def grown(shown, side)
        return 1, 1 unless (by = shown.follows)

        across, along =
          [
            [by["width"], by["reference_width"]],
            [by["length"], by["reference"]]
          ].map do |site, reference|
            value = @visit.repeats(site, side)
            value ? (value.mm.to_f / reference).clamp(0.7, 1.25) : 1.0
          end
        beside = @visit.sides.size > 1 ? SMALLER_BESIDE : 1
        [across * beside, along * beside]
      end

      def tapes(shown, side)
        here =
          @visit.needs.select do |item|
            item.site.figure == shown.key && (item.side.nil? || item.side == side)
          end
        here.map do |item|
          value = @visit.repeats_of(item)
          state =
            if item == @current
              :active
            else
              value ? :done : :waiting
            end
          Drawings::Figure::Tape[
            site: item.site,
            name: item.short,
            value: value && value.length.to_s(@tape),
            state: state,
            expected: value ? nil : expected(item)
          ]
        end
      end

      # "33 to 39?", where the other readings let expect something
      def expected(item)
        found = @visit.cross.forecast(item.site.key, item.side) or return
        low, high =
          [found.low, found.high].map { |mm| Quantity::Length.mm(mm.round).in(@tape.unit).round }
        Wording.t("web.expected", low: low, high: high)
      end

      # the distance from the landmark, for the site being read on this side
      def bracket(side)
        site = @current&.site or return
        if site.level && site.from && site.offset && !site.offset.mm.zero? &&
             (@current.side.nil? || @current.side == side)
          site
        end
      end

      def metres(text) = Quantity::Length.parse(text).mm.to_f
    end
  end
end
