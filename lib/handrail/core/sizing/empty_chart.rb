# frozen_string_literal: true

module Handrail
  module Sizing
    # What a new chart of a family asks to be filled in: every site by which its size may be chosen,
    # in the posture and at the tension in which the family reads it, for some sizes.
    module EmptyChart
      SIZES = %w[S M L].freeze

      # Rows as texts by column: "part", "size", "site", "min", "max", "unit", "posture", "tension";
      # min and max are empty. config - what applies, as Family#config gives it; unit - "cm" or
      # "in".
      def self.rows(family, config, unit:, sizes: SIZES)
        needs = family.needs_for(config)
        # where the sites hang on the order (which limb), all of them are offered
        needs = family.needs if needs.none? { |need| need.use != "record" }
        places = needs.reject { |need| need.use == "record" }.map { |need| place(need) }.uniq
        sizes.flat_map do |size|
          places.map do |site, posture, tension|
            {
              "part" => "",
              "size" => size,
              "site" => site,
              "min" => "",
              "max" => "",
              "unit" => unit,
              "posture" => posture,
              "tension" => tension
            }
          end
        end
      end

      # [site, posture, tension] as the family reads it, else as the site is read
      def self.place(need)
        site = Anatomy::Vocabulary.default.fetch(need.site)
        [site.key, need.posture || site.posture, need.tension || site.tension]
      end
      private_class_method :place
    end
  end
end
