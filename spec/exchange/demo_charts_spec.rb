# frozen_string_literal: true

# The charts that ship with the demo, each as a maker's chart must be.
RSpec.describe "The demo's charts" do
  Dir[File.join(Handrail::ROOT, "demo", "charts", "*.csv")].each do |path|
    name = File.basename(path, ".csv")

    it "#{name} is sound, asks for known sites, and every size is reached" do
      scan = Handrail::Exchange::ChartFile.scan(path)
      expect(scan.faults).to be_empty
      chart = Handrail::Sizing::Chart.build(scan.rows)
      expect(chart.sites.reject { |key| Handrail::Anatomy::Vocabulary.default[key] }).to be_empty
      chart.demands.each do |demand|
        site = Handrail::Anatomy::Vocabulary.default[demand.site]
        expect(demand.posture.nil? || site.postures.include?(demand.posture)).to be(true),
        demand.to_s
        expect(demand.tension.nil? || %w[resting snug firm hard].include?(demand.tension)).to be(
          true
        ),
        demand.to_s
      end
      reached =
        chart.parts.flat_map do |part|
          part.sizes.map do |size|
            readings =
              chart.demands.map do |demand|
                band =
                  size.bands.find { |b| b.demand == demand } ||
                    chart.parts.flat_map(&:sizes).flat_map(&:bands).find { |b| b.demand == demand }
                reading(
                  "#{band.middle.to_f} mm",
                  site: demand.site,
                  posture: demand.posture,
                  tension: demand.tension
                )
              end
            match =
              chart
                .match(readings, rule: Handrail::Sizing::TieRule.new("nearest"))
                .parts
                .find { |p| p.part == part }
            [size.name, match.size&.name]
          end
        end
      expect(reached.reject { |wanted, got| wanted == got }).to be_empty
    end
  end
end
