# frozen_string_literal: true

module Handrail
  module Measuring
    # What is to be read at a visit, in the order in which a fitter goes round the wearer: posture
    # by posture, in each first what the size hangs on, then what is wanted for the record; the
    # other limb last.
    class Plan
      # site - an Anatomy::Site; side - "left", "right" or nil; posture, tension - as the chart,
      # else the family, else the site names them: a reading in another one is kept beside it and
      # never used with it; decides - true where the size hangs on it; other - true for the limb
      # that is not ordered; twin - true where the site is read in another posture too; key - what tells it
      # apart in the plan: "calf_widest:left".
      Item =
        Value.new(:site, :side, :posture, :tension, :decides, :other, :twin, :key) do
          # Whether a reading belongs here. reading - a Reading, or a Hash with :site, :side, :posture
          # and :tension.
          def takes?(reading)
            site.key == reading[:site] && side == reading[:side] &&
              (!twin || posture == reading[:posture])
          end

          # Whether it counts: taken as it is asked for.
          def counts?(reading) =
            takes?(reading) && posture == reading[:posture] && tension == reading[:tension]

          # The postures to choose from.
          def postures = twin ? [posture] : [posture, *site.postures].uniq

          # The name with the posture where it matters: "Abdomen, in line with the stoma or hernia,
          # lying".
          def name = twin ? "#{site.name}, #{posture}" : site.name
          def short = twin ? "#{site.short}, #{posture}" : site.short
        end

      attr_reader :items

      # family - Families::Family; config - what applies, with "side"; chart - Sizing::Chart or nil;
      # recheck - true for a recheck's shorter list.
      def initialize(family, config:, chart:, recheck: false, sites: Anatomy::Vocabulary.default)
        @sites = sites
        @sides = Plan.sides(config["side"])
        @demands = chart ? chart.demands.group_by(&:site) : {}
        needs = family.needs_for(config)
        needs = needs.select { |need| family.recheck_readings.include?(need.site) } if recheck
        @double = needs.map(&:site).tally.select { |_, count| count > 1 }.keys
        own = needs.map { |need| [sites.fetch(need.site), need] } + strangers(family)
        other =
          if recheck
            []
          else
            needs.select(&:other_side).flat_map { |need| other_items(sites.fetch(need.site), need) }
          end
        @items = twins(in_turn(own.flat_map { |site, need| items_of(site, need) } + other)).freeze
        freeze
      end

      # The sides that an order covers: ["left", "right"] for both, [nil] where there is none.
      def self.sides(side) = side == "both" ? %w[left right] : [side]

      private

      # a device without a side is read on both sides where the site has two
      def items_of(site, need)
        (
          if site.paired
            @sides.compact.then { |own| own.empty? ? %w[left right] : own }
          else
            [nil]
          end
        ).map { |side| item(site, side, need) }
      end

      def item(site, side, need, other: false)
        demand = @demands[site.key]&.first
        decides =
          !other &&
            (need.nil? || need.use == "size" || (need.use == "size_if_charted" && !demand.nil?))
        Item[
          site: site,
          side: side,
          posture: posture(site, need, demand),
          decides: decides,
          other: other,
          tension: demand&.tension || need&.tension || site.tension
        ]
      end

      # a site that the family wants in two postures keeps each of them; else the chart's word goes
      # first
      def posture(site, need, demand)
        own =
          (
            if @double.include?(site.key)
              [need&.posture, demand&.posture]
            else
              [demand&.posture, need&.posture]
            end
          )
        own.compact.first || site.posture
      end

      # sites that this maker's chart asks for beyond the family's
      def strangers(family)
        (@demands.keys - family.needs.map(&:site))
          .filter_map { |key| @sites[key] }
          .map { |site| [site, nil] }
      end

      def other_items(site, need)
        other = { ["left"] => "right", ["right"] => "left" }[@sides]
        other && site.paired ? [item(site, other, need, other: true)] : []
      end

      def twins(items)
        items.map do |item|
          twin = items.any? { |o| twin?(o, item) }
          key = [item.site.key, item.side, twin ? item.posture : nil].compact.join(":")
          item.with(key: key, twin: twin || nil)
        end
      end

      def twin?(one, other) =
        one.site == other.site && one.side == other.side && one.posture != other.posture

      def in_turn(items)
        postures = items.map(&:posture).uniq
        items.sort_by.with_index do |item, i|
          [item.other ? 1 : 0, postures.index(item.posture), item.decides ? 0 : 1, i]
        end
      end
    end
  end
end
