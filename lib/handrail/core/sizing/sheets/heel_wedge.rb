# frozen_string_literal: true

module Handrail
  module Sizing
    module Sheets
      # A wedge under the heel: height = heel width x tan(angle), exact trigonometry. Clip-on wedges
      # of stock heights give the angle back; more than about 6 degrees in all is for the prescriber
      # (common practice, no source).
      class HeelWedge < SheetMaker
        INPUTS = {
          heel: :length,
          degrees: :number?,
          towards: :word?,
          wedges: :lengths,
          step: :number,
          limit: :number,
          outward: :number?
        }.freeze

        TOWARDS = { "medial" => "inner", "lateral" => "outer" }.freeze

        # mm of height at a heel width in mm
        def self.height(width, degrees) = width.to_f * Math.tan(degrees * Math::PI / 180)

        # degrees that a height gives at a heel width
        def self.degrees(width, height) = Math.atan(height.to_f / width) * 180 / Math::PI

        def compute
          return none unless wanted.positive?
          return directionless unless TOWARDS.key?(input(:towards))

          height = self.class.height(mm(:heel), wanted)
          line(
            "Wedge height",
            "#{format("%.1f", height)} mm",
            "heel width #{print(mm(:heel))} x tan #{format("%g", wanted)} degrees, under the #{towards} edge"
          )
          line(
            "Bevel steps",
            steps.to_s,
            "#{format("%g", input(:step))} degrees a step, look again after each"
          )
          nearest(height)
          limit
          sheet(
            size:
              if @notes.any? { |note| note.state == :stop }
                nil
              else
                "#{format("%g", wanted)} degrees #{towards}"
              end,
            drawn: -> { piece(height) }
          )
        end

        private

        def wanted = input(:degrees).to_f
        def towards = TOWARDS.fetch(input(:towards))

        # a wedge on the wrong edge does harm: without an edge there is no wedge
        def directionless
          Sheet[
            key: self.class.key,
            title: @title,
            state: :not_done,
            size: nil,
            lines: [],
            notes: [],
            drawn: nil,
            missing: [
              "Which edge is raised, inner or outer, is still to be ordered for " \
                "#{format("%g", wanted)} degrees."
            ]
          ]
        end

        def steps = (wanted / input(:step)).ceil

        def none
          note(
            "No heel correction is ordered. In steps of #{format("%g", input(:step))} degrees, one step is " \
              "#{format("%.1f", self.class.height(mm(:heel), input(:step)))} mm at this heel."
          )
          sheet(size: "no correction", drawn: nil)
        end

        def nearest(height)
          stock = input(:wedges).map(&:mm).sort
          sums = (stock + stock.combination(2).map(&:sum)).uniq.sort
          best = sums.min_by { |sum| (sum.to_f - height).abs }
          line(
            "Clip-on wedges",
            "#{print(best)} is #{format("%.1f", self.class.degrees(mm(:heel), best))} degrees",
            "the nearest of #{stock.map { |s| print(s) }.join(" and ")} at this heel"
          )
        end

        def limit
          if input(:towards) == "lateral" && input(:outward) && wanted > input(:outward)
            note(
              "#{
                format("%g", wanted)
              } degrees outward is more than the #{format("%g", input(:outward))} that the prescriber allows.",
              :stop
            )
          end
          left = input(:limit) - wanted
          if left.negative?
            note(
              "#{
                format("%g", wanted)
              } degrees in all is more than #{format("%g", input(:limit))}: this is for the prescriber.",
              :stop
            )
          else
            note(
              "#{format("%g", wanted)} of #{format("%g", input(:limit))} degrees are used, #{
                format("%g", left)
              } are left before the prescriber is asked."
            )
          end
        end

        def piece(height)
          width = mm(:heel).to_f
          Piece[
            width: width,
            height: [height, 6].max,
            shapes: [
              [
                :outline,
                [[0, [height, 6].max], [width, [height, 6].max], [0, [height, 6].max - height]]
              ],
              [:dim, 0, [height, 6].max + 7, width, [height, 6].max + 7, print(mm(:heel))],
              [
                :dim,
                -5,
                [height, 6].max - height,
                -5,
                [height, 6].max,
                "#{format("%.1f", height)} mm"
              ]
            ].freeze
          ]
        end
      end
    end
  end
end
