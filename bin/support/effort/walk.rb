# frozen_string_literal: true

module Handrail
  class Effort
    # One fitting, walked as a fitter does it: from a new patient on the board to the first recheck closed. What the
    # page asks is answered as it is asked; values are those that a tape would show.
    class Walk
      include Newcomer
      include FollowUp

      # family; side; texts - what is written in the order's fields; chosen - field => choice; slip - a check that
      # fails once, with the value that says so; away - whether somebody comes in between
      Plan = Value.new(:name, :family, :side, :chosen, :slip, :away)

      # hands - Hands; plan; clinic; base - the address
      def initialize(hands, plan, clinic:, base:)
        @hands = hands
        @plan = plan
        @clinic = clinic
        @base = base
        @family = Families::Registry.fetch(plan.family)
      end

      # [counts of the first visit, counts with the recheck]
      def walk
        patient
        order
        cautions
        measure
        sizes
        steps
        checks
        teach
        hand_over
        first = @hands.counts
        recheck
        [first, @hands.counts]
      end

      def visit = Store::Visits.find(@clinic, row.id)

      private

      attr_reader :hands

      def row = Store::Visit.where(clinic_id: @clinic.id).order(:id).last

      def cautions
        hands.write { hands.press("[name=identity]") }
        # stop signs are read to the wearer, one after another, as from a paper form, which has a line for each; what is
        # as it was is one question
        (visit.family.stop_signs.size / 3.0).ceil.times { hands.write { nil } }
        pressures if visit.family.index && !visit.safety.pressures_before
        hands.go_on("button[form=ask].is-primary")
        hands.wait_for("#value, .zones")
      end

      # of sound arteries
      def pressures
        %w[arm_left arm_right ankle_left_front ankle_right_front]
          .map { |key| [key, "[name='pressures[#{key}]']"] }
          .select { |_, field| hands.there?(field) }
          .each { |key, field| hands.write { hands.type(field, key[/arm/] ? "130" : "140") } }
      end

      def measure
        hands.wait_for("#value")
        while (item = visit.unread.first || (visit.doubts.any? && :doubt))
          next hands.write { hands.key("y") } if item == :doubt

          hands.asked("#take")
          read(hands.js("return document.querySelector('#take [name=at]').value"))
        end
        # the one that the size hangs on, once more where that is asked
        2.times do
          again = visit.sides.flat_map { |side| visit.sizing.match(side)&.read_again.to_a }
          item = visit.needs.find { |need| again.include?(need.site.key) } or break
          at = hands.js("return document.querySelector('#take [name=at]').value")
          item.key == at ? read(at) : break
        end
      end

      def read(at)
        item = visit.needs.find { |one| one.key == at }
        hands.write do
          hands.type("#value", likely(item))
          hands.key(:Enter)
        end
        3.times do
          break if visit.doubts.empty?

          hands.asked(".question")
          hands.write { hands.key("y") }
        end
      end

      # what lies in the middle of a size, or of what a body gives, in cm
      def likely(item)
        earlier = visit.first? ? nil : visit.first.repeats_of(item)
        return (earlier.length.mm / 10).to_f.round(1).to_s if earlier

        sizes =
          (
            if visit.pin.chart
              visit.pin.chart.parts.map { |part| part.sizes[part.sizes.size / 2] }
            else
              []
            end
          )
        band = sizes.flat_map(&:bands).find { |one| one.site == item.site.key }
        mm = band ? band.middle : item.site.range(visit.patient.species).sum(&:mm) / 2
        (mm / 10).to_f.round(1).to_s
      end

      def sizes
        visit.sides.each do |side|
          trial(side) if visit.family.size_rule.by == "trial"
          choose(side) unless visit.sizing.choice(side)
          hands.wait_for("#serial")
          hands.write { hands.type("#serial", "E-#{rand(10_000)}") }
          hands.key(:Enter)
          next if visit.sizing.device_fits?(side)

          raise "no device was written down for #{@plan.name}: #{hands.words("[role=alert]")}"
        end
        unless hands.js("return document.querySelector('#bench').dataset.stage") == "fit"
          hands.go_on
        end
        hands.wait_for("#bench[data-stage=fit]")
      end

      def trial(_side)
        primary unless hands.there?("#trial")
        hands.write { hands.tap("#trial [value=good]") }
      end

      def choose(_side)
        stage = hands.js("return document.querySelector('#bench').dataset.stage")
        primary
        return if stage == "size" || hands.there?("#serial")

        hands.wait_for("#choose, #serial")
        if hands.there?("#choose") && !hands.there?("#serial")
          hands.write { hands.tap(".bar [form=choose].is-primary") }
        end
      end

      def steps
        visit.sides.each do |side|
          until visit.fit.applying(side).finished?
            look_first(side)
            if hands.there?("#step [name=sure]")
              hands.write { hands.tap("#step [name=sure]") }
              hands.tap(".bar [form=step]")
            elsif hands.there?("[data-key=together]")
              hands.key("g")
            else
              hands.asked("#now form, #now .now")
              hands.key(" ")
            end
          end
          checks_of(side)
          hands.go_on if side != visit.sides.last
        end
      end

      # what is looked at before the next step
      def look_first(side)
        applying = visit.fit.applying(side)
        applying
          .unlooked(applying.next, visit.fit.checklist(side))
          .each { |item| answer(item, "#check-#{item.key.tr(":", "-")}.is-current") }
      end

      def checks = nil

      def checks_of(side)
        while (item = visit.fit.checklist(side).next)
          selector = "#check-#{item.key.tr(":", "-")}.is-current"
          hands.asked(selector)
          answer(item, selector)
          change(side) if visit.fit.checklist(side).failed.any?
          come_back if @plan.away && !@went
        end
      end

      def answer(item, selector)
        fails = @plan.slip && item.check.key == @plan.slip.first && !@slipped
        hands.write do
          if item.check.measured?
            @slipped = true if fails
            hands.type("#check-value", fails ? @plan.slip.last : good(item))
            hands.key(:Enter)
          else
            hands.key("y")
          end
        end
        hands.js("return #{selector.to_json}")
      end

      def good(item)
        criterion = item.check.criterion
        limits = criterion.limits.transform_values(&:to_f)
        low = limits["at_least"] || limits["above"]
        high = limits["at_most"] || limits["below"]
        value = low && high ? (low + high) / 2 : (low ? low * 1.05 : 0)
        criterion.respond_to?(:print) ? criterion.print(value.to_r)[/[\d.]+/] : value.to_s
      end

      def change(side)
        hands.decide
        hands.write { hands.tap(".offer.is-next [name=remedy]") }
        hands.write { hands.type("#change-after", "80") }
        hands.tap("[form=change].is-primary")
        hands.wait_for(".history")
        raise "not changed" if visit.fit.checklist(side).failed.any?
      end

      # somebody asks at the door: the board, and back
      def come_back
        @went = true
        hands.tap(".brand")
        hands.wait_for("[data-row]")
        hands.page.goto("#{@base}/visits/#{row.id}")
        hands.wait_for("#bench")
      end
    end
  end
end
