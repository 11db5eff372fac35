# frozen_string_literal: true

module Handrail
  module Web
    # The right-hand side of the bench, for one side of the order: what is advised, in words, as
    # tapes, as a computed sheet.
    class Verdict
      include Wording::OfPages

      # state - a mark or nil; text - what to say
      Note = Value.new(:state, :text)
      # tapes as they were drawn; what a match says never changes, so it is told by which it is
      TAPES = Memory.new(1000)
      private_constant :TAPES

      attr_reader :side

      def initialize(visit, side)
        @visit = visit
        @side = side
        @advice = visit.sizing.advice(side)
        @match = visit.family.size_rule.by == "sheet" ? nil : visit.sizing.match(side)
      end

      def size = @advice&.size

      # Whether the size is short enough to be written large.
      def short? = !size.nil? && size.length < 12
      def advised? = !@advice.nil?

      # One drawing for each reading that the chart asks for: those to be shown at once (the
      # readings with the most doubt), and the rest.
      def tapes
        return [], [] unless @match

        drawn =
          @match.parts.flat_map do |part|
            part.part.demands.map { |demand| [doubt(part, demand), tape(part, demand)] }
          end
        drawn = drawn.sort_by.with_index { |(doubt, _), i| [-doubt, i] } if drawn.size > SHOWN
        [drawn.first(SHOWN).map(&:last), drawn.drop(SHOWN).map(&:last)]
      end

      # how many tapes have room above the notes
      SHOWN = 2

      # The sheets that are computed beside a chart, or instead of one.
      def sheets = @visit.sizing.sheets(side).values

      # Whether anything has been read for this product.
      def begun?
        if @match
          @match.values.any? || @match.missing.values.any?(&:any?) || rivals.any?
        else
          @visit.usable_readings.any?
        end
      end

      # "M, but only just: 87 in 100 that M is the size; 3 mm inside the nearest edge."
      def headline
        return sheet_headline unless @match
        return said_first if trial?
        if @match.verdict == :unusable
          return(
            t(
              :still_read,
              site: @match.missing.keys.map { |demand| Sizing.site_name(demand.site) }.join(", ")
            )
          )
        end
        return said_first if made?
        return t(:no_size_chart_serves) unless size

        "#{size}#{closeness}"
      end

      # "87", the chance in 100, or nil where there is none to give
      def probability = @match && @visit.family.size_rule.by == "chart" ? @advice.probability : nil
      def margin = @advice&.margin

      def state
        return @visit.sizing.sheets(side).fetch(@visit.family.size_rule.sheet).state unless @match
        return :not_done if @match.verdict == :unusable
        return :look_again if made?
        return :stop unless @match.size

        @match.verdict == :fits && @match.read_again.empty? ? :good : :look_again
      end

      # What to know beside the headline, the most pressing first.
      def notes
        return sheet_notes unless @match

        return [Note[text: Wording.remark(@match.remarks.first)]] if trial? && @advice.clear?

        all = [
          *rivals,
          *verdict_notes,
          *level_notes,
          *tilt_notes,
          *again,
          *at_ease,
          *neighbours,
          *mark_notes
        ].compact
        all.sort_by.with_index { |note, i| [{ stop: 0, look_again: 1 }.fetch(note.state, 2), i] }
      end

      # What the shelf says of the advised size, or nil where nothing is kept.
      def shelf
        return unless size

        here = @visit.sizing.on_shelf(size, side)
        return t(:shelf_here, here: here, size: size) if here.positive?

        t(:none_on_this_shelf, size: size) if @visit.sizing.stocked?
      end

      private

      def tape(part, demand)
        value = part.values[demand]
        how = { chosen: shown(part), named: tapes_named?, open: asked_about(demand) }
        TAPES.remember([@match, part.part.name, demand, how.merge(chosen: shown(part)&.name)]) do
          sd = value ? @match.sd(demand.site, value) : 0
          Drawings::SizeTape.new(part.part, demand, value: value, sd: sd, **how).to_s.freeze
        end
      end

      # readings at a demand's site, of this side, that wait for an answer
      def asked_about(demand)
        @visit
          .doubts
          .select { |row| row[:site] == demand.site && [side, nil].include?(row[:side]) }
          .map { |row| row[:value_mm].to_r }
      end

      # how much of the doubt a reading carries; one that is missing comes first
      def doubt(part, demand)
        value = part.values[demand] or return 2
        band = part.size&.bands&.find { |b| b.demand == demand }
        band ? 1 - @match.share(band, value) : 1
      end

      # the readings that are in no doubt, said once
      def at_ease
        return [] unless @match.size && @match.pairs.size > 1

        calm =
          @match
            .pairs
            .select { |band, value| @match.share(band, value) > 0.99 }
            .map { |band, _| Sizing.site_name(band.site) }
        return [] if calm.empty? || calm.size == @match.pairs.size

        *others, last = calm
        said =
          others.empty? ? t(:sits, calm: last) : t(:two_sit, first: others.join(", "), last: last)
        [Note[text: t(:well_inside, initial: said[0].upcase, rest: said[1..], size: size)]]
      end

      def said_first = Wording.remark(@advice.remarks.first)

      # the size lit on the tape: in a trial the one that was found right
      def shown(part) = (trial? && part.part.sizes.find { |other| other.name == size }) || part.size
      def trial? = @visit.family.size_rule.by == "trial"
      def made? = @visit.family.size_rule.by == "chart" && @advice.refused?
      def tapes_named? = @match.parts.sum { |part| part.part.demands.size } > 1

      def sheet_headline
        sheet = @visit.sizing.sheets(side).fetch(@visit.family.size_rule.sheet)
        unless sheet.complete?
          return(
            (
              if sheet.missing.size == 1
                Wording.remark(sheet.missing.first)
              else
                t(:readings_still_take, missing: sheet.missing.size)
              end
            )
          )
        end

        "#{size[0].upcase}#{size[1..]}."
      end

      def sheet_notes
        sheet = @visit.sizing.sheets(side).fetch(@visit.family.size_rule.sheet)
        sheet.missing.map { |one| Note[state: :not_done, text: Wording.remark(one)] } +
          sheet.notes.map { |note| Note[state: note.state, text: Wording.remark(note.remark)] }
      end

      def closeness
        return t(:between_two_sizes) if %i[between conflict].include?(@match.verdict)
        return t(:one_several_fit) if @match.verdict == :overlap

        if @match.probability > Sizing::Match::SURE
          t(:clear_both_edges)
        else
          t(:but_only_just)
        end
      end

      # another of the girths that charts of this family choose from was read, and can not stand in
      # for the one that this chart names
      def rivals
        return [] unless @match.verdict == :unusable

        lacking =
          @match
            .missing
            .select do |demand, others|
              others.empty? && alternatives.any? { |site| site.key == demand.site }
            end
            .keys
        lacking.flat_map do |demand|
          alternatives
            .select do |site|
              site.key != demand.site && @visit.repeats(site.key, site.paired ? side : nil)
            end
            .map { |site| rival_note(site, demand) }
        end
      end

      def rival_note(site, demand)
        Note[
          state: :stop,
          text:
            t(:other_site_than_the_charts, read: site.name, wanted: Sizing.site_name(demand.site))
        ]
      end

      # the girths of which each maker's chart names one or more
      def alternatives
        @alternatives ||=
          @visit
            .family
            .needs_for(@visit.config)
            .select { |need| need.use == "size_if_charted" }
            .map { |need| Anatomy::Vocabulary.default.fetch(need.site) }
            .select { |site| site.kind == "girth" }
      end

      def verdict_notes
        if @match.size.nil? && @match.verdict != :unusable
          return [Note[state: :stop, text: Wording.remark(@match.remarks.first)]]
        end
        return missing if @match.verdict == :unusable
        return [] if @match.verdict == :fits

        [Note[state: :look_again, text: Wording.remarks(@match.remarks.first(2))]]
      end

      # straps whose closure is nearly used up, and what the others press at the least pull
      def mark_notes
        return [] unless @visit.recheck?

        drifts =
          @visit
            .fit
            .mark_drifts(side)
            .reject(&:within?)
            .map { |drift| Note[state: :look_again, text: Wording.mark_drift(drift)] }
        pulls =
          Wording
            .least_pulls(@visit.pressure.least_pulls(side))
            .map { |state, text| Note[state: state == :within ? nil : :look_again, text: text] }
        drifts + pulls
      end

      # another posture or tension is there, and can not stand in
      def missing = @match.displaced.map { |one| Note[state: :stop, text: Wording.remark(one)] }

      def level_notes
        @match.parts.flat_map do |part|
          part.values.filter_map do |demand, value|
            site = Anatomy::Vocabulary.default[demand.site]
            next unless site&.level && site.offset && !site.offset.mm.zero?

            profile = @visit.sizing.profile(Anatomy::Figure.fetch(site.figure), side)
            found = Measuring::LevelDoubt.new(profile, site, value).finding(part.part)
            Note[state: found.size ? :look_again : nil, text: Wording.level_doubt(found)] if found
          end
        end
      end

      def again
        sites = @match.read_again - @match.missing.keys.map(&:site)
        return [] if sites.empty?

        names = sites.map { |site| Sizing.site_name(site) }.join(" and ")
        disagree =
          @match.values.find { |demand, value| sites.include?(demand.site) && !value.agree? }&.last
        text =
          if disagree
            t(:readings_differ, names: names, spread: format("%g", disagree.spread.round(1).to_f))
          else
            t(:read_again_settles, names: names, sites: settled(sites))
          end
        [Note[state: :look_again, text: text]]
      end

      # how sure it would be if the next reading agreed, where that says something
      def settled(sites)
        after = @match.probability_after(sites) or return
        if (after - @match.probability) >= 0.01
          t(:chance_if_it_reads_the_same, chance: (after * 100).round)
        end
      end

      # a tape off square reads more: said where that would reach over the lower edge
      def tilt_notes
        band, value =
          @match
            .pairs
            .select { |b, v| Anatomy::Vocabulary.default[b.site]&.kind == "girth" && b.hold?(v.mm) }
            .min_by { |b, v| v.mm - b.min }
        return [] unless band

        more = Measuring::Tilt.error(value.mm, 10)
        left = (value.mm - band.min).to_f
        return [] if more < left || left > 10

        said = t(:tape_askew, more: format("%.1f", more), left: format("%g", left.round(1)))
        [Note[state: :look_again, text: t(:lay_square, said: said)]]
      end

      def neighbours
        @match
          .parts
          .flat_map { |part| Sizing::Neighbours.findings(part) }
          .map { |found| Note[text: Wording.neighbour(found)] }
      end
    end
  end
end
