# frozen_string_literal: true

module Handrail
  module Store
    # Reads and sets what a fitting is made on (Visit::Pin).
    module Pin
      class << self
        # pin id => Visit::Pin. products - pin id => the id of its fitting's product
        def read(clinic_id, products)
          rows =
            Store.db[:fitting_pins]
              .where(Sequel[:fitting_pins][:clinic_id] => clinic_id)
              .where(Sequel[:fitting_pins][:id] => products.keys)
              .join(:protocols, id: :protocol_id)
              .join(:editions, id: Sequel[:fitting_pins][:edition_id])
              .select_all(:fitting_pins)
              .select_append(Sequel[:protocols][:digest], Sequel[:protocols][:text])
              .select_append(Sequel[:editions][:digest].as(:edition))
              .all
          revisions = ChartRevision.kept(rows.filter_map { |row| row[:chart_revision_id] }.uniq)
          rows.to_h do |row|
            [row[:id], pin(row, revisions[row[:chart_revision_id]], products.fetch(row[:id]))]
          end
        end

        # Pins a fitting to what holds now: the family's file, the product and its options, the
        # chart in force. at - visit_id and version of the entry that does, nothing for the order.
        # Returns the Visit::Pin.
        def set(clinic, fitting, by:, at: {}, offer: nil, current: current(clinic, fitting))
          row = {
            clinic_id: clinic.id,
            fitting_id: fitting.id,
            by: by,
            at: Store.now,
            **at,
            protocol_id: protocol(clinic, current.family),
            maker_name: current.product.maker_name,
            product_name: current.product.name,
            options: Store.json(current.product.options),
            chart_revision_id: current.revision&.id,
            methods: Store.json(current.methods),
            left_offer: offer,
            settings: Store.json(current.settings),
            edition_id: Editions.keep(clinic, current.edition)
          }
          id = Store.db[:fitting_pins].insert(**row)
          current.with(id: id, visit_id: at[:visit_id], version: at[:version], offer: offer)
        end

        # A pin as it would be had another product of its family been ordered. product - a Product
        def of_product(clinic, pin, product)
          now = current(clinic, Struct.new(:product_id).new(product.id))
          pin.with(
            product: now.product,
            revision: now.revision,
            chart: now.revision&.chart_for(pin.family),
            rule: now.rule
          )
        end

        # What a fitting would be pinned to today, as a Visit::Pin without an id. row - its product as it is now, see
        # Beside, where that was read already
        def current(clinic, fitting, row: nil)
          row ||=
            Store
              .prepared(:product_now, today: clinic.today, product: fitting.product_id) do
                Store.db[CURRENT, { today: Sequel.cast(:$today, Date), product: :$product }]
              end
              .first
          family = clinic.device_families.fetch(row[:family])
          revision = ChartRevision.kept([row[:revision]].compact)[row[:revision]]
          product =
            Handrail::Visit::Product[
              id: fitting.product_id,
              maker_name: row[:maker_name],
              name: row[:name],
              options: row[:options].to_h
            ]
          Handrail::Visit::Pin[
            family: family,
            product: product,
            revision: revision,
            chart: revision&.chart_for(family),
            rule: revision&.rule,
            methods: Methods.in_force,
            settings: clinic.choices_made.pinned(row[:family]),
            edition: Edition.current.with_words(family.words)
          ]
        end

        # a product as it is now, with the newest chart that is in force
        CURRENT = <<~SQL
          SELECT p.family, p.name, p.options, m.name AS maker_name,
                 (SELECT r.id FROM chart_revisions r WHERE r.product_id = p.id AND r.dated <= :today
                  ORDER BY r.dated DESC, r.id DESC LIMIT 1) AS revision
          FROM products p JOIN makers m ON m.id = p.maker_id WHERE p.id = :product
        SQL

        private

        def protocol(clinic, family)
          Store.db[:protocols].insert_conflict(target: %i[clinic_id digest]).insert(
            clinic_id: clinic.id,
            digest: family.digest,
            family: family.key,
            text: family.text
          )
          Store.db[:protocols].where(clinic_id: clinic.id, digest: family.digest).get(:id)
        end

        def pin(row, revision, product_id)
          family = Families::Registry.pinned(row[:digest], row[:text])
          product =
            Handrail::Visit::Product[
              id: product_id,
              maker_name: row[:maker_name],
              name: row[:product_name],
              options: row[:options].to_h
            ]
          Handrail::Visit::Pin[
            id: row[:id],
            visit_id: row[:visit_id],
            version: row[:version],
            family: family,
            product: product,
            revision: revision,
            chart: revision&.chart_for(family),
            rule: revision&.rule,
            methods: row[:methods].to_h,
            offer: row[:left_offer],
            settings: row[:settings].to_h,
            edition: Editions.of(row[:clinic_id], row[:edition])
          ]
        end
      end
    end
  end
end
