# frozen_string_literal: true

require "prop_check"

# Common practice, no source, unless a line says otherwise; the arithmetic is worked by hand beside
# each.
RSpec.describe Handrail::Sizing do
  def make(key, **inputs) = described_class.sheet_maker(key).make(key, inputs)
  def lengths(*texts) = texts.map { |text| length(text) }
  def value(sheet, key) = sheet.lines.find { |line| line.key == key }&.value
  def notes(sheet) = sheet.notes.map(&:key)

  # shares and classes: RAL-GZ 387/1, from memory
  describe "residual pressure" do
    it "is the least share of the least to the most share of the most, whole mmHg, by class and length" do
      knee = make("residual_pressure", class: "ral2", length: "knee")
      expect(knee.lines.map { |line| [line.key, line.value] }).to eq [
           [:ankle, "23 to 32 mmHg"],
           [:calf, "12 to 26 mmHg"] # 23 x 0.5 = 11.5, 32 x 0.8 = 25.6
         ]
      thigh = make("residual_pressure", class: "ral3", length: "thigh")
      expect([value(thigh, :calf), value(thigh, :thigh)]).to eq [
           "17 to 32 mmHg", # 34 x 0.5, 46 x 0.7 = 32.2
           "7 to 18 mmHg" # 34 x 0.2 = 6.8, 46 x 0.4 = 18.4
         ]
    end

    it "has no upper end for class 4, and no shares for a standard that names none" do
      four = make("residual_pressure", class: "ral4", length: "thigh")
      expect([value(four, :calf), value(four, :thigh)]).to eq [
           "25 mmHg and over",
           "10 mmHg and over"
         ]
      other = make("residual_pressure", class: "bs2", length: "thigh")
      expect([other.lines, notes(other)]).to eq [[], [:no_shares]]
    end
  end

  describe "support belt" do
    let(:inputs) do
      {
        standing: length("104 cm"),
        lying: length("99 cm"),
        below_to_weld: length("11 cm"),
        weld: length("62 mm"),
        edge_to_stoma: length("6 cm"),
        waist: length("98 cm"),
        hip: length("92 cm"),
        midline: length("7 cm"),
        stoma_side: "left",
        widths: lengths("10 cm", "13 cm", "15 cm"),
        openings: lengths("57 mm", "65 mm", "70 mm"),
        overlap: length("9 cm"),
        pouch: "one_piece"
      }
    end

    it "fits lying when lying is more than 3 cm smaller, else standing" do
      expect(value(make("support_belt", **inputs), :cut)).to eq "108 cm" # 99 + 9
      expect(notes(make("support_belt", **inputs))).to include(:reduces)
      flat = make("support_belt", **inputs, lying: length("101 cm")) # 3 cm: not more than 3
      expect([value(flat, :cut), flat.state]).to eq ["113 cm", :look_again]
    end

    it "lies on the wearer by the height of the stoma, its opening on the side where that is" do
      worn = make("support_belt", **inputs).worn
      # 15 cm wide, the stoma 6 cm above its lower edge, 7 cm to the left of the middle
      expect([worn.below, worn.above, worn.opening]).to eq [60.0, 90.0, [70.0, 0.0, 65.0]]
      across = ->(**more) { make("support_belt", **inputs, **more).worn.opening&.first }
      expect(across[stoma_side: "right"]).to eq(-70.0)
      expect(across[stoma_side: "middle"]).to eq 0.0
      expect(across[midline: nil]).to be_nil
      expect(make("support_belt", **inputs, edge_to_stoma: nil).worn).to be_nil
    end

    it "takes the next stock width up from 2.5 cm above the weld, and says what a narrower one would keep" do
      sheet = make("support_belt", **inputs)
      expect(value(sheet, :width)).to eq "15 cm" # 11 + 2.5 = 13.5
      narrower = sheet.notes.find { |note| note.key == :narrower }.remark
      expect(narrower.figures).to eq(width: "13 cm", above: "20 mm")
      expect(value(make("support_belt", **inputs, widths: lengths("13 cm")), :width)).to eq "13 cm"
      # 11 + 2 = 13 is the least
      expect(make("support_belt", **inputs, widths: lengths("12.9 cm"))).to have_attributes(
        state: :stop,
        size: nil
      )
      none = make("support_belt", **inputs, widths: lengths("10 cm", "12 cm"))
      expect([none.state, none.size, notes(none)]).to match [:stop, nil, include(:no_width)]
    end

    it "gives the opening 3 to 6 mm of ease, and warns of more" do
      expect(value(make("support_belt", **inputs), :opening)).to eq "65 mm" # 62 + 3
      wide = make("support_belt", **inputs, weld: length("63 mm"))
      expect([value(wide, :opening), notes(wide)]).to match ["70 mm", include(:much_ease)]
      expect(make("support_belt", **inputs, weld: length("80 mm"))).to have_attributes(
        state: :stop,
        size: nil
      )
      expect(notes(make("support_belt", **inputs, pouch: "trim_to_fit"))).to include(:soft_pouch)
    end

    it "reverses the contour for a waist wider than the hips" do
      expect(value(make("support_belt", **inputs), :contour)).to eq :up
      expect(value(make("support_belt", **inputs, waist: length("88 cm")), :contour)).to eq :down
      expect(
        value(make("support_belt", **inputs, waist: length("92.5 cm")), :contour)
      ).to eq :straight
    end

    it "draws the piece to its lengths, the opening from the middle of the girth and from the lower edge" do
      hole = ->(**more) do
        make("support_belt", **inputs, **more).piece.shapes.find { |shape| shape.first == :hole }
      end
      expect(make("support_belt", **inputs).piece).to have_attributes(width: 1080.0, height: 150.0)
      # 9 cm of overlap, at the end that goes under
      closure =
        make("support_belt", **inputs).piece.shapes.find do |kind, *rest|
          kind == :label && rest.last == "closure"
        end
      expect(closure[1]).to be_between(1080 - 90, 1080)
      expect(hole.call).to eq [:hole, 565.0, 90.0, 65.0] # 990 / 2 + 70; 150 - 60
      expect(hole.call(stoma_side: "right")[1]).to eq 425.0
      expect(hole.call(stoma_side: "middle", midline: nil)[1]).to eq 495.0
    end

    it "cuts no opening until the distance from the midline is read" do
      sheet = make("support_belt", **inputs, midline: nil)
      expect(sheet.piece.shapes.map(&:first)).not_to include(:hole)
      expect([sheet.state, notes(sheet)]).to match [:look_again, include(:no_midline)]
    end

    it "says what is still to be read, and computes nothing" do
      sheet = make("support_belt", **inputs, lying: nil)
      lacking = [described_class::Remark[code: "missing.reading", figures: { what: "lying" }]]
      expect([sheet.state, sheet.missing, sheet.lines]).to eq [:not_done, lacking, []]
    end
  end

  describe "panel arms" do
    let(:inputs) do
      {
        back_panel: length("22 cm"),
        front_plan: length("20 cm"),
        plain_to: length("127 cm"),
        extended_to: length("178 cm"),
        belt_width: "standard",
        join: length("4 cm")
      }
    end

    # each arm = (girth - back panel - front plan) / 2
    {
      "100 cm" => ["29 cm", "standard belt, no extension"],
      "127 cm" => ["42.5 cm", "standard belt, no extension"],
      "127.1 cm" => [
        "42.6 cm",
        "standard belt, one extension " \
          "each arm"
      ],
      "131 cm" => ["44.5 cm", "standard belt, one extension each arm"],
      "178 cm" => [
        "68 cm",
        "standard belt, one extension " \
          "each arm"
      ],
      "178.1 cm" => ["68.1 cm", nil],
      "180 cm" => ["69 cm", nil]
    }.each do |girth, (arm, size)|
      it "at #{girth} is #{size || "made to measure"}" do
        sheet = make("panel_arms", girth: length(girth), **inputs)
        expect([value(sheet, :arm), sheet.size, sheet.state == :stop]).to eq [arm, size, size.nil?]
      end
    end

    it "folds each side by what the arm has over, and extends by what it lacks" do
      expect(value(make("panel_arms", girth: length("118 cm"), **inputs), :fold)).to eq "45 mm"
      expect(value(make("panel_arms", girth: length("131 cm"), **inputs), :extension)).to eq "60 mm" # 20 and 40 to join
    end

    it "makes no arm that is less than none" do
      sheet = make("panel_arms", girth: length("40 cm"), **inputs)
      expect([sheet.state, sheet.size, notes(sheet)]).to eq [:stop, nil, %i[no_arm]]
    end
  end

  describe "support belt, what can not be so" do
    let(:inputs) do
      {
        standing: length("104 cm"),
        lying: length("99 cm"),
        below_to_weld: length("11 cm"),
        weld: length("62 mm"),
        edge_to_stoma: length("6 cm"),
        waist: length("98 cm"),
        hip: length("92 cm"),
        midline: length("7 cm"),
        stoma_side: "left",
        widths: lengths("13 cm", "15 cm"),
        openings: lengths("65 mm", "70 mm"),
        overlap: length("9 cm"),
        pouch: "one_piece"
      }
    end

    it "makes no opening that cuts an edge of the belt" do
      %w[14 2].each do |at|
        sheet = make("support_belt", **inputs, edge_to_stoma: length("#{at} cm"))
        expect([sheet.state, notes(sheet)]).to match [:stop, include(:cuts_edge)]
      end
      expect(notes(make("support_belt", **inputs))).not_to include(:cuts_edge)
    end

    it "places no opening on a belt for somebody without a stoma" do
      none = make("support_belt", **inputs, pouch: "none", weld: nil, edge_to_stoma: nil)
      expect(none.lines.map(&:key)).not_to include(:opening_left, :opening_middle)
      expect(notes(none)).not_to include(:outside_up, :no_midline)
      expect(value(make("support_belt", **inputs), :opening_left)).to eq "70 mm"
    end

    it "asks for both girths again where lying is the larger" do
      sheet = make("support_belt", **inputs, lying: length("106 cm"))
      expect([sheet.state, notes(sheet)]).to match [:stop, include(:lying_larger)]
    end
  end

  describe "stays" do
    let(:inputs) do
      { casings: 6, back: length("33 cm"), lengths: lengths("28 cm", "32 cm", "36 cm") }
    end

    it "puts two in the middle pair and four in the middle pairs, marked L R or 1 to 4" do
      expect(value(make("stays", kind: "rigid", count: "2", **inputs), :pair)).to eq "3, 4"
      expect(value(make("stays", kind: "rigid", count: "2", **inputs), :marks)).to eq "L, R"
      expect(value(make("stays", kind: "rigid", count: "4", **inputs), :pairs)).to eq "2, 3, 4, 5"
      expect(value(make("stays", kind: "rigid", count: "4", **inputs), :marks)).to eq "1, 2, 3, 4"
    end

    it "never puts more than there are casings, and the same on both sides of the spine" do
      none = make("stays", kind: "rigid", count: "4", **inputs, casings: 2)
      expect([none.state, none.size, notes(none)]).to eq [:stop, nil, %i[no_casings]]
      five = ->(count) { make("stays", kind: "rigid", count: count, **inputs, casings: 5) }
      expect([value(five["2"], :pair), value(five["4"], :pairs)]).to eq ["2, 4", "1, 2, 4, 5"]
    end

    it "fits rigid stays only when they are prescribed" do
      made = make("stays", kind: "flexible", count: "4", **inputs)
      expect([made.size, made.lines.map(&:key)]).to eq ["flexible stays", %i[own_stays]]
    end

    it "takes the longest that does not pass the back length" do
      expect(make("stays", kind: "rigid", count: "2", **inputs).size).to eq "2 rigid stays of 32 cm"
      expect(
        make("stays", kind: "rigid", count: "2", **inputs, back: length("25 cm"))
      ).to have_attributes(size: nil, state: :look_again)
    end
  end

  # exact trigonometry: height = width x tan(angle)
  describe "heel wedge" do
    let(:inputs) { { wedges: lengths("2 mm", "4 mm"), step: 2, limit: 6, towards: "medial" } }
    let(:wedge) { described_class.sheet_maker("heel_wedge") }

    it "is 3.1 mm for 3 degrees at 60 mm" do
      expect(
        value(make("heel_wedge", heel: length("60 mm"), degrees: 3.0, **inputs), :height)
      ).to eq "3.1 mm"
    end

    it "acts as 2 and 4 degrees at a heel of 57 mm (common practice pair)" do
      expect(wedge.degrees(57, 2)).to be_within(0.02).of(2)
      expect(wedge.degrees(57, 4)).to be_within(0.03).of(4)
    end

    it "goes there and back for any width and angle" do
      PropCheck.forall(
        PropCheck::Generators.choose(40..95),
        PropCheck::Generators.choose(0..12)
      ) do |width, angle|
        expect(wedge.degrees(width, wedge.height(width, angle))).to be_within(1e-9).of(angle)
      end
    end

    it "makes no wedge without an edge, nor one past what is allowed outward" do
      blind = make("heel_wedge", heel: length("60 mm"), degrees: 4.0, **inputs, towards: nil)
      expect([blind.state, blind.size, blind.missing.first.code]).to match [
              :not_done,
              nil,
              "missing.edge"
            ]
      out =
        make(
          "heel_wedge",
          heel: length("60 mm"),
          degrees: 3.0,
          **inputs,
          towards: "lateral",
          outward: 2.0
        )
      expect([out.state, out.size]).to eq [:stop, nil]
      expect(notes(out)).to end_with(:outward, :used)
      expect(
        make(
          "heel_wedge",
          heel: length("60 mm"),
          degrees: 2.0,
          **inputs,
          towards: "lateral",
          outward: 2.0
        ).size
      ).to eq "2 degrees outer"
    end

    # 1 degree is 1 mm at 60 mm: the least clip of 2 mm gives 1.9, a bevel of 2 degrees 2 (trigonometry)
    it "says what stock and whole steps give over or under" do
      made = ->(degrees, heel = "60 mm") do
        notes(make("heel_wedge", heel: length(heel), degrees: degrees, **inputs))
      end
      expect(made[1.0]).to include(:clip_over, :bevel_over)
      expect(made[3.0]).to include(:clip_over, :bevel_over)
      # two wedges of 2 and 4 mm give 4.3 degrees at 80 mm
      expect(made[6.0, "80 mm"]).to include(:clip_under)
      expect(made[4.0]).not_to include(:bevel_over, :bevel_under)
    end

    it "keeps the running total against the limit" do
      used = make("heel_wedge", heel: length("60 mm"), degrees: 6.0, **inputs).notes.last
      expect([used.key, used.remark.figures]).to eq [:used, { degrees: 6.0, most: 6.0, left: 0.0 }]
      expect(make("heel_wedge", heel: length("60 mm"), degrees: 6.5, **inputs)).to have_attributes(
        state: :stop,
        size: nil
      )
      expect(make("heel_wedge", heel: length("60 mm"), **inputs).size).to eq "no correction"
    end
  end

  describe "wrap straps" do
    let(:inputs) do
      {
        ankle: length("26 cm"),
        below_knee: length("37 cm"),
        strap_width: length("10 cm"),
        strap_overlap: length("4 cm"),
        supplied: 5,
        closure: length("8 cm")
      }
    end

    it "counts the straps that cover the leg, and adds some for a long one" do
      # 10 cm and then 6 cm more each; two fingers below the crease stay free: 38 cm are reached by 5
      expect(make("wrap_straps", length: length("38 cm"), **inputs).size).to eq "straps as supplied"
      expect(make("wrap_straps", length: length("35 cm"), **inputs).count).to eq 5
      long = make("wrap_straps", length: length("40 cm"), **inputs)
      expect([long.size, value(long, :added)]).to eq ["1 strap added", "45 cm"]
    end

    it "refuses straps that would lie wholly over one another" do
      sheet = make("wrap_straps", length: length("34 cm"), **inputs, strap_overlap: length("10 cm"))
      expect([sheet.state, sheet.size, sheet.count]).to eq [:stop, nil, nil]
    end

    it "aims at a pressure that never rises upward, from 45 to 50 mmHg to about 30" do
      targets = Array.new(6) { |i| described_class.sheet_maker("wrap_straps").target(i, 6) }
      expect([targets.first, targets.last]).to match [be_between(45, 50), 30]
      expect(targets).to eq targets.sort.reverse
    end
  end

  describe "strap ends" do
    it "trims a long strap and asks for a longer one on a big limb" do
      sheet =
        make(
          "strap_ends",
          thigh: length("60 cm"),
          calf: length("36 cm"),
          thigh_strap: length("46 cm"),
          calf_strap: length("36 cm"),
          tab: length("6 cm")
        )
      expect(sheet.size).to eq "thigh strap 50 mm longer, calf strap trimmed by 30 mm"
    end
  end

  it "names the KAFO's levels 20 cm above and below mid patella, and refuses heights that can not be" do
    inputs = {
      patella: length("46 cm"),
      condyle: length("45.5 cm"),
      malleolus: length("8 cm"),
      foot: length("25 cm"),
      foot_width: length("96 mm"),
      condyle_width: length("10 cm"),
      malleolus_width: length("7 cm"),
      toe_room: length("8 mm")
    }
    sheet = make("kafo_levels", **inputs)
    expect([value(sheet, :thigh), value(sheet, :calf), value(sheet, :foot_plate)]).to eq [
         "66 cm",
         "26 cm",
         "25.8 cm"
       ]
    expect([value(sheet, :knee), value(sheet, :ankle), sheet.state]).to eq [
         "45.5 cm",
         "80 mm",
         :good
       ]
    expect(
      value(make("kafo_levels", **inputs, thigh_girth: length("50 cm")), :thigh_girth)
    ).to eq "50 cm"
    expect(make("kafo_levels", **inputs, condyle: length("40.9 cm")).state).to eq :look_again # 51 mm below mid patella
    expect(make("kafo_levels", **inputs, condyle: length("50.5 cm")).state).to eq :look_again # 45 mm above it
    expect(make("kafo_levels", **inputs, malleolus: length("30 cm"))).to have_attributes(
      state: :stop,
      size: nil
    )
  end

  it "draws the KAFO on this wearer's leg: cuffs at their levels and as wide as the limb, the plate as long as " \
       "the foot" do
    inputs = {
      patella: length("46 cm"),
      condyle: length("45.5 cm"),
      malleolus: length("8 cm"),
      foot: length("25 cm"),
      foot_width: length("9 cm"),
      condyle_width: length("10 cm"),
      malleolus_width: length("7 cm"),
      toe_room: length("8 mm")
    }
    piece = ->(**more) { make("kafo_levels", **inputs, **more).piece }
    cuffs = ->(drawn) { drawn.shapes.select { |kind, *| kind == :cuff } }
    drawn = piece[thigh_girth: length("50 cm"), calf_girth: length("30 cm")]
    # thigh 66 cm, calf 26 cm above the floor
    expect(cuffs[drawn].map { |_, _, _, y, _| drawn.height - y }).to eq [660, 260]
    wide = cuffs[drawn].map { |_, left, right, *| right - left }
    more =
      cuffs[
        piece[thigh_girth: length("60 cm"), calf_girth: length("30 cm")]
      ].map { |_, left, right, *| right - left }
    expect(more.first / wide.first).to be_within(0.02).of(60.0 / 50)
    expect(more.last).to be_within(1).of(wide.last)
    plate =
      drawn.shapes.find { |kind, points| kind == :strip && points.map(&:last).uniq.size == 1 }.last
    expect((plate.last.first - plate.first.first).abs).to eq 258
  end

  describe Handrail::Sizing::TrialRun do
    let(:part) do
      chart(
        ("38".."43").each_with_index.to_h do |size, i|
          [size, { "foot" => (240 + (i * 7))..(246 + (i * 7)) }]
        end
      ).parts.first
    end

    def run(*trials, start: "40")
      described_class.new(
        part,
        start: start,
        trials: trials.map { |size, outcome| described_class::Trial[size: size, outcome: outcome] }
      )
    end

    it "starts where the lengths say, goes up when small and down when large, and is decided by the body" do
      expect([run.next, run(%w[40 small]).next, run(%w[40 large]).next]).to eq %w[40 41 39]
      expect(run(%w[40 small], %w[41 good])).to have_attributes(
        confirmed: "41",
        next: nil,
        remark:
          Handrail::Sizing::Remark[
            code: "trial.decided_otherwise",
            figures: {
              size: "41",
              start: "40"
            }
          ]
      )
    end

    it "ends between two sizes, and at the end of the run" do
      expect(run(%w[40 small], %w[41 large])).to have_attributes(next: nil, between?: true)
      expect(run(%w[43 small])).to have_attributes(next: nil, between?: true)
    end
  end
end
