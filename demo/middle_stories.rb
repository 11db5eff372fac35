# frozen_string_literal: true

require "vips"

module Handrail
  class HeronQuay
    # Fits that are under way: one of each kind of device in which a fit is more than yes and no, each
    # left where somebody would go on.
    class MiddleStories
      include Telling

      def tell
        cosima && theo && lorne && maud && basil && tansy
      end

      private

      # a belt that dug in at the groin: its lower panel is released, and is to be looked at again
      def cosima
        visit =
          ordered(
            :cosima,
            :belt,
            nil,
            -5,
            "10:40",
            planned: [-1, "09:30"],
            indication: "hernia beside a stoma",
            pouch: "two_piece",
            stoma_side: "right",
            goes_back: "yes"
          )
        at(visit, -1, "09:35", :maren) do
          asked(care: %w[fragile_skin])
          read(
            "standing",
            abdomen_at_stoma: %w[98 98.2],
            waist_natural: "90",
            hip_mid_crest_trochanter: "97",
            bulge_to_weld_top: "10",
            stoma_to_midline: "6.5"
          )
          read("lying", abdomen_at_stoma: %w[94 94.2], belt_edge_to_stoma: "5.5")
          read("lying", unit: "mm", weld_width: "54")
          chosen(visit_now.sizing.advice.size, serial: "PE-4402") && applied
          looked_at(except: %w[groin final_look])
          check("groin", outcome: "bad")
          settings(closure: "45 mm", free_end: "95 mm")
          change("digs", "release", "on the side of the bulge", before: "closed", after: "60 mm")
          settings(released: "60 mm")
        end
      end

      # two rigid stays; the left one dug in and was bent to the back
      def theo
        visit =
          ordered(
            :theo,
            :soft_lso,
            nil,
            -6,
            "11:10",
            planned: [-1, "10:40"],
            indication: "after a disc operation",
            stays: "rigid",
            stay_count: "2"
          )
        at(visit, -1, "10:45", :dylan) do
          asked(care: %w[surgery])
          read("standing", hip_mid_crest_trochanter: %w[101 101.2], back_length: "33")
          chosen(visit_now.sizing.advice.size, serial: "HR-2208") && applied
          looked_at(except: %w[stays_free final_look])
          check("stays_free", outcome: "bad")
          change(
            "stay_digs",
            "reshape",
            "left stay, lower end",
            before: "straight",
            after: "bent 8 mm"
          )
        end
      end

      # a long leg orthosis that locks: the heel came forward as it was straightened
      def lorne
        visit =
          ordered(
            :lorne,
            :kafo,
            "right",
            -21,
            "13:00",
            planned: [-1, "13:10"],
            indication: "weak quadriceps after polio",
            cuff: "back",
            feels: "full",
            knee: "lock",
            shoe_size: "42"
          )
        at(visit, -20, "13:10", :maren) do
          asked
          read(
            "standing",
            side: "right",
            thigh_20_above_mid_patella: "47.5",
            calf_20_below_mid_patella: "28.6",
            ankle_narrowest: "22.1",
            mid_patella_height: "46",
            condyle_height: "45.4",
            malleolus_height: "8"
          )
          read("sitting", unit: "mm", side: "right", condyle_width: "98", malleolus_width: "70")
          read("standing", unit: "mm", side: "right", foot_length: "258", ball_width: "95")
        end
        at(visit, -1, "13:15", :maren) do
          chosen(visit_now.sizing.advice("right").size, serial: "TS-0907") && applied
          check("heel_seated", outcome: "bad")
          change("heel_forward", "shoe_again", "laced from the instep")
          check("heel_seated")
          check("levels", "3 mm")
        end
      end

      # both heels on a photo of their own, each with its line and its wedge
      def maud
        visit =
          ordered(
            :maud,
            :insole,
            "both",
            -5,
            "15:00",
            planned: [-1, "14:10"],
            indication: "rolling in, more on the left",
            degrees_left: "4",
            towards_left: "medial",
            degrees_right: "2",
            towards_right: "medial"
          )
        at(visit, -1, "14:15", :dylan) do
          asked
          { "left" => %w[174 58], "right" => %w[173 58] }.each do |side, (ball, heel)|
            lengths = { foot_length: "240", heel_to_ball: ball, heel_width: heel }
            read("standing", unit: "mm", side: side, **lengths)
          end
          %w[left right].each do |side|
            tried(side)
            chosen(visit_now.sizing.advice(side).size, side: side, serial: "PI-#{side[0]}77")
          end
          { "left" => 30, "right" => 12 }.each { |side, lean| heel_line(side, lean) }
          applied
        end
      end

      # the size that the lengths say is tried, and sits
      def tried(side)
        size = visit_now.sizing.trial_run(side).next
        run(:TrySize, size: size, outcome: "good", side: side)
      end

      # lean - how far the middle of the heel stands beside the Achilles tendon, in picture points
      def heel_line(side, lean)
        photo = Exchange::Photo.new(Vips::Image.new_from_file(heels).pngsave_buffer)
        made =
          COMMANDS::KeepPhoto.new({ "what" => "heel from behind", "side" => side }, photo: photo)
        command(made)
        run(
          :PlaceLine,
          line: "heel",
          moment: "before",
          side: side,
          known: "20 cm",
          photo: visit_now.body.photos.last[:id].to_s,
          points: {
            "calf" => "296,300",
            "ankle" => "290,500",
            "heel" => "#{290 + (side == "left" ? -lean : lean)},700"
          }
        )
      end

      def heels = File.join(ROOT, "demo", "heels.svg")

      # two legs, two sizes; the right heel is off its pocket
      def basil
        visit =
          ordered(
            :basil,
            :embolism_knee,
            "both",
            -1,
            "16:10",
            planned: [-1, "16:20"],
            indication: "knee operation on Thursday",
            length: "knee"
          )
        at(visit, -1, "16:25", :dylan) do
          asked
          read("raised", side: "left", calf_widest: %w[33.8 33.9], heel_to_knee_crease: "40")
          read("raised", side: "right", calf_widest: %w[38.4 38.2], heel_to_knee_crease: "40.4")
          %w[left right].each do |side|
            chosen(visit_now.sizing.advice(side).size, side: side, serial: "SC-#{side[0]}610")
          end
          applied
          visit_now
            .fit
            .checks("left")
            .each do |check, place|
              next if check.final

              check(check.key, good_value(check, place), place: place, side: "left")
            end
          check("heel_pocket", outcome: "bad", side: "right")
        end
      end

      # an old sore is the baseline; the print showed the plate too long, and it was trimmed
      def tansy
        visit =
          ordered(
            :tansy,
            :hock,
            "right",
            -16,
            "10:10",
            planned: [-1, "15:10"],
            joint: "jointed",
            indication: "heel tendon, three months after repair",
            range: "0",
            prescriber: "Vet Ida Marsden"
          )
        at(visit, -1, "15:15", :maren) do
          asked(care: %w[pressure_sores])
          read(
            "standing",
            side: "right",
            hock_above: %w[12.2 12.1],
            hock_below: "10.1",
            hindfoot_length: "7.4"
          )
          skin("214", "330", "old_sore", "7 mm", note: "from a splint")
          chosen(visit_now.sizing.advice("right").size, serial: "FH-311") && applied
          check("plate", outcome: "bad")
          change("plate_long", "trim_plate", "rounded again", before: "104 mm", after: "98 mm")
          settings(bottom: "32 mm", middle: "30 mm", top: "41 mm")
        end
      end
    end
  end
end
