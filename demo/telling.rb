# frozen_string_literal: true

require_relative "looking"

module Handrail
  class HeronQuay
    # How the stories are told: commands run one after the other, at the clinic's past times.
    module Telling
      include Looking

      COMMANDS = Store::Commands
      CALF = "calf_15_below_mid_patella"
      THIGH = "thigh_15_above_mid_patella"
      KNEE = "knee_mid_patella"
      SIGNATURE =
        "M 20 70 L 34 42 L 46 30 L 52 40 L 44 66 L 58 52 L 70 48 L 74 62 L 88 44 L 98 60 L 112 46 " \
          "L 126 58 " \
          "L 150 40 L 178 52 L 214 44"

      def initialize(clinic)
        @house = clinic
      end

      private

      attr_reader :house

      # An order for a knee unloader.
      def order(who, product, side, days, clock, planned: nil, compartment: "medial", **fields)
        prescriber = fields.delete(:prescriber) || "Dr Ansel Weatherby"
        ordered(
          who,
          product,
          side,
          days,
          clock,
          planned: planned,
          prescriber: prescriber,
          compartment: compartment,
          indication:
            "knee arthrosis, " \
              "#{compartment == "medial" ? "inner" : "outer"} side",
          **fields
        )
      end

      # An order for any product.
      def ordered(
        who,
        product,
        side,
        days,
        clock,
        planned: nil,
        prescriber: "Dr Oriel Tamsin",
        **fields
      )
        product = house.products.fetch(product)
        form = {
          "patient" => house.patients.fetch(who).id,
          "family" => product.family,
          "product_id" => product.id,
          "side" => side,
          "prescriber" => prescriber,
          "prescribed_on" => (house.today + days).iso8601,
          "fields" => fields.transform_keys(&:to_s)
        }
        Store.at(house.time(days, clock)) do
          command = COMMANDS::WriteOrder.new(form, planned_for: planned && house.time(*planned))
          written = Store::Desk.new(house.clinic, house.staff[:maren]).run(command)
          Store::Visit[written["visit"]]
        end
      end

      # Everything written inside happens at this visit, a minute apart.
      def at(visit, days, clock, who)
        @visit = visit
        @who = house.staff.fetch(who)
        @time = house.time(days, clock)
        yield
      end

      # Runs a command at the visit, and returns the visit as it then stands.
      def run(command, **params)
        command(COMMANDS.const_get(command).new(params))
      end

      # The same of a command that was made already.
      def command(made)
        @time += 60
        Store.at(@time) { @now = Store::Ledger.new(@visit, @who).run(made).visit }
      end

      # The visit as it stands.
      def visit_now = @now = Store::Visits.find(house.clinic, @visit.id)

      def asked(stops: [], care: [], note: nil, **found)
        run(:AskCautions, identity: "yes", stops: stops, care: care, note: note, **found)
      end

      def take(site, typed, unit: "cm", side: nil, **how)
        run(
          :TakeReading,
          site: site.to_s,
          side: side || visit_now.sides.first,
          value: typed,
          unit: unit,
          **how
        )
      end

      # Readings of any site: texts by site, in the posture asked for or the one given.
      def read(posture = nil, unit: "cm", side: nil, tension: nil, **sites)
        how = { posture: posture, tension: tension }.compact
        sites.each do |site, texts|
          Array(texts).each { |text| take(site, text, unit: unit, side: side, **how) }
        end
      end

      def measured(thigh: [], knee: [], calf: [], other: [])
        { THIGH => thigh, KNEE => knee, CALF => calf }.each do |site, texts|
          texts.each { |text| take(site, text) }
        end
        other.each { |text| take(CALF, text, side: visit_now.other_side) }
      end

      def chosen(size, serial: nil, side: nil, why: "held against the leg")
        run(:ChooseSize, size: size, why: why, side: side)
        serial ? run(:IssueDevice, serial: serial, side: side) : true
      end

      def applied
        visit_now.sides.each do |side|
          visit_now
            .fit
            .applying(side)
            .steps
            .each do |step|
              looked_first(step, side)
              run(:FinishStep, step: step.key, side: side, sure: step.for_good && "yes")
            end
        end
      end

      # what is seen to be good before a step
      def looked_first(step, side)
        visit_now
          .fit
          .applying(side)
          .unlooked(step, visit_now.fit.checklist(side))
          .each do |item|
            run(:RecordCheck, check: item.check.key, side: side, place: item.place, outcome: "good")
          end
      end

      # answers to the recheck's questions, of each device of a pair
      def answered(**answers)
        visit_now.sides.each do |side|
          answers.each do |field, answer|
            run(:AnswerRecheck, field: field.to_s, answer: answer, side: side)
          end
        end
      end

      def change(problem, remedy, note, side: nil, **values)
        sure = { sure: "yes" }
        run(
          :ChangeOneThing,
          problem: problem,
          remedy: remedy,
          note: note,
          side: side,
          **sure,
          **values
        )
      end

      def settings(**marks) = run(:WriteSettings, settings: marks.transform_keys(&:to_s))

      def taught(who, unaided: true, mistakes: [], note: nil)
        run(
          :RecordTeachBack,
          who: who,
          unaided: unaided,
          shown: visit_now.tasks.map(&:key),
          mistakes: mistakes,
          note: note
        )
      end

      # what the wearer says of their pain
      def says(without, with = nil, **more)
        run(:WriteWord, pain_without: without, pain_with: with, **more)
      end

      # a place on the skin; x, y - in the figure's frame
      def skin(x, y, kind, size = nil, **more)
        run(:RecordSkin, x: x, y: y, kind: kind, size: size, **more)
      end

      def handed_over
        visit = visit_now
        plan = visit.family.wear["break_in"]
        initials = visit.patient.name.split.map { |word| word[0] }.join
        run(
          :HandOverDevice,
          plan: plan&.transform_values(&:to_s),
          statements: {
            "0" => "I have received it.",
            "1" => "It was shown to me, and I have done it myself."
          },
          initials: {
            "0" => initials,
            "1" => initials
          },
          start_hours: visit.family.wear["start_hours"],
          signed_name: visit.patient.name,
          signature: SIGNATURE
        )
      end

      def fitted(visit, days, clock, who, size:, **readings)
        at(visit, days, clock, who) do
          asked && measured(**readings)
          says("6", "3", place: "on the worn side", wants: "longer walks")
          chosen(size, serial: "WH-#{20_500 + visit.id}") && applied && looked_at
          settings(
            calf: "60 mm",
            thigh: "68 mm",
            shin: "57 mm",
            lower_thigh: "64 mm",
            hinge_angle: "1"
          )
          taught(house.patients.values.find { |p| p.id == visit.fitting.patient_id }.name) &&
            handed_over
        end
      end

      def recheck(visit)
        Store::Visit
          .where(fitting_id: visit.fitting_id, purpose: "recheck", closed_at: nil)
          .order(:id)
          .last
      end

      # with - the key of a fitter; room - its name; told - days from today on which it was booked
      def book(visit, days, clock, with: nil, room: nil, told: [days - 3, -1].min)
        Store.at(house.time(told, "16:00")) do
          command =
            COMMANDS::BookVisit.new(
              day: (house.today + days).iso8601,
              time: clock,
              with: with && house.staff.fetch(with).id,
              room: room
            )
          Store::Ledger.new(visit, house.staff[:effie]).run(command)
        end
      end

      # a booked visit to which nobody came; days from today on which that was written
      def missed(visit, days, clock, note)
        Store.at(house.time(days, clock)) do
          command = COMMANDS::MissVisit.new(why: "no_show", note: note)
          Store::Ledger.new(visit.refresh, house.staff[:effie]).run(command)
        end
      end

      def rechecked(visit, days, clock, who, **readings)
        at(visit, days, clock, who) do
          asked && measured(**readings)
          answered(skin: "clear", hours_worn: "6", worn_parts: "good")
          looked_at
          run(:CloseRecheck)
        end
      end
    end
  end
end
