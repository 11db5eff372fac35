# frozen_string_literal: true

# What the core says and does at the edge of what it is asked: nothing read, the first and the last
# of a run, equal readings, another kind of thing to be compared with.
RSpec.describe "Bounds of the core" do
  quantity = Handrail::Quantity
  sizing = Handrail::Sizing
  measuring = Handrail::Measuring
  followup = Handrail::Followup

  def repeats(*millimetres)
    Handrail::Measuring::Repeats.new(millimetres.map { |one| mm(one) }, resolution: mm(1))
  end

  describe "quantities" do
    {
      quantity::Length.mm(5) => quantity::Length.mm(7),
      quantity::Pressure.new(20) => quantity::Pressure.new(21),
      quantity::Angle.new(2) => quantity::Angle.new(3),
      quantity::Duration.new(60) => quantity::Duration.new(90)
    }.each do |small, large|
      it "orders #{small.class.name[/\w+\z/].downcase}s among themselves, and with nothing else" do
        expect([large, small].min).to equal small
        expect(small <=> 5).to be_nil
        expect(small == 5).to be false
      end
    end

    it "prints a span in the unit that is said" do
      said = {
        20 => "20 s",
        59 => "59 s",
        60 => "1 min",
        90 => "1.5 min",
        5400 => "90 min",
        7200 => "2 h",
        9000 => "2.5 h",
        7260 => "121 min"
      }
      expect(said.keys.map { |seconds| quantity::Duration.new(seconds).to_s }).to eq said.values
    end

    it "takes a full turn and no more" do
      expect(quantity::Angle.parse("360").degrees).to eq 360
      expect { quantity::Angle.parse("361") }.to raise_error(
        quantity::Angle::Unreadable,
        /full turn/
      )
    end

    it "names a tape by what is read from it" do
      expect(quantity::Tape["in 1/8"].name).to eq "inches, to 1/8 in"
      expect(quantity::Tape["cm 0.5"].name).to eq "centimetres, to 5 mm"
    end
  end

  describe "a profile" do
    it "is refused with fewer than two levels, or two girths at one" do
      expect { Handrail::Anatomy::Profile.new([[0, 300]]) }.to raise_error(
        ArgumentError,
        /two levels/
      )
      expect { Handrail::Anatomy::Profile.new([[0, 300], [0, 310], [50, 320]]) }.to raise_error(
        ArgumentError,
        /one girth/
      )
    end

    it "stays as it ends beyond its ends, and is the reference where nothing was read" do
      profile = Handrail::Anatomy::Profile.new([[0, 300], [100, 400]])
      expect([-50, 0, 100, 180].map { |level| profile.girth(level) }).to eq [300, 300, 400, 400]
      plain = Handrail::Anatomy::Profile.fitted([], reference: [[0, 300], [100, 400]])
      expect(
        [0, 37, 100].map { |level| plain.girth(level) - profile.girth(level) }
      ).to all be_within(1e-9).of(0)
    end
  end

  describe "tie rules" do
    let(:part) { chart("S" => { "calf" => 300..349 }, "M" => { "calf" => 350..399 }).parts.first }

    it "are four, and the one by a site needs it" do
      expect { sizing::TieRule.new("best") }.to raise_error(Handrail::Error, /no tie rule “best”/)
      expect { sizing::TieRule.new("primary") }.to raise_error(
        Handrail::Error,
        /needs a primary site/
      )
    end

    it "take the larger of several that the primary site names, and the larger of all where it names none" do
      grid =
        chart(
          {
            "S" => {
              "calf" => 300..349,
              "knee" => 300..399
            },
            "M" => {
              "calf" => 350..399,
              "knee" => 300..399
            },
            "L" => {
              "calf" => 400..449,
              "knee" => 400..499
            }
          }
        )
      rule = sizing::TieRule.new("primary", primary: "knee")
      size = ->(calf, knee) do
        grid.match(
          [reading("#{calf} mm", site: "calf"), reading("#{knee} mm", site: "knee")],
          rule: rule
        ).size
      end
      expect(size[430, 350]).to eq "M"
      expect(size[320, 350]).to eq "S"
    end
  end

  describe "a run of trial sizes" do
    let(:part) do
      chart(
        %w[40 41 42].each_with_index.to_h do |size, i|
          [size, { "foot" => (240 + (i * 7))..(246 + (i * 7)) }]
        end
      ).parts.first
    end

    def run(*trials, start: "40")
      made =
        trials.map do |size, outcome|
          Handrail::Sizing::TrialRun::Trial[size: size, outcome: outcome]
        end
      Handrail::Sizing::TrialRun.new(part, start: start, trials: made)
    end

    it "begins in the middle where the lengths say nothing, and has an end on both sides" do
      expect(run(start: nil).next).to eq "41"
      expect(run(%w[40 large])).to have_attributes(next: nil, between?: true)
      expect(run(%w[42 small])).to have_attributes(next: nil, between?: true)
      expect(run(%w[42 small]).remark.code).to eq "trial.between"
    end

    it "is between two sizes where each was wrong the other way" do
      expect(run(%w[40 small], %w[41 large])).to have_attributes(next: nil, between?: true)
      advice =
        sizing::Advice::ByTrial[
          run: run(%w[40 small], %w[41 large]),
          match: nil,
          run_names: %w[40 41 42]
        ]
      expect(advice).to have_attributes(
        size: sizing::Advice::MADE,
        verdict: "untried",
        ready?: true,
        clear?: false
      )
      expect(advice.grounds).to eq advice.remarks
    end
  end

  describe "how well a fitter repeats" do
    def said(difference)
      pairs = Array.new(12) { [350 - (difference / 2.0), 350 + (difference / 2.0)] }
      Handrail::Measuring::Repeatability.of(pairs).finding
    end

    # relative technical error = difference / sqrt 2 / mean: 1 % of 350 mm is reached at 4.95 mm,
    # 1.5 % at 7.42 mm
    it "stands beside a practised hand by the 1.0 and 1.5 % of the relative technical error" do
      expect([4.9, 7.3, 7.6].map { |difference| said(difference) }).to eq %i[alike near often]
    end
  end

  describe "what a shelf keeps" do
    it "is nothing where nothing is fitted, and refuses what is no risk and no number" do
      expect(sizing::ShelfCount.for(0, risk: 0.05)).to eq 0
      expect(sizing::ShelfCount.at_most(0, 0)).to eq 1.0
      [0, 1, -0.1, 1.5].each do |risk|
        expect do sizing::ShelfCount.for(3, risk: risk) end.to raise_error(ArgumentError, /risk/)
      end
      [-1, 10_001].each do |mean|
        expect do sizing::ShelfCount.for(mean, risk: 0.05) end.to raise_error(ArgumentError, /mean/)
      end
    end
  end

  describe "a shelf" do
    # 20 fittings until it is filled again, half of them M: a Poisson mean of 10; P(X > 15) = 0.049,
    # P(X > 14) = 0.083 (tables of the Poisson distribution, from memory; at_most says the same)
    it "keeps for the fittings that are expected, not for one" do
      expect(sizing::ShelfCount.shelf({ "M" => 0.5, "L" => 0.05 }, fittings: 20, risk: 0.05)).to eq(
        "M" => 15,
        "L" => 3
      )
      expect(sizing::ShelfCount.at_most(15, 10)).to be_within(0.001).of(0.951)
    end
  end

  describe "what a body gives" do
    it "is asked of the species that is measured" do
      site = Handrail::Anatomy::Vocabulary.default.find { |one| one.ranges.key?("dog") }
      judged = ->(species) do
        measuring::Plausibility.judge(
          site,
          site.range("dog").first,
          typed_unit: "cm",
          species: species
        )
      end
      expect(judged["dog"]).to be_plausible
      expect(
        measuring::Plausibility.judge(site, mm(900), typed_unit: "cm", species: "dog")
      ).not_to be_plausible
    end
  end

  describe "a window for a recheck" do
    it "is early, due on its first and last day, then overdue" do
      window = followup::Window[from: Date.new(2026, 3, 2), to: Date.new(2026, 3, 9)]
      days =
        %w[2026-03-01 2026-03-02 2026-03-09 2026-03-10].map do |day|
          window.state(Date.iso8601(day))
        end
      expect(days).to eq %i[early due due overdue]
    end
  end

  describe "a change of girth" do
    # single readings of 350 mm, 1 % each: 1.96 * 350 * 0.01 * sqrt 2 = 9.7 mm, and the tape's own
    # step beside it
    def found(before, now)
      change = Handrail::Followup::ChangeOfGirth.new("calf_widest", repeats(before), repeats(now))
      [change.mm, change.real?, change.error.round]
    end

    it "is none, within the error, or more than it" do
      expect(found(350, 350)).to eq [0, false, 10]
      expect(found(350, 355)).to eq [5, false, 10]
      expect(found(350, 338)).to eq [-12, true, 10]
    end
  end

  describe "two sides held against each other" do
    def pairing(here, there, kind: :sides)
      Handrail::Measuring::Pairing.new(
        repeats(here),
        repeats(there),
        kind: kind,
        names: %w[left right]
      )
    end

    it "read the same, differ within the error, or by more than is usual" do
      found = ->(*sides, **how) { pairing(*sides, **how).finding.to_h.values_at(:code, :by, :way) }
      expect(found[350, 350].first).to eq :same
      expect(found[352, 350]).to eq [:within, 2, :more]
      expect(found[340, 390]).to eq [:unusual, 50, :less]
      expect(found[340, 390, kind: :postures]).to eq [:differs, 50, :less]
    end
  end

  describe "nothing" do
    it "is no set of readings, no set of pairs, no chart" do
      expect { measuring::Repeats.new([], resolution: mm(1)) }.to raise_error(
        ArgumentError,
        /no readings/
      )
      expect { measuring::Repeatability.of([]) }.to raise_error(ArgumentError, /no pairs/)
      expect { sizing::Chart.build([]) }.to raise_error(sizing::Chart::Faulty, /no sizes/)
    end

    it "has no share" do
      nobody = sizing::Coverage.new(chart({ "S" => { "calf" => 300..349 } }), [])
      expect(nobody.share(0)).to eq 0.0
      expect(nobody.fewest(0.9)).to be_nil
    end
  end

  describe "a neighbouring size" do
    def said(value, sizes) =
      chart(sizes)
        .match([reading("#{value} mm", site: "calf")])
        .parts
        .flat_map { |part| Handrail::Sizing::Neighbours.findings(part) }
        .map { |found| [found.code, found.size.name, found.edge, found.off, found.site] }

    it "would hold the readings too, ends nearby, or is too far off to be named" do
      expect(said(345, "S" => { "calf" => 300..350 }, "M" => { "calf" => 340..400 })).to include(
        [:holds, "S", nil, nil, nil]
      )
      found = said(345, "S" => { "calf" => 300..349 }, "M" => { "calf" => 350..399 })
      expect(found).to eq [[:begins, "M", "35 cm", 5, nil]]
      expect(said(320, "S" => { "calf" => 300..349 }, "M" => { "calf" => 350..399 })).to be_empty
      expect(said(200, "S" => { "calf" => 300..349 })).to be_empty
    end
  end

  describe "a criterion" do
    it "knows its kinds, and takes the limits of each in its own unit" do
      criterion = Handrail::Fitting::Criterion
      expect { criterion.read("kind" => "colour") }.to raise_error(
        ArgumentError,
        /no kind of check called colour/
      )
      made = criterion.read("kind" => "duration", "at_most" => "10 min")
      expect([made.good?(600), made.good?(601), made.print(600)]).to eq [true, false, "10 min"]
      under = criterion.read("kind" => "score", "under" => "4")
      expect([under.good?(3), under.good?(4)]).to eq [true, false]
      over = criterion.read("kind" => "angle", "over" => "5")
      expect([over.good?(5), over.good?(6)]).to eq [false, true]
    end
  end

  describe "what is written in a file of a family" do
    it "is printed as one line, whatever it is" do
      lines =
        Handrail::Families::Difference.between(
          { "a" => nil, "b" => { "c_d" => [1, 2] } },
          { "a" => "x", "b" => { "c_d" => [1, 3] } }
        )
      expect(lines.map { |path, before, after| [Array(path).join("/"), before, after] }).to include(
        ["a", nil, "x"]
      )
    end
  end
end
