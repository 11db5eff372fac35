# frozen_string_literal: true

module Handrail
  module Store
    class Rehearsal
      # The order and the cautions of a rehearsal: each is said in several events, and becomes one command once
      # it is whole. Part of Acts.
      module Beginning
        # Words by what of the order can not be taken.
        def order_faults
          side = Families::OrderFaults.side(family, ordered["side"])
          Families::OrderFaults.of(
            family,
            side: side,
            fields: ordered.except("side"),
            options: @options
          ).compact
        end

        def order(key, value)
          unacceptable("order", "It is ordered already.") if visit
          option = family.option(key)
          if option && !family.fields.map(&:key).include?(key)
            fault = option.fault(value) if option.respond_to?(:fault)
            unacceptable(key, fault) if fault
            return @options = @options.merge(key => value)
          end
          ordered_field(key, value)
        end

        # the index's pressures and who agreed to go on come in the same way
        def caution(key, value)
          begun!
          known = %w[identity agreed_by] + (family.stop_signs + family.care_prompts).map(&:key)
          known += Compression::AnkleBrachial::LABELS.keys if family.index
          unacceptable(key, "There is no such caution here.") unless known.include?(key)
          asked = yes_no?(key)
          unacceptable(key, "Say yes or no.") if asked && !%w[yes no].include?(value)

          before = @cautions
          @cautions = { **before, key => value }
          ask_cautions
        rescue Faults => e
          # who agreed may come with a later row
          return if e.field == "agreed_by" && key != "agreed_by"

          # a pressure that can not be read was not said; that somebody is not who they are, was
          @cautions = before if Compression::AnkleBrachial::LABELS.key?(key)
          raise
        end

        private

        # the order is whole, and a visit begins
        def begun!
          return if visit

          faults = order_faults
          raise Faults, faults if faults.any?

          side = Families::OrderFaults.side(family, ordered["side"])
          @bench =
            Bench.new(
              Rehearsal.pin(family, @options, @chart, @rule),
              {
                family: family.key,
                side: family.sides.empty? ? nil : side,
                fields: ordered.except("side").reject { |_, text| text.empty? }
              },
              species: family.species.first
            )
        end

        # ... and its cautions were asked
        def ready!
          begun!
          ask_cautions if @cautions.any? && visit.safety.questions.nil? && !visit.closed?
        end

        def ordered_field(key, value)
          if key == "side"
            sides = family.sides
            unacceptable("side", "Choose #{sides.join(" or ")}.") unless sides.include?(value)
          else
            field = family.fields.find { |one| one.key == key }
            unacceptable(key, "The order has no such field.") unless field
            fault = field.fault(value)
            unacceptable(key, fault) if fault
          end
          @ordered[key] = value
        end

        def yes_no?(key) = key != "agreed_by" && !Compression::AnkleBrachial::LABELS.key?(key)

        # where nothing is said of the index it is not known, and the prescriber agreed to go on
        def agreed_by
          read = @cautions.keys & Compression::AnkleBrachial::LABELS.keys
          @cautions.fetch("agreed_by", read.empty? ? "the prescriber" : nil)
        end

        def ask_cautions
          ticked = @cautions.select { |key, value| value == "yes" && yes_no?(key) }.keys
          take(
            Commands::AskCautions,
            "identity" => @cautions.fetch("identity", "yes"),
            "stops" => ticked & family.stop_signs.map(&:key),
            "care" => ticked & family.care_prompts.map(&:key),
            "pressures" => @cautions.slice(*Compression::AnkleBrachial::LABELS.keys),
            "agreed_by" => agreed_by
          )
        end
      end
    end
  end
end
