# frozen_string_literal: true

module Handrail
  class HeronQuay
    # What has happened at Heron Quay: each wearer's fitting, written through the same entries as
    # the screens use.
    class Stories
      include Telling

      def tell
        ines && tobias && aurelie && samir && greta && jonas && nora && heda && pavel && lucia &&
          owen && mina
      end

      private

      # --- the wearers ---

      # due today: a first recheck, two weeks on; the calf has lost a little
      def ines
        visit = order(:ines, :hinged, "left", -13, "09:00", hours_on_feet: "7", activity: "active")
        fitted(
          visit,
          -13,
          "09:05",
          :maren,
          thigh: %w[48.6 48.4],
          knee: %w[37.5 37.6],
          calf: %w[37.0 36.9],
          size: "M",
          other: ["37.8"]
        )
        book(recheck(visit), 0, "09:00", with: :maren, room: "Quay room")
      end

      # ordered, comes today for the first time
      def tobias =
        order(
          :tobias,
          :dial,
          "right",
          -6,
          "10:15",
          planned: [0, "09:40"],
          prescriber: "Dr Oriel Tamsin"
        )

      # everything fits; he has not put it on alone yet
      def aurelie
        visit = order(:aurelie, :hinged, "right", -9, "14:00", planned: [0, "10:20"])
        at(visit, 0, "08:05", :dylan) do
          asked && measured(thigh: %w[51.2 51.0], knee: %w[39.0], calf: %w[38.9 39.1])
          chosen("L", serial: "WH-20771") && applied && looked_at
          taught(
            "Aurelie Voss",
            unaided: false,
            mistakes: %w[too_low],
            note: "Pulled it up only when reminded."
          )
        end
      end

      # between two sizes: nothing is chosen yet
      def samir
        visit = order(:samir, :hinged, "left", -4, "11:20", planned: [0, "11:00"])
        at(visit, 0, "08:30", :maren) do
          asked && measured(thigh: %w[47.0 47.2], knee: %w[36.9 36.8], calf: %w[37.5 37.6])
        end
      end

      # a reading typed in the wrong unit was asked about and put right
      def greta
        visit =
          order(:greta, :dial, "left", -5, "15:40", planned: [0, "11:40"], compartment: "lateral")
        at(visit, 0, "08:40", :dylan) do
          asked
          row = take(CALF, "14 3/8", unit: "cm").doubts.last
          run(:AnswerReading, row: row[:id], answer: "other")
          take(CALF, "14 1/2", unit: "in")
          take(THIGH, "18 3/4", unit: "in") && take(KNEE, "14 1/4", unit: "in")
          chosen("M", serial: "OD-3316")
        end
      end

      # slid down on the walk; the calf strap was moved; recheck booked for tomorrow
      def jonas
        visit = order(:jonas, :hinged, "right", -9, "09:30")
        at(visit, -9, "09:40", :maren) do
          asked && measured(thigh: %w[50.1 50.4], knee: %w[38.2], calf: %w[36.0 36.2])
          chosen("M", serial: "WH-20688") && applied && looked_at(except: %w[slip final_look])
          check("slip", "16 mm")
          change("slides_down", "reseat_calf_strap", "moved up 20 mm")
          looked_again(hinge_height: "3 mm", slip: "4 mm")
          settings(calf: "62 mm", thigh: "70 mm", shin: "58 mm", lower_thigh: "66 mm")
          taught("Jonas Thring") && handed_over
        end
        book(recheck(visit), 1, "09:20", with: :maren, room: "Long room")
      end

      # overdue: the recheck's window closed, and nothing is booked
      def nora
        visit = order(:nora, :hinged, "left", -37, "10:00")
        fitted(
          visit,
          -37,
          "10:05",
          :dylan,
          thigh: %w[44.2 44.5],
          knee: %w[35.4 35.2],
          calf: %w[33.8 33.6],
          size: "S"
        )
        book(recheck(visit), -26, "14:00", told: -30)
        missed(recheck(visit), -26, "15:10", "nobody answered the telephone")
      end

      # a stop sign at the order
      def heda
        visit = order(:heda, :double, "right", -1, "13:00")
        at(visit, -1, "13:10", :maren) do
          asked(
            stops: %w[calf_swelling],
            care: %w[surgery],
            note: "Sent back to the ward the same hour."
          )
        end
      end

      # handed over on a senior's word
      def pavel
        visit = order(:pavel, :double, "left", -18, "11:00")
        at(visit, -18, "11:10", :maren) do
          asked(care: %w[diabetes fragile_skin]) &&
            measured(thigh: %w[50.0 50.2], knee: %w[38.0 38.1], calf: %w[36.4 36.2])
          chosen("2", serial: "WD-11902") && applied && looked_at &&
            settings(calf: "55 mm", thigh: "61 mm")
          taught(
            "Pavel Brandt",
            unaided: false,
            note: "His daughter closes the thigh strap; she comes on Friday."
          )
        end
        at(visit, -18, "11:50", :ruth) do
          run(:LetPass, reason: "Daughter puts it on with him; teach-back with her on Friday.")
          handed_over
        end
        early = recheck(visit)
        rechecked(early, -8, "10:30", :maren, thigh: %w[50.1], calf: %w[36.3 36.2])
      end

      # all the way round: two rechecks held, the next in half a year
      def lucia
        visit =
          order(:lucia, :hinged, "left", -75, "09:00", compartment: "lateral", activity: "light")
        fitted(
          visit,
          -75,
          "09:10",
          :dylan,
          thigh: %w[49.0 49.2],
          knee: %w[37.0 37.1],
          calf: %w[36.6 36.4],
          size: "M",
          other: ["36.9"]
        )
        rechecked(recheck(visit), -64, "09:30", :dylan, thigh: %w[48.9 49.0], calf: %w[36.5 36.4])
        rechecked(recheck(visit), -31, "09:30", :maren, thigh: %w[48.6 48.5], calf: %w[36.1 36.2])
      end

      # comes next week
      def owen
        order(
          :owen,
          :double,
          "left",
          -2,
          "16:30",
          planned: [6, "10:00"],
          activity: "sport",
          limits: "No extension stop. Full weight bearing."
        )
      end

      # yesterday's fitting, paused: it slips, and something is to be changed
      def mina
        visit = order(:mina, :hinged, "right", -8, "12:00", planned: [-1, "15:30"])
        at(visit, -1, "15:35", :dylan) do
          asked && measured(thigh: %w[52.0 52.3], knee: %w[39.5 39.4], calf: %w[38.4 38.6])
          chosen("L", serial: "WH-20790") && applied
          check("hinge_height", "2 mm")
          %w[hinge_depth pad_on_side calf_strap_high].each { |key| check(key) }
          check("slip", "16 mm")
          says("7", "4", place: "inner side, on stairs", wants: "walk to the harbour and back")
          skin("190", "440", "mark_fades", "12 mm", note: "from an earlier sleeve")
          line("before", knee: "200,400")
        end
      end

      # the line of the right leg as points on the figure
      def line(moment, knee:)
        points = { "hip" => "170,40", "knee" => knee, "toe" => "180,640" }
        run(:PlaceLine, line: "leg", moment: moment, side: "right", known: "80 cm", points: points)
      end
    end
  end
end
