# frozen_string_literal: true

module Handrail
  module Web
    # Whom a product's chart serves, and what to keep on the shelf for them.
    class CoveragePage
      # chance of running out: key => [words, share]
      RISKS = {
        "20" => ["1 in 5", 0.2],
        "10" => ["1 in 10", 0.1],
        "5" => ["1 in 20", 0.05],
        "1" => ["1 in 100", 0.01]
      }.freeze
      MONTH = (1..500)

      # A size, or those whom none serves. width - of its bar in px; kind - its CSS class; apart -
      # true for no size.
      Line = Value.new(:name, :count, :percent, :width, :kind, :apart)

      attr_reader :product, :revision, :named, :fault, :cut

      # people - Arrays of Measuring::Readings; named - the file they came from, or nil for the
      # clinic's own wearers; cut - how many are counted where there are more.
      def initialize(
        clinic,
        product,
        revision,
        people,
        params: {},
        named: nil,
        fault: nil,
        cut: nil
      )
        @clinic = clinic
        @product = product
        @revision = revision
        @params = params
        @named = named
        @fault = fault
        @cut = cut
        @coverage = Sizing::Coverage.of(revision.chart, people, rule: revision.rule)
      end

      def people = @coverage.people
      def unread = @coverage.unread
      def month = Store::Inputs.whole(@params["month"], MONTH) || 8
      def risk_key = RISKS.key?(@params["risk"]) ? @params["risk"] : "5"
      def fewest = @fewest ||= @coverage.fewest(0.9)

      def sizes
        served =
          @coverage.served.map do |name, count|
            line(name, count, fewest&.sizes&.include?(name) ? "share-kept" : "share-in")
          end
        rest = [
          [Wording.t("web.between_sizes"), @coverage.between],
          [Wording.t("web.off_scale"), @coverage.off_scale]
        ]
        served + rest.map { |name, count| line(name, count, "share-out", apart: true) }
      end

      # [[size, expected a month, to keep, on the shelf], ...]
      def shelf
        shares = @coverage.served.transform_values { |count| @coverage.share(count) }
        here = Store::Shelf.lines(@clinic, product: product).to_h { |one| [one.size, one.count] }
        keep = Sizing::ShelfCount.shelf(shares, fittings: month, risk: RISKS.fetch(risk_key).last)
        keep.map { |name, number| [name, shares[name] * month, number, here.fetch(name, 0)] }
      end

      private

      def line(name, count, kind, apart: false)
        top = [*@coverage.served.values, @coverage.between, @coverage.off_scale, 1].max
        Line[
          name: name,
          count: count,
          percent: 100 * @coverage.share(count),
          width: (196.0 * count / top).round(1),
          kind: kind,
          apart: apart
        ]
      end
    end
  end
end
