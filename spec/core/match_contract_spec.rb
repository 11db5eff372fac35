# frozen_string_literal: true

# The matcher's public rules, written a second time and as plainly as can be, and held against the
# matcher on random charts.
module PlainMatcher
  RANK = %i[fits overlap between conflict above below unusable].freeze

  module_function

  # sizes - { "S" => { "calf" => [min, max] } } in order; values - { "calf" => [readings in mm] }
  # Returns [verdict, size, margin, probability].
  def match(sizes, values, tie)
    x = values.transform_values { |list| value(list) }
    verdict, candidates = verdict(sizes, x)
    size = candidates.empty? ? nil : choose(sizes, candidates, x, tie, verdict)
    [verdict, size, size && margin(sizes[size], x), size && probability(sizes[size], x, values)]
  end

  def value(list)
    sorted = list.sort
    return list.sum / list.size if list.size < 3

    if list.size.odd?
      sorted[list.size / 2]
    else
      (sorted[(list.size / 2) - 1] + sorted[list.size / 2]) / 2
    end
  end

  def verdict(sizes, x)
    holding = sizes.keys.select { |s| sizes[s].all? { |site, (a, b)| x[site].between?(a, b) } }
    return holding.size == 1 ? :fits : :overlap, holding if holding.any?

    bands = x.keys.to_h { |site| [site, sizes.map { |name, all| [name, *all[site]] }] }
    return :below, [] if x.any? { |site, v| bands[site].all? { |_, a, _| v < a } }
    return :above, [] if x.any? { |site, v| bands[site].all? { |_, _, b| v > b } }

    gaps = x.select { |site, v| bands[site].none? { |_, a, b| v.between?(a, b) } }
    if gaps.any?
      return [
        :between,
        gaps.flat_map { |site, v| around(bands[site], v) }.uniq.sort_by { |s| sizes.keys.index(s) }
      ]
    end

    [:conflict, sizes.keys.select { |s| sizes[s].any? { |site, (a, b)| x[site].between?(a, b) } }]
  end

  def around(bands, value)
    [
      bands.select { |_, _, b| b < value }.max_by { |_, _, b| b }.first,
      bands.select { |_, a, _| a > value }.min_by { |_, a, _| a }.first
    ]
  end

  def choose(sizes, candidates, x, tie, verdict)
    return candidates.last if tie == "larger"
    return candidates.first if tie == "smaller"

    cost =
      candidates.to_h do |s|
        [
          s,
          sizes[s].sum do |site, (a, b)|
            verdict == :overlap ? (x[site] - ((a + b) / 2r)).abs : [a - x[site], x[site] - b, 0].max
          end
        ]
      end
    candidates.reverse.min_by { |s| cost[s] }
  end

  def margin(bands, x) = bands.map { |site, (a, b)| [x[site] - a, b - x[site]].min }.min

  def probability(bands, x, values)
    bands
      .map do |site, (a, b)|
        s = [x[site].to_f * 0.01 / Math.sqrt(values[site].size), 1 / Math.sqrt(12)].max
        # Phi by Simpson's rule on the density, so that not even erf is shared
        simpson((a - x[site]).to_f / s, (b - x[site]).to_f / s)
      end
      .inject(:*)
  end

  def simpson(from, to, steps = 400)
    from, to = [from, to].map { |z| z.clamp(-9.0, 9.0) }
    return 0.0 if from == to

    h = (to - from) / steps
    weights =
      (0..steps).map do |i|
        (
          if i.zero? || i == steps
            1
          else
            (i.odd? ? 4 : 2)
          end
        ) * Math.exp(-((from + (i * h))**2) / 2)
      end
    weights.sum * h / 3 / Math.sqrt(2 * Math::PI)
  end
end

RSpec.describe PlainMatcher do
  # bands of increasing sizes, some with gaps, some overlapping, some meeting
  def random_sizes(random, sites)
    starts = sites.to_h { |site| [site, random.rand(200..400)] }
    (1..random.rand(1..5)).to_h do |n|
      bands =
        sites.to_h do |site|
          width = random.rand(10..50)
          low = starts[site]
          starts[site] += [width + random.rand(-8..8), 1].max
          [site, [low, low + width]]
        end
      ["size #{n}", bands]
    end
  end

  %w[larger smaller nearest].each do |tie|
    it "agrees with the matcher on verdict, size, margin and probability, tie rule #{tie}" do
      random = Random.new(tie.sum)
      seen = Hash.new(0)
      600.times do
        sites = %w[calf thigh knee].first(random.rand(1..3))
        sizes = random_sizes(random, sites)
        values =
          sites.to_h do |site|
            [site, Array.new(random.rand(1..4)) { Rational(random.rand(1800..7000), 10) }]
          end
        # most readings near each other, as repeats are
        values =
          values.transform_values do |list|
            list.map.with_index { |_, i| list.first + Rational(i * random.rand(-3..3), 10) }
          end
        expected = described_class.match(sizes, values, tie)
        readings =
          values.flat_map do |site, list|
            list.map do |v|
              Handrail::Measuring::Reading[
                site: site,
                posture: "sitting",
                tension: "snug",
                length: mm(v)
              ]
            end
          end
        match = chart(sizes).match(readings, rule: Handrail::Sizing::TieRule.new(tie))
        expect([match.verdict, match.size, match.margin]).to eq(expected.first(3)),
        "#{sizes} #{values}"
        expect(match.probability).to be_within(1e-6).of(expected.last) if match.size
        seen[match.verdict] += 1
      end
      expect(seen.keys).to include(:fits, :overlap, :between, :below, :above)
    end
  end

  it "lets the worst part count" do
    random = Random.new(11)
    200.times do
      girth = random_sizes(random, %w[calf])
      length = random_sizes(random, %w[shin])
      rows =
        { "girth" => girth, "length" => length }.flat_map do |part, sizes|
          sizes.flat_map do |size, bands|
            bands.map do |site, (a, b)|
              Handrail::Sizing::Chart::Row[
                part: part,
                size: size,
                site: site,
                min: a,
                max: b,
                unit: "mm"
              ]
            end
          end
        end
      x = {
        "calf" => [Rational(random.rand(200..600))],
        "shin" => [Rational(random.rand(200..600))]
      }
      readings = x.map { |site, (v)| Handrail::Measuring::Reading[site: site, length: mm(v)] }
      match = Handrail::Sizing::Chart.build(rows).match(readings)
      parts = [
        described_class.match(girth, x.slice("calf"), "larger"),
        described_class.match(length, x.slice("shin"), "larger")
      ]
      expect(match.verdict).to eq(
        parts.map(&:first).max_by { |verdict| described_class::RANK.index(verdict) }
      )
      expect(match.size).to eq(parts.all? { |p| p[1] } ? parts.map { |p| p[1] }.join(" ") : nil)
    end
  end

  it "never loses probability: sizes that meet share all of it" do
    random = Random.new(3)
    50.times do
      edges = Array.new(5) { random.rand(250..450) }.uniq.sort
      sizes = edges.each_cons(2).with_index.to_h { |(a, b), i| ["size #{i}", { "calf" => [a, b] }] }
      next if sizes.empty?

      x = Rational(random.rand(2500..4500), 10)
      match = chart(sizes).match([Handrail::Measuring::Reading[site: "calf", length: mm(x)]])
      sd = [x.to_f * 0.01, 1 / Math.sqrt(12)].max
      total = Handrail::Measuring::Normal.between(edges.first, edges.last, mean: x.to_f, sd: sd)
      expect(match.probabilities[""].values.sum).to be_within(1e-9).of(total)
    end
  end
end
