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
          line(:height, height.to_r, heel: mm(:heel), degrees: wanted, towards: towards)
          line(:steps, steps.to_s, step: input(:step).to_f)
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
            piece: nil,
            missing: [Remark[code: "missing.edge", figures: { degrees: wanted }]]
          ]
        end

        def steps = (wanted / input(:step)).ceil

        def none
          one = self.class.height(mm(:heel), input(:step))
          note(:none, step: input(:step).to_f, height: one.to_r)
          sheet(size: "no correction", drawn: nil)
        end

        def nearest(height)
          stock = input(:wedges).map(&:mm).sort
          sums = (stock + stock.combination(2).map(&:sum)).uniq.sort
          best = sums.min_by { |sum| (sum.to_f - height).abs }
          gives = self.class.degrees(mm(:heel), best).round(1)
          line(:clip_on, :wedge, wedge: best, gives: gives, stock: stock)
        end

        def limit
          if input(:towards) == "lateral" && input(:outward) && wanted > input(:outward)
            note(:outward, :stop, degrees: wanted, most: input(:outward).to_f)
          end
          left = input(:limit) - wanted
          if left.negative?
            note(:over_limit, :stop, degrees: wanted, most: input(:limit).to_f)
          else
            note(:used, degrees: wanted, most: input(:limit).to_f, left: left.to_f)
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
