# frozen_string_literal: true

module Handrail
  module Anatomy
    # All sites by key, read from knowledge/sites.yml.
    class Vocabulary
      include Enumerable

      # The sites of the edition that is read by.
      def self.default = Edition.here.sites

      # raw - sites.yml as it reads; figures - key => Figure. Raises Knowledge::Faulty, naming file,
      # key and fault.
      def self.read(raw, figures)
        new(raw.fetch("sites").map { |key, fields| site(key, fields) }).tap do |sites|
          placed(sites, figures)
        end
      end

      # every site must lie on its figure
      def self.placed(sites, figures)
        faults =
          sites.filter_map do |site|
            figure = figures[site.figure] or next "#{site.key}: there is no figure #{site.figure}"
            unknown = [*site.between, *site.around] - figure.points.keys - ["floor"]
            next "#{site.key}: #{site.figure} has no point #{unknown.join(", ")}" if unknown.any?

            nameless = site.by.to_a - figure.landmarks.keys
            if nameless.any?
              next "#{site.key}: #{site.figure} has no landmark #{nameless.join(", ")}"
            end

            if site.level && !site.level.mm.between?(figure.from, figure.to)
              "#{site.key}: its level lies off the figure"
            end
          end
        raise Knowledge::Faulty, "sites.yml: #{faults.join("; ")}" if faults.any?
      end

      AS_THEY_STAND = %w[
        name
        short
        kind
        landmark
        postures
        tension
        paired
        figure
        between
        around
        by
        from
        source
      ].freeze

      def self.site(key, raw)
        ranges =
          raw
            .fetch("range")
            .transform_values { |ends| ends.map { |text| Quantity::Length.parse(text) } }
        plain = AS_THEY_STAND.to_h { |field| [field.to_sym, raw[field]] }
        Site[
          key: key,
          **plain,
          ranges: ranges.freeze,
          resolution: Quantity::Length.parse(raw["resolution"]),
          level: raw["level"] && Quantity::Length.parse(raw["level"]),
          offset: raw["offset"] && signed(raw["offset"])
        ]
      end

      def self.signed(text)
        if text.start_with?("-")
          Quantity::Length.mm(-Quantity::Length.parse(text[1..]).mm)
        else
          Quantity::Length.parse(text)
        end
      end
      private_class_method :site, :signed, :placed

      def initialize(sites)
        @sites = sites.to_h { |site| [site.key, site] }.freeze
        @said = @sites.transform_values(&:said).freeze
        freeze
      end

      # The site, or nil.
      def [](key) = @sites[key]

      # The site. Raises Handrail::Error when there is none of that key.
      def fetch(key) = @sites.fetch(key) { raise Handrail::Error, "No site is called “#{key}”." }

      # A site's name inside a sentence, or nil.
      def said(key) = @said[key]

      def each(&) = @sites.each_value(&)
    end
  end
end
