# frozen_string_literal: true

module Handrail
  module Families
    # What of a family follows from the order and the product: checks held to what was ordered and to how the
    # wearer may be moved, the way out of it, and texts with their names filled in. Part of Family.
    module AsOrdered
      # what applies of a family follows from its text and the config: it is found once
      APPLYING = Memory.new(3000)
      private_constant :APPLYING

      # The checks that apply, each in a posture that the wearer may take (what can only be seen
      # walking is not asked of who may not) and held to what was ordered.
      def checks(config) = kept(:checks, config) { found_checks(config) }

      # What is wanted under the straps, in mmHg: { bottom:, top:, within: } as Rationals; what was
      # ordered at the ankle stands in the place of what is usual, and the top falls alike. nil where the
      # family has no line, or a low pressure index forbids what is usual and nothing was ordered.
      def wanted_pressure(config)
        line = pressure_line or return
        bottom, top, within =
          line.values_at("bottom", "top", "within").map { |text| Rational(text) }
        ordered = line["ordered"] && Number.read(config[line["ordered"]])
        return if ordered.nil? && config["index"] == "reduced"
        return { bottom: bottom, top: top, within: within } unless ordered

        { bottom: ordered, top: top * ordered / bottom, within: within }
      end

      # How to get out of it safely, in order: texts, with their names filled in by a block (see #fill).
      def way_out(config) = applying(ways_out, config).map(&:text)

      # The postures that the wearer may take, as the order says; nil where any.
      def postures(config)
        fields
          .filter_map { |field| field.choices && field.choice(config[field.key])&.postures }
          .first
      end

      # Fills the names in braces in the protocol's texts: {height_landmark} becomes "the joint
      # line", {height_landmark.says} its reason. A block says each part in another language.
      def fill(text, config, &say)
        say ||= :itself.to_proc
        text.gsub(/\{(\w+(?:\.says)?)\}/) do
          key, says = Regexp.last_match(1).split(".")
          next say.call(config["start_hours"] || wear["start_hours"]) if key == "start_hours"
          next say.call(tension_test["title"]) if key == "tension_test"
          next way_out(config).map { |one| fill(one, config, &say) }.join(" ") if key == "way_out"
          next config["side"].to_s if key == "side"

          say.call(named(key, says, config))
        end
      end

      # Limits that an order and what was found pass, each with the limit as it is printed: [[Limit,
      # "150"], ...]. found - settings key => what was found at the fit, or nothing; side - whose fields are
      # summed.
      def passed_limits(config, found = {}, side = nil)
        limits.filter_map do |limit|
          sum, most = limit_sum(limit, config, found, side)
          [limit, Number.print(most)] if most && sum > most
        end
      end

      # What a limit sums up, and the most that it may be, nil where the order says none: two exact numbers.
      # Where a limit has edges, what raises one takes from what raises the other.
      def limit_sum(limit, config, found = {}, side = nil)
        own = ->(key) { config[key.sub("{side}", side.to_s)] }
        given = limit.fields.to_a.map { |key| [own[key], limit.edges && own[limit.edges["field"]]] }
        given +=
          limit.settings.to_a.map do |key|
            [found[key], limit.edges && found[limit.edges["setting"]]]
          end
        [summed(limit, given), most_of(limit, config)]
      end

      private

      # list - a name of it
      def kept(list, config, &) = APPLYING.remember([digest, list, config], &)

      def applying(items, config)
        found = items.select { |item| item.applies?(config) }
        found.any?(Varied) ? found.map { |item| item.as_for(config) } : found
      end

      def found_checks(config)
        found = applying(@checks, config).map { |check| held(check, config) }
        may = postures(config) or return found
        found
          .reject { |check| check.posture == "walking" && !may.include?("walking") }
          .map do |check|
            may.include?(check.posture || may.first) ? check : check.with(posture: may.first)
          end
      end

      # given - [[what was typed, the edge that it raises], ...]
      def summed(limit, given)
        read = given.filter_map { |typed, edge| (number = Number.read(typed)) && [number, edge] }
        return read.sum(&:first) unless limit.edges

        towards = limit.edges.fetch("only", read.filter_map(&:last).first)
        net = read.sum { |number, edge| edge.nil? || edge == towards ? number : -number }
        limit.edges["only"] ? [net, 0].max : net.abs
      end

      def most_of(limit, config)
        return option(limit.option).value(config[limit.option]) if limit.option

        Number.read(config[limit.most])
      end

      # the words for a name in braces: a choice, a figure, or what follows from the order
      def named(key, says, config)
        one = option(key) || fields.find { |field| field.key == key }
        return configuration(config)&.gives.to_h.fetch(key, "") unless one

        choice = one.choice(config[key]) if one.choices
        return (says ? choice&.says : choice&.in_words) || "" if one.choices

        config[key] ? one.print(config[key]) : ""
      end

      # the most of an option, or what was ordered under the straps, in the place of the usual limits
      def held(check, config)
        if check.within
          most = option(check.within)&.value(config[check.within])
          return check.with(criterion: check.criterion.with("at_most" => most))
        end
        return check unless pressure_line && pressure_line["check"] == check.key

        ordered = pressure_line["ordered"] && Number.read(config[pressure_line["ordered"]])
        if ordered.nil? && config["index"] == "reduced" && pressure_line["reduced"]
          return(
            check.with(
              criterion: check.criterion.with("at_most" => Rational(pressure_line["reduced"]))
            )
          )
        end
        return check unless ordered

        usual = Rational(pressure_line["bottom"])
        check.with(
          criterion:
            check.criterion.with(
              check.criterion.limits.transform_values { |one| one * ordered / usual }
            )
        )
      end
    end
  end
end
