# frozen_string_literal: true

module Handrail
  class HeronQuay
    # How the stories are told: entries written one after the other, at the clinic's past times.
    module Telling
      ENTRIES = Store::Entries
      CALF = "calf_15_below_mid_patella"
      THIGH = "thigh_15_above_mid_patella"
      KNEE = "knee_mid_patella"
      SIGNATURE = "M 20 70 L 34 42 L 46 30 L 52 40 L 44 66 L 58 52 L 70 48 L 74 62 L 88 44 L 98 60 L 112 46 L 126 58 L 150 40 L 178 52 L 214 44"

      def initialize(clinic)
        @house = clinic
      end

      private

      attr_reader :house

      # An order for a knee unloader.
      def order(who, product, side, days, clock, planned: nil, compartment: "medial", **fields)
        prescriber = fields.delete(:prescriber) || "Dr Ansel Weatherby"
        ordered(who, product, side, days, clock, planned: planned, prescriber: prescriber, compartment: compartment,
                                                 indication: "knee arthrosis, #{compartment == 'medial' ? 'inner' : 'outer'} side", **fields)
      end

      # An order for any product.
      def ordered(who, product, side, days, clock, planned: nil, prescriber: "Dr Oriel Tamsin", **fields)
        product = house.products.fetch(product)
        form = { "family" => product.family, "product_id" => product.id, "side" => side, "prescriber" => prescriber,
                 "prescribed_on" => (house.today + days).iso8601, "fields" => fields.transform_keys(&:to_s) }
        Store.at(house.time(days, clock)) do
          ENTRIES::Orders.create(house.clinic, house.staff[:effie], house.patients.fetch(who), form, planned_for: planned && house.time(*planned))
        end
      end

      # Everything written inside happens at this visit, a minute apart.
      def at(visit, days, clock, who)
        @visit = visit
        @who = house.staff.fetch(who)
        @time = house.time(days, clock)
        yield
      end

      # The record is read only for a block that asks for it.
      def write(&entry)
        @time += 60
        ledger = Store::Ledger.new(@visit, @who)
        Store.at(@time) { entry.arity > 1 ? yield(ledger, Store::VisitRecord.find(house.clinic, @visit.id)) : yield(ledger) } || true
      end

      def asked(stops: [], care: [], note: nil, **found)
        write { |ledger, record| ENTRIES::Orders.ask(ledger, record, identity: true, stops: stops, care: care, note: note, **found) }
      end

      def take(site, typed, unit: "cm", side: nil)
        write do |ledger, record|
          ENTRIES::Readings.take(ledger, record, site: site, side: side || record.side, typed: typed, unit: unit, posture: "sitting")
        end
      end

      # Readings of any site in a posture: texts by site.
      def read(posture, unit: "cm", side: nil, tension: nil, **sites)
        sites.each do |site, texts|
          Array(texts).each do |text|
            write { |l, r| ENTRIES::Readings.take(l, r, site: site.to_s, side: side || r.sides.first, typed: text, unit: unit, posture: posture, tension: tension) }
          end
        end
      end

      def measured(thigh: [], knee: [], calf: [], other: [])
        { THIGH => thigh, KNEE => knee, CALF => calf }.each { |site, texts| texts.each { |text| take(site, text) } }
        other.each { |text| write { |l, r| ENTRIES::Readings.take(l, r, site: CALF, side: r.other_side, typed: text, unit: "cm", posture: "sitting") } }
      end

      def chosen(size, serial: nil, side: nil, why: "held against the leg")
        write { |ledger| ENTRIES::Sizes.choose(ledger, size, why: why, side: side) }
        serial ? write { |ledger| ENTRIES::Sizes.issue(ledger, serial: serial, lot: nil, side: side) } : true
      end

      def applied = write { |_, record| record.applying.steps.map(&:key) }.each { |key| write { |l| ENTRIES::Fit.step(l, key) } }

      def check(key, typed = nil) = write { |l| ENTRIES::Fit.check(l, key, typed: typed, outcome: "good") }

      def looked_at(except: [])
        write { |_, record| record.checks.sort_by { |c| c.final ? 1 : 0 } }.reject { |c| except.include?(c.key) }
                                                                           .each { |c| check(c.key, c.measured? ? "3 mm" : nil) }
      end

      def change(problem, remedy, note) = write { |l| ENTRIES::Fit.change(l, problem, remedy, note: note) }
      def settings(**marks) = marks.each { |key, text| write { |l, r| ENTRIES::Fit.setting(l, r, key.to_s, text) } }

      def taught(who, unaided: true, mistakes: [], note: nil)
        write { |l, r| ENTRIES::Teaching.show(l, who: who, unaided: unaided, shown: r.family.tasks.map(&:key), mistakes: mistakes, note: note) }
      end

      def handed_over
        write { |l, r| ENTRIES::Handing.hand_over(l, start_hours: r.family.wear["start_hours"], signed_name: r.patient.name, signature: SIGNATURE) }
      end

      def fitted(visit, days, clock, who, size:, **readings)
        at(visit, days, clock, who) do
          asked && measured(**readings)
          chosen(size, serial: "WH-#{20_500 + visit.id}") && applied && looked_at
          settings(calf: "60 mm", thigh: "68 mm", shin: "57 mm", lower_thigh: "64 mm", hinge_angle: "1")
          taught(house.patients.values.find { |p| p.id == visit.fitting.patient_id }.name) && handed_over
        end
      end

      def recheck(visit) = Store::Visit.where(fitting_id: visit.fitting_id, purpose: "recheck", closed_at: nil).order(:id).last

      def book(visit, days, clock)
        Store.at(house.time([days - 3, -1].min, "16:00")) do
          ENTRIES::Handing.book(Store::Ledger.new(visit, house.staff[:effie]), Store::VisitRecord.find(house.clinic, visit.id),
                                day: (house.today + days).iso8601, time: clock)
        end
      end

      def rechecked(visit, days, clock, who, **readings)
        at(visit, days, clock, who) do
          asked && measured(**readings)
          write { |l, r| ENTRIES::Handing.answer(l, r, "skin", "clear") }
          write { |l, r| ENTRIES::Handing.answer(l, r, "hours_worn", "6") }
          write { |l, r| ENTRIES::Handing.answer(l, r, "worn_parts", "good") }
          looked_at
          write { |l| ENTRIES::Handing.close_recheck(l) }
        end
      end
    end
  end
end
