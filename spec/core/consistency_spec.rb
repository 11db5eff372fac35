# frozen_string_literal: true

require "spec_helper"
require "prop_check"

RSpec.describe Handrail::Measuring::Consistency do
  model = Handrail::Measuring::GirthModel.default
  six = Handrail::Measuring::GirthFit::SIX

  def figure(text, unit = "cm", ref: nil)
    described_class::Figure[
      mm: Handrail::Quantity::Length.parse(text.to_s, unit: unit).mm,
      text: text.to_s,
      unit: unit,
      ref: ref
    ]
  end

  def of(**sites) =
    described_class.new(
      sites.to_h { |site, text| [site.to_s, Array(text).map { |one| figure(one) }] }
    )

  # an honest adult, in cm
  let(:adult) do
    {
      waist_natural: "84",
      hip_fullest: "97",
      thigh_gluteal_fold: "56",
      knee_mid_patella: "36",
      calf_widest: "36.5",
      ankle_narrowest: "22"
    }
  end

  # Conditional mean and variance of the logarithms from solve() on the numbers of
  # knowledge/girths.yml, in mm: computed with R version 4.2.2 Patched (2022-11-10 r83330).
  [
    [
      {
        waist_natural: 84,
        hip_fullest: 97,
        thigh_gluteal_fold: 56,
        knee_mid_patella: 36,
        calf_widest: 36.5,
        ankle_narrowest: 22
      },
      {
        "waist_natural" => [777.370386, 657.747419, 918.748900],
        "hip_fullest" => [972.162349, 920.040470, 1027.237022],
        "thigh_gluteal_fold" => [563.655689, 524.201944, 606.078896],
        "knee_mid_patella" => [363.438828, 338.871379, 389.787365],
        "calf_widest" => [360.343811, 333.739557, 389.068840],
        "ankle_narrowest" => [224.996429, 205.822915, 245.956059]
      }
    ],
    [
      { calf_widest: 39, ankle_narrowest: 22.5 },
      {
        "calf_widest" => [365.189472, 330.046913, 404.073921],
        "ankle_narrowest" => [234.835684, 211.461255, 260.793867]
      }
    ],
    [
      {
        waist_natural: 70,
        hip_fullest: 95.5,
        knee_mid_patella: 35.3,
        chest_fullest: 86,
        abdomen_at_stoma: 78
      },
      {
        "waist_natural" => [687.433988, 619.877630, 762.352867],
        "chest_fullest" => [880.518071, 803.154809, 965.333288],
        "abdomen_at_stoma" => [825.769297, 740.428228, 920.946700]
      }
    ]
  ].each do |read, expected|
    it "expects what R does of #{read.keys.join(", ")}" do
      judged = of(**read)
      expected.each do |site, numbers|
        found = judged.expected(site)
        expect([found.expected, found.low, found.high]).to match(
          numbers.map { |n| be_within(1e-3).of(n) }
        )
      end
    end
  end

  it "asks nothing of an honest adult, and nothing of one site alone" do
    expect(of(**adult).question).to be_nil
    expect(of(calf_widest: "63").question).to be_nil
    expect(of(calf_widest: "63").expected("calf_widest")).to be_nil
  end

  {
    "digits the other way round" => [{ calf_widest: "63" }, "calf_widest", :digits, "36 cm"],
    "digits before a fraction" => [
      { ankle_narrowest: "32.5", calf_widest: "36.5" },
      "ankle_narrowest",
      :digits,
      "23.5 cm"
    ],
    "inches typed as centimetres" => [{ waist_natural: "33" }, "waist_natural", :unit, "33 in"],
    "ten times too much" => [{ knee_mid_patella: "365" }, "knee_mid_patella", :ten, "36.5 cm"],
    "ten times too little" => [{ knee_mid_patella: "3.65" }, "knee_mid_patella", :ten, "36.5 cm"]
  }.each do |what, (slip, site, kind, meant)|
    it "names #{what}" do
      asked = of(**adult, **slip).question
      expect([asked.site, asked.kind, asked.meant.said]).to eq [site, kind, meant]
    end
  end

  it "names two neighbouring sites that were exchanged" do
    asked = of(**adult, calf_widest: "22", ankle_narrowest: "36.5").question
    expect([asked.kind, [asked.site, asked.other].sort]).to eq [
         :site,
         %w[ankle_narrowest calf_widest]
       ]
    asked = of(**adult, thigh_gluteal_fold: "36", knee_mid_patella: "56").question
    expect([asked.kind, [asked.site, asked.other].sort]).to eq [
         :site,
         %w[knee_mid_patella thigh_gluteal_fold]
       ]
  end

  it "finds the one repeat that slipped" do
    figures = {
      "calf_widest" => [figure("36.5", ref: 1), figure("63.4", ref: 2)],
      "knee_mid_patella" => [figure("36")],
      "ankle_narrowest" => [figure("22")]
    }
    asked = described_class.new(figures).question
    expect([asked.ref, asked.meant.said]).to eq [2, "36.4 cm"]
  end

  it "asks of a limb that nothing explains, and offers nothing" do
    asked = of(**adult, calf_widest: "48.8").question
    expect([asked.site, asked.kind, asked.meant]).to eq ["calf_widest", :unlike, nil]
    expect(asked.expected.one_in).to be >= 10_000
  end

  it "is quiet where the same was answered before, and not where it is the other way" do
    judged = of(**adult, calf_widest: "48.8")
    expect(judged.question(quiet: [["calf_widest", :high]])).to be_nil
    expect(judged.question(quiet: [["calf_widest", :low]])).not_to be_nil
  end

  it "does not depend on units, on the order of sites, or on a repeat that agrees" do
    property(six) do |read|
      plain = described_class.new(read.transform_values { |cm| [figure(cm.to_s)] })
      others =
        [
          read.to_a.reverse.to_h.transform_values { |cm| [figure(cm.to_s)] },
          read.transform_values { |cm| [figure((cm * 10).round(1).to_s, "mm")] },
          read.transform_values { |cm| [figure(cm.to_s), figure(cm.to_s)] }
        ].map { |figures| described_class.new(figures) }
      read.each_key do |site|
        wanted = plain.expected(site)
        others.each do |other|
          found = other.expected(site)
          expect([found.expected, found.low]).to match [
                  be_within(1e-6).of(wanted.expected),
                  be_within(1e-6).of(wanted.low)
                ]
        end
      end
    end
  end

  it "gets no surer of a site when another is missing" do
    property(six) do |read|
      whole = described_class.new(read.transform_values { |cm| [figure(cm.to_s)] })
      less = described_class.new(read.except(six[1]).transform_values { |cm| [figure(cm.to_s)] })
      found, without = [whole, less].map { |judged| judged.expected(six[3]) }
      expect(Math.log(without.high / without.low)).to be >= Math.log(found.high / found.low) - 1e-12
    end
  end

  # a thousand people drawn from the numbers themselves, whoever they were made from
  def people(count, seed)
    normal = normal(Random.new(seed))
    root = cholesky
    model = Handrail::Measuring::GirthModel.default
    Array.new(count) do
      free = Array.new(model.sites.size) { normal.call }
      logs =
        model.mean.each_index.map do |i|
          model.mean[i] + root[i].each_index.sum { |j| j <= i ? root[i][j] * free[j] : 0 }
        end
      model.sites.zip(logs.map { |log| (Math.exp(log) / 10).round(1) }).to_h
    end
  end

  def normal(random)
    -> { Math.sqrt(-2 * Math.log(1 - random.rand)) * Math.cos(2 * Math::PI * random.rand) }
  end

  def cholesky
    covariance = Handrail::Measuring::GirthModel.default.covariance
    covariance
      .each_index
      .with_object([]) do |i, root|
        root << Array.new(covariance.size, 0.0)
        (0..i).each do |j|
          rest = covariance[i][j] - (0...j).sum { |k| root[i][k] * root[j][k] }
          root[i][j] = i == j ? Math.sqrt(rest) : rest / root[j][j]
        end
      end
  end

  it "asks about one honest person in a hundred, and about most turned digits, by simulation" do
    drawn =
      people(1000, 7).map do |person|
        person.slice(*six).transform_values { |cm| [figure(cm.to_s)] }
      end
    expect(drawn.count { |figures| described_class.new(figures).question }).to be_between(0, 15)
    turned =
      drawn.filter_map do |figures|
        text = figures["calf_widest"].first.text
        other = "#{text[1]}#{text[0]}#{text[2..]}"
        next if other == text || other.start_with?("0")

        asked = described_class.new(figures.merge("calf_widest" => [figure(other)])).question
        asked && asked.meant&.said == "#{text} cm"
      end
    expect(turned.count(true).fdiv(turned.size)).to be > 0.95
  end

  it "foretells a site that was not read, within its interval 95 times in 100" do
    within =
      people(800, 11).count do |person|
        read =
          person
            .slice("calf_widest", "knee_mid_patella")
            .transform_values { |cm| [figure(cm.to_s)] }
        found = described_class.new(read).forecast("ankle_narrowest")
        (person["ankle_narrowest"] * 10).between?(found.low, found.high)
      end
    expect(within.fdiv(800)).to be_within(0.025).of(0.95)
  end

  it "takes a site near one of the data with a doubt of its own" do
    near, exact =
      %w[calf_15_below_mid_patella calf_widest].map do |site|
        described_class.new(
          { "knee_mid_patella" => [figure("36")], "ankle_narrowest" => [figure("22")] }
        ).forecast(site)
      end
    expect(Math.log(near.high / near.low)).to be > Math.log(exact.high / exact.low)
    expect(
      described_class.new(
        { "calf_15_below_mid_patella" => [figure("63")], "knee_mid_patella" => [figure("36")] },
        near: false
      ).any?
    ).to be false
  end

  # girths of an adult's size, any of them
  def property(sites, &)
    sizes = PropCheck::Generators.choose(200..900)
    PropCheck.forall(
      PropCheck::Generators.array(sizes, min: sites.size, max: sites.size)
    ) { |values| yield(sites.zip(values.map { |mm| mm / 10.0 }).to_h) }
  end

  it "holds numbers that are a distribution: as many as sites, symmetric, and certain of nothing" do
    expect([model.mean.size, model.covariance.map(&:size).uniq]).to eq [
         model.sites.size,
         [model.sites.size]
       ]
    expect(model.covariance.transpose).to eq model.covariance
    expect(Matrix[*model.covariance].eigensystem.eigenvalues.min).to be_positive
    (model.sites + model.near.keys).each do |site|
      expect(Handrail::Anatomy::Vocabulary.default[site]).not_to be_nil, site
    end
    expect(model.thresholds.keys).to eq [*2..model.sites.size]
  end
end
