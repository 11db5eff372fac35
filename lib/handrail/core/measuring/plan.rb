# frozen_string_literal: true

module Handrail
  module Measuring
    # What is to be read at a visit, in the order in which a fitter goes round the wearer: first what the size hangs on,
    # then what is wanted for the record.
    class Plan
      # site - an Anatomy::Site; side - "left", "right" or nil; decides - true where the size hangs on it.
      Item = Value.new(:site, :side, :decides) do
        def key = [site.key, side].compact.join(":")
      end

      attr_reader :items

      # family - Families::Family; side - the ordered one; chart - Sizing::Chart or nil; recheck - true for a recheck's shorter list.
      def initialize(family, side:, chart:, recheck: false, sites: Anatomy::Vocabulary.default)
        @side = side
        @charted = chart ? chart.sites : []
        needs = recheck ? family.needs.select { |need| family.recheck_readings.include?(need.site) } : family.needs
        own = needs.map { |need| item(sites.fetch(need.site), need) } + strangers(family, sites)
        other = recheck ? [] : needs.select(&:other_side).filter_map { |need| other_item(sites.fetch(need.site)) }
        @items = (own.partition(&:decides).flatten + other).freeze
        freeze
      end

      private

      def item(site, need)
        decides = need.use == "size" || (need.use == "size_if_charted" && @charted.include?(site.key))
        Item[site: site, side: site.paired ? @side : nil, decides: decides]
      end

      # sites that this maker's chart asks for beyond the family's
      def strangers(family, sites)
        (@charted - family.needs.map(&:site)).filter_map do |key|
          sites[key]
        end.map { |site| Item[site: site, side: site.paired ? @side : nil, decides: true] }
      end

      def other_item(site)
        other = { "left" => "right", "right" => "left" }[@side]
        Item[site: site, side: other, decides: false] if other && site.paired
      end
    end
  end
end
