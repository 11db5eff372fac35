# frozen_string_literal: true

module Handrail
  class HeronQuay
    # What has happened with everything but knee unloaders: trunk, stockings, feet, dogs.
    class OtherStories
      include Telling

      def tell
        berta && casimir && sunniva && gilbert && yolanda && pia && walter && odile
        stellan && marguerite && anders && joan && kit && pilot && biscuit
        edda && ruben
      end

      private

      # the hip was read at another level than the chart is made for: refused, and kept
      def berta
        visit =
          ordered(
            :berta,
            :soft_lso,
            nil,
            -3,
            "09:30",
            planned: [0, "12:30"],
            indication:
              "low back pain " \
                "after a fall",
            stays: "rigid",
            stay_count: "2"
          )
        at(visit, 0, "08:50", :maren) do
          asked(care: %w[osteoporosis]) &&
            read("standing", hip_fullest: %w[106 106.4], back_length: "33")
        end
      end

      # both legs, one size each: one on the shelf, one to be ordered
      def casimir
        visit =
          ordered(
            :casimir,
            :embolism_knee,
            "both",
            0,
            "07:50",
            planned: [0, "13:15"],
            indication:
              "hip operation " \
                "tomorrow",
            length: "knee"
          )
        at(visit, 0, "08:20", :dylan) do
          asked
          read("raised", side: "left", calf_widest: %w[36.2 36.0], heel_to_knee_crease: "41")
          read("raised", side: "right", calf_widest: %w[39.4 39.6], heel_to_knee_crease: "41.2")
          chosen("M regular", side: "left", serial: "SC-5531")
        end
      end

      # a belt beside a stoma: standing and lying, contour reversed
      def sunniva
        visit =
          ordered(
            :sunniva,
            :belt,
            nil,
            -4,
            "10:20",
            planned: [0, "14:00"],
            indication: "hernia beside a stoma",
            pouch: "one_piece",
            stoma_side: "left",
            goes_back: "yes"
          )
        at(visit, 0, "09:05", :maren) do
          asked(care: %w[fragile_skin])
          read(
            "standing",
            abdomen_at_stoma: %w[104 104.2],
            waist_natural: "98.5",
            hip_mid_crest_trochanter: "92"
          )
          read("standing", bulge_to_weld_top: "11", stoma_to_midline: "7")
          read("lying", abdomen_at_stoma: %w[99 98.8], belt_edge_to_stoma: "6")
          read("lying", unit: "mm", weld_width: "62")
        end
      end

      # 131 cm: one extension on each arm
      def gilbert
        visit =
          ordered(
            :gilbert,
            :panel,
            nil,
            -2,
            "11:00",
            planned: [1, "10:00"],
            indication: "after a compression fracture",
            moving: "log_roll"
          )
        at(visit, -1, "11:10", :dylan) do
          asked && read("lying", trunk_mid_rib_crest: %w[131 131.2]) && true
        end
      end

      # a steep calf, two millimetres from an edge
      def yolanda
        visit =
          ordered(
            :yolanda,
            :frame,
            "right",
            -5,
            "12:40",
            planned: [0, "14:40"],
            range_limited: "no",
            indication:
              "anterior cruciate " \
                "ligament",
            use: "short"
          )
        at(visit, 0, "09:20", :dylan) do
          asked && read("standing", side: "right", thigh_15_above_mid_patella: %w[51.0 51.2])
          read(
            "sitting",
            side: "right",
            knee_mid_patella: "37.8",
            calf_15_below_mid_patella: "38.7"
          )
        end
      end

      # the lengths said 41, the window of the plate said 42
      def pia
        visit =
          ordered(
            :pia,
            :insole,
            "both",
            -6,
            "15:20",
            planned: [0, "15:20"],
            indication: "rolling in, both heels",
            degrees_left: "3",
            towards_left: "medial",
            degrees_right: "3",
            towards_right: "medial"
          )
        at(visit, 0, "09:40", :maren) do
          asked
          { "left" => "188", "right" => "188.5" }.each do |side, ball|
            read(
              "standing",
              unit: "mm",
              side: side,
              foot_length: "260",
              heel_to_ball: ball,
              heel_width: "60"
            )
          end
          %w[left right]
            .product([%w[41 small], %w[42 good]])
            .each do |side, (size, outcome)|
              run(:TrySize, size: size, outcome: outcome, side: side)
            end
        end
      end

      # class 2 with the index of both legs
      def walter
        visit =
          ordered(
            :walter,
            :graduated,
            "both",
            -7,
            "09:10",
            planned: [2, "09:20"],
            indication: "swelling in the evening",
            class: "ral2",
            length: "knee"
          )
        at(visit, -1, "09:15", :maren) do
          asked(
            pressures: {
              "arm_left" => "138",
              "arm_right" => "142",
              "ankle_left_front" => "150",
              "ankle_left_back" => "146",
              "ankle_right_front" => "140",
              "ankle_right_back" => "144"
            }
          )
          %w[left right].each do |side|
            read(
              "raised",
              side: side,
              ankle_narrowest: side == "left" ? %w[23.1 23.0] : "23.6",
              calf_widest: "36.1",
              calf_below_knee: "34.8",
              height_calf_below_knee: "41"
            )
          end
        end
      end

      # a wrap, handed over, its weekly recheck booked
      def odile
        visit =
          ordered(
            :odile,
            :wrap,
            "left",
            -9,
            "10:10",
            indication: "lymphoedema of the left leg",
            target: "47.5"
          )
        at(visit, -9, "10:15", :dylan) do
          asked(pressures: { "arm_left" => "130", "ankle_left_front" => "136" })
          read(
            "raised",
            side: "left",
            ankle_narrowest: %w[25.1 25.3],
            calf_widest: %w[40.4 40.2],
            calf_below_knee: "37.6",
            ankle_to_knee_crease: "36"
          )
          chosen("M", serial: "CB-7742") && applied && looked_at
          settings(lowest: "0 mm", top: "0 mm")
          taught("Odile Brask") && handed_over
        end
        book(recheck(visit), 1, "11:40", with: :dylan, room: "Quay room")
      end

      def stellan
        visit =
          ordered(
            :stellan,
            :kafo,
            "left",
            -8,
            "13:20",
            planned: [3, "10:30"],
            indication:
              "weak quadriceps and " \
                "dropped foot",
            cuff: "back",
            feels: "reduced",
            knee: "lock",
            shoe_size: "43"
          )
        at(visit, -2, "13:30", :maren) do
          asked(care: %w[feeling])
          read(
            "standing",
            side: "left",
            thigh_20_above_mid_patella: "50.4",
            calf_20_below_mid_patella: "30.2",
            ankle_narrowest: "23.4"
          )
          read("sitting", unit: "mm", side: "left", condyle_width: "102", malleolus_width: "72")
          read(
            "standing",
            side: "left",
            mid_patella_height: "47.2",
            condyle_height: "46.5",
            malleolus_height: "8.1"
          )
          read("standing", unit: "mm", side: "left", foot_length: "268", ball_width: "99")
        end
      end

      def marguerite
        visit =
          ordered(
            :marguerite,
            :strut,
            "right",
            -6,
            "16:00",
            planned: [4, "13:00"],
            indication:
              "painful adult " \
                "scoliosis",
            pads: "with",
            chest_pad: "no"
          )
        at(visit, -2, "16:05", :dylan) do
          asked(care: %w[osteoporosis]) &&
            read(
              "standing",
              side: "right",
              waist_natural: "84",
              hip_mid_crest_trochanter: "96",
              crest_to_armpit: "25.6"
            ) && true
        end
      end

      # heavier than the harness may carry
      def anders
        ordered(
          :anders,
          :harness,
          nil,
          -1,
          "14:10",
          planned: [5, "09:00"],
          indication:
            "gait training after " \
              "a stroke",
          weight: "142"
        )
      end

      def joan
        visit =
          ordered(
            :joan,
            :cuff,
            "right",
            -3,
            "15:00",
            planned: [6, "11:00"],
            indication: "dropped foot",
            unit_side: "outer",
            switch: "wireless"
          )
        at(visit, -1, "15:05", :maren) do
          asked && read("sitting", side: "right", fibular_head: %w[34.6 34.4])
          chosen("M", serial: "LC-118")
          settings(
            upper_across: "45 mm",
            upper_down: "14 mm",
            lower_across: "28 mm",
            lower_down: "112 mm"
          )
        end
      end

      def kit
        ordered(
          :kit,
          :lace_up,
          "left",
          -1,
          "16:20",
          planned: [6, "15:00"],
          indication: "third sprain this year",
          sprain: "outer"
        )
      end

      def pilot
        visit =
          ordered(
            :pilot,
            :hock,
            "left",
            -10,
            "10:40",
            planned: [1, "15:30"],
            joint: "jointed",
            indication: "after repair of the heel tendon",
            range: "10",
            prescriber: "Vet Ida Marsden"
          )
        at(visit, -3, "10:45", :dylan) do
          asked(care: %w[surgery pressure_sores]) &&
            read(
              "standing",
              side: "left",
              hock_above: %w[11.4 11.5],
              hock_below: "9.6",
              hindfoot_length: "7.2"
            )
          skin("214", "330", "old_sore", "9 mm", note: "from the cast")
        end
      end

      # shoulder arms: the edge is at the workshop, nothing is taught until it is back
      def edda
        visit =
          ordered(
            :edda,
            :arms,
            "both",
            -12,
            "09:50",
            planned: [-1, "11:10"],
            indication: "rounded back, pain when standing",
            correction: "as far as she can hold it herself"
          )
        at(visit, -1, "11:15", :maren) do
          asked
          %w[left right].each do |side|
            read("standing", side: side, clavicle_to_shell: %w[12.5 12.4], armpit_depth: "21.5")
          end
          read("standing", chest_fullest: "92")
          %w[left right].each do |side|
            chosen(visit_now.sizing.advice(side).size, side: side, serial: "TA-#{side[0]}31")
          end
          change("edge_in_armpit", "trim", "left side, a finger's width", side: "left")
          run(
            :WriteJobSlip,
            doer: "workshop",
            what: "Trim the edge below the armpit, a finger's width",
            measures: "From the front fold to the rear fold; edge rolled outward.",
            due_on: (house.today + 2).iso8601,
            side: "left",
            problem: "edge_in_armpit",
            remedy: "trim"
          )
        end
      end

      # a wrap in the middle of its fit: two straps press more than the one below
      def ruben
        visit =
          ordered(
            :ruben,
            :wrap,
            "right",
            -2,
            "10:10",
            planned: [0, "12:00"],
            indication: "swelling after an operation",
            target: "47.5"
          )
        at(visit, 0, "08:45", :dylan) do
          asked(pressures: { "arm_left" => "128", "ankle_right_front" => "134" })
          read(
            "raised",
            side: "right",
            ankle_narrowest: %w[24.4 24.5],
            calf_widest: %w[39.2 39.1],
            calf_below_knee: "36.4",
            ankle_to_knee_crease: "36"
          )
          chosen("M", serial: "CB-7790") && applied
          pressed = %w[46 44 47 38 40 31 30 30]
          visit_now.sizing.straps.each_with_index do |strap, i|
            check("pressure", pressed[i], place: strap.key)
          end
        end
      end

      def biscuit
        ordered(
          :biscuit,
          :splint_front,
          "right",
          -1,
          "11:15",
          planned: [2, "15:00"],
          limb: "front",
          indication: "carpal sprain",
          hours: "8 hours by day, off at night",
          prescriber: "Vet Ida Marsden"
        )
      end
    end
  end
end
