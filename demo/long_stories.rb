# frozen_string_literal: true

module Handrail
  class HeronQuay
    # What shows only over months: two years of one wearer whose size is about to end, a place on the
    # skin that heals, one that does not, and one who never came back.
    class LongStories
      include Telling

      # days from today, who, calf, thigh, pain with it, hours a day
      OTTOLINE = [
        [-724, :maren, %w[37.2 37.1], %w[50.5], "5", "3"],
        [-693, :dylan, %w[37.0 37.1], %w[50.3], "4", "5"],
        [-511, :maren, %w[36.7 36.8], %w[49.8], "4", "6"],
        [-329, :maren, %w[36.4 36.3], %w[49.5], "3", "7"],
        [-147, :dylan, %w[35.8 35.9], %w[49.0], "2", "8"]
      ].freeze

      # days from today => parts that were new then
      RENEWED = { -329 => %w[pads straps], -147 => %w[pads] }.freeze

      def tell
        ottoline && bram && wenna && ivo
      end

      private

      # two years in the same brace: the pain went, the calf with it, and the size ends soon
      def ottoline
        visit = order(:ottoline, :hinged, "right", -735, "09:00", activity: "active")
        fitted(
          visit,
          -735,
          "09:10",
          :maren,
          thigh: %w[50.6 50.4],
          knee: %w[38.1 38.0],
          calf: %w[37.2 37.3],
          size: "M"
        )
        OTTOLINE.each do |days, who, calf, thigh, pain, hours|
          seen(recheck(visit), days, who, calf: calf, thigh: thigh, pain: pain, hours: hours)
        end
      end

      def seen(visit, days, who, calf:, thigh:, pain:, hours:)
        at(visit, days, "10:40", who) do
          asked && measured(thigh: thigh, calf: calf)
          says("6", pain)
          answered(skin: "clear", hours_worn: hours, worn_parts: "good")
          looked_at
          run(:CloseRecheck)
          RENEWED.fetch(days, []).each { |part| run(:RenewPart, part: part, note: "worn flat") }
        end
      end

      # a mark that stayed: off until the prescriber had been asked, a strap moved, and smaller since
      def bram
        visit = order(:bram, :hinged, "left", -52, "11:00")
        fitted(
          visit,
          -52,
          "11:10",
          :dylan,
          thigh: %w[48.9 49.1],
          knee: %w[37.4 37.4],
          calf: %w[36.5 36.7],
          size: "M"
        )
        at(recheck(visit), -41, "09:40", :dylan) do
          asked && measured(thigh: %w[48.8], calf: %w[36.5 36.6])
          skin(
            "196",
            "418",
            "mark_stays",
            "14 mm",
            note: "under the calf strap, an hour after it came off"
          )
          run(
            :RecordStopAction,
            stop: visit_now.safety.stops.first.key,
            action: "advised",
            who: "Dr Ansel Weatherby, by telephone",
            advice: "Off for three days, then two hours a day with the strap one finger looser."
          )
          closed_with(hours: "4")
        end
        at(recheck(visit), -9, "09:40", :dylan) do
          asked && measured(thigh: %w[48.7], calf: %w[36.4 36.5])
          place = visit_now.body.skin.first
          run(
            :RecordSkin,
            follows: place.last[:id].to_s,
            course: "smaller",
            kind: "mark_fades",
            size: "6 mm",
            note: "gone after ten minutes"
          )
          closed_with(hours: "5")
        end
      end

      # a mark that fades each time, and was no smaller two weeks later; nobody has booked her since
      def wenna
        visit = order(:wenna, :hinged, "right", -47, "10:00")
        fitted(
          visit,
          -47,
          "10:10",
          :maren,
          thigh: %w[47.8 47.7],
          knee: %w[36.9 37.0],
          calf: %w[36.4 36.3],
          size: "M"
        )
        at(recheck(visit), -36, "10:20", :maren) do
          asked && measured(thigh: %w[47.7], calf: %w[36.3 36.4])
          skin(
            "182",
            "300",
            "mark_fades",
            "11 mm",
            note: "upper edge of the frame, gone in 20 minutes"
          )
          closed_with(hours: "6")
        end
        at(recheck(visit), -8, "10:20", :dylan) do
          asked && measured(thigh: %w[47.7], calf: %w[36.4 36.3])
          place = visit_now.body.skin.first
          run(:RecordSkin, follows: place.last[:id].to_s, course: "same", size: "11 mm")
          closed_with(hours: "6")
        end
      end

      def closed_with(hours:)
        answered(skin: "clear", hours_worn: hours, worn_parts: "good")
        looked_at
        run(:CloseRecheck)
      end

      # handed over, and not seen since
      def ivo
        visit = order(:ivo, :hinged, "left", -131, "15:00")
        fitted(
          visit,
          -131,
          "15:10",
          :maren,
          thigh: %w[46.2 46.0],
          knee: %w[36.0 36.1],
          calf: %w[35.9 36.0],
          size: "M"
        )
      end
    end
  end
end
