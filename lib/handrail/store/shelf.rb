# frozen_string_literal: true

module Handrail
  module Store
    # What stands on a clinic's shelf.
    module Shelf
      # product, size, side; count - on the shelf; held - reserved; least - the level set, or nil
      Line =
        Value.new(:product, :size, :side, :count, :held, :least) do
          def low? = !least.nil? && count < least
        end

      # Lines of a clinic, or of one product, by product and size.
      def self.lines(clinic, product: nil)
        where = { clinic_id: clinic.id, **(product ? { product_id: product.id } : {}) }
        counts =
          Store.db[:stock_items]
            .where(**where, state: %w[shelf reserved])
            .group_and_count(:product_id, :size, :side, :state)
            .all
            .group_by { |row| row.values_at(:product_id, :size, :side) }
        levels =
          Store.db[:stock_levels]
            .where(**where)
            .all
            .to_h { |row| [row.values_at(:product_id, :size, :side), row[:least]] }
        products = Product.where(clinic_id: clinic.id).eager(:maker).all.to_h { |p| [p.id, p] }
        (counts.keys | levels.keys)
          .map do |key|
            of = ->(state) do
              counts.fetch(key, []).find { |row| row[:state] == state }&.fetch(:count) || 0
            end
            Line[
              product: products.fetch(key[0]),
              size: key[1],
              side: key[2],
              count: of["shelf"],
              held: of["reserved"],
              least: levels[key]
            ]
          end
          .sort_by { |line| [line.product.full_name, order(line, clinic), line.side] }
      end

      # What may still be given out: pieces whose day has not passed, or that have none.
      def self.in_time(clinic)
        day = Sequel[:stock_items][:use_by]
        Sequel.|({ day => nil }, day >= clinic.today)
      end

      def self.order(line, clinic) = line.product.size_names(clinic.today).index(line.size) || 99
      private_class_method :order

      # product id => pieces on the shelf
      def self.counts(clinic)
        Store.db[:stock_items]
          .where(clinic_id: clinic.id, state: "shelf")
          .where(in_time(clinic))
          .group_and_count(:product_id)
          .as_hash(:product_id, :count)
      end

      # Where less stands than the level set, without reading charts: for the board. A statement with :clinic.
      LOW = <<~SQL
        SELECT l.product_id, m.name || ' ' || p.name AS product, l.size, l.side, l.least, count(i.id)::int AS count
        FROM stock_levels l JOIN products p ON p.id = l.product_id JOIN makers m ON m.id = p.maker_id
        LEFT JOIN stock_items i ON i.product_id = l.product_id AND i.size = l.size
          AND i.side = l.side AND i.state = 'shelf'
        WHERE l.clinic_id = :clinic GROUP BY l.product_id, m.name, p.name, l.size, l.side, l.least
        HAVING count(i.id) < l.least ORDER BY 2, 3
      SQL
    end
  end
end
