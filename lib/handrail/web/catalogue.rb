# frozen_string_literal: true

module Handrail
  module Web
    # Makers, products, their charts and the shelf.
    class Catalogue < Base
      get "/?" do
        family = Families::Shelf.all[params["family"]]
        products = Store::Product.where(clinic_id: clinic.id).eager(:maker).order(:family, :id).all
        products = products.select { |product| product.family == family.key } if family
        revisions = Store::ChartRevision.in_force(products.map(&:id), on: today)
        erb :"catalogue/list", locals: { products: products, revisions: revisions, family: family, shelf: Store::Shelf.counts(clinic) }
      end

      get "/new" do
        senior!
        product_form({}, {})
      end

      post "/?" do
        senior!
        redirect "/catalogue/#{Store::Entries::Catalogue.create(clinic, account, params).id}", 303
      rescue Store::Faults => e
        status 422
        product_form(params, e.fields)
      end

      get("/:id") { product_page(product!) }

      post "/:id" do
        senior!
        product = product!
        Store::Entries::Catalogue.update(account, product, params)
        redirect "/catalogue/#{product.id}", 303
      rescue Store::Faults => e
        status 422
        product_page(product!, faults: e.fields, typed: params)
      end

      get "/:id/chart" do
        senior!
        product = product!
        revision = product.revision(today)
        editor(product, ChartDraft.of(revision ? revision.rows : []),
               { "dated" => Quantity::Day.write(today), "tie_rule" => revision&.tie_rule || "larger", "primary_site" => revision&.primary_site })
      end

      # the tapes and findings for what is typed, while it is typed
      post "/:id/chart/look" do
        senior!
        draft = ChartDraft.from(params)
        erb :"catalogue/look", layout: false, locals: { draft: draft, grips: true, rule: rule(params) }
      end

      post "/:id/chart" do
        senior!
        product = product!
        draft = ChartDraft.from(params)
        raise(Store::Faults, draft.faults.each_with_index.to_h { |text, i| ["typed #{i}", text] }) if draft.faults.any?

        Store::Entries::Catalogue.chart(account, product, draft.rows, dated: params["dated"], tie_rule: params["tie_rule"],
                                                                      primary_site: params["primary_site"])
        redirect "/catalogue/#{product.id}", 303
      rescue Store::Faults => e
        status 422
        editor(product!, ChartDraft.from(params), params, faults: e.fields.values)
      end

      # a maker's file: refused with every fault named, or shown in the editor beside what it would change; nothing is kept yet
      post "/:id/import" do
        senior!
        product = product!
        upload = params["file"]
        unless upload.is_a?(Hash) && upload[:tempfile]
          return import_refused(product,
                                ["Choose a file: a CSV with the columns #{Exchange::ChartFile::COLUMNS.join(', ')}, or a data package."])
        end

        import(product, upload[:tempfile].path, upload[:filename].to_s)
      end

      get "/:id/chart.csv" do
        product = product!
        attachment "#{product.full_name.downcase.tr(' ', '-')}.csv"
        content_type "text/csv", charset: "utf-8"
        Exchange::ChartFile.write(found(product.revision(today)).rows)
      end

      get "/:id/chart.zip" do
        product = product!
        revision = found(product.revision(today))
        attachment "#{product.full_name.downcase.tr(' ', '-')}.zip"
        content_type "application/zip"
        Exchange::DataPackage.zip(Exchange::DataPackage.descriptor(**described(product, revision)), revision.rows)
      end

      get "/:id/datapackage.json" do
        product = product!
        revision = found(product.revision(today))
        content_type "application/json"
        JSON.pretty_generate(Exchange::DataPackage.descriptor(**described(product, revision), rows: revision.rows))
      end

      get "/:id/coverage" do
        clinical!
        coverage(product!, nil)
      end

      # the same for an uploaded file of readings
      post "/:id/coverage" do
        clinical!
        upload = params["file"]
        unless upload.is_a?(Hash) && upload[:tempfile]
          return coverage(product!, nil,
                          fault: "Choose a CSV with the columns #{Exchange::ReadingsFile::COLUMNS.join(', ')}.")
        end

        people = []
        Exchange::ReadingsFile.new(upload[:tempfile].path, name: upload[:filename].to_s).each_person(again: -> { people.clear }) { |_, readings| people << readings }
        coverage(product!, people, named: upload[:filename].to_s)
      rescue Exchange::CSVTable::Faulty => e
        status 422
        coverage(product!, nil, fault: e.message)
      end

      post("/:id/stock") { shelf { |product| Store::Entries::Stock.receive(clinic, account, product, size: params["size"].to_s, side: params["side"], count: params["count"], lot: params["lot"]) } }
      post("/:id/levels") { shelf { |product| Store::Entries::Stock.level(clinic, account, product, size: params["size"].to_s, side: params["side"], least: params["least"]) } }
      post("/:id/back") { shelf { Store::Entries::Stock.put_back(clinic, account, params["item"]) } }

      not_found { raw(ErrorPages.page(404)) }

      helpers do
        def product! = found(Store::Product.where(clinic_id: clinic.id, id: Integer(params["id"], 10, exception: false)).first)

        def rule(form)
          Sizing::TieRule.new(form["tie_rule"] || "larger", primary: form["primary_site"].to_s.empty? ? nil : form["primary_site"])
        rescue Handrail::Error
          Sizing::TieRule.new
        end

        def product_form(values, faults)
          family = Families::Shelf.all[values["family"] || params["family"]] || Families::Shelf.all.values.first
          erb :"catalogue/new", locals: { family: family, values: values, faults: faults }
        end

        def product_page(product, faults: {}, typed: {})
          revision = product.revision(today)
          held = Store.db[:stock_items].where(clinic_id: clinic.id, product_id: product.id,
                                              state: %w[reserved taken]).order(:id).reverse.limit(12).all
          names = Store::Patient.join(:fittings, patient_id: :id).where(Sequel[:fittings][:id] => held.map do |row|
            row[:fitting_id]
          end).select_hash(Sequel[:fittings][:id], %i[given_name family_name])
          erb :"catalogue/product", locals: {
            product: product, revision: revision, draft: ChartDraft.of(revision ? revision.rows : []),
            faults: faults, typed: typed, held: held, names: names,
            revisions: Store::ChartRevision.where(product_id: product.id).reverse(:dated).all, lines: Store::Shelf.lines(clinic, product: product)
          }
        end

        def editor(product, draft, values, faults: [], before: nil, after: nil, source: nil)
          erb :"catalogue/chart",
              locals: { product: product, draft: draft, values: values, faults: faults, before: before, after: after, source: source,
                        rule: rule(values) }
        end

        def import(product, path, name)
          json = name.match?(/\.(zip|json)\z/i)
          scan, meta = if json
                         Exchange::DataPackage.open(path, name: name) do |csv, d|
                           [Exchange::ChartFile.scan(csv, name: name), d["size_chart"] || {}]
                         end
                       else
                         [Exchange::ChartFile.scan(path, name: name), {}]
                       end
          return import_refused(product, scan.faults) unless scan.usable?

          revision = product.revision(today)
          values = { "dated" => Quantity::Day.write(today), "tie_rule" => meta["tie_rule"] || revision&.tie_rule || "larger", "primary_site" => meta["primary_site"] || revision&.primary_site }
          after = Sizing::Chart.build(scan.rows)
          before = revision && covered(revision.chart, revision.rule, wearers(revision.chart))
          editor(product, ChartDraft.of(scan.rows), values, source: name, before: before, after: covered(after, rule(values), wearers(after)))
        rescue Exchange::DataPackage::Faulty => e
          import_refused(product, [e.message])
        end

        def import_refused(product, faults)
          status 422
          product_page(product, faults: { "import" => faults })
        end

        def wearers(chart) = Store::Catalogue.wearers(clinic, chart)
        def covered(chart, rule, people) = Sizing::Coverage.new(chart, people.map { |readings| chart.match(readings, rule: rule) })

        def coverage(product, people, named: nil, fault: nil)
          revision = found(product.revision(today))
          chart = revision.chart
          month = Integer(params["month"].to_s, 10, exception: false)&.clamp(1, 500) || 8
          risk = { "20" => 0.2, "10" => 0.1, "5" => 0.05, "1" => 0.01 }.fetch(params["risk"].to_s, 0.05)
          found = covered(chart, revision.rule, people || wearers(chart))
          erb :"catalogue/coverage", locals: { product: product, revision: revision, coverage: found, month: month, risk: risk,
                                               named: named, fault: fault,
                                               lines: Store::Shelf.lines(clinic, product: product) }
        end

        def described(product, revision)
          { name: product.name, maker: product.maker.name, family: product.family, dated: revision.dated, tie_rule: revision.tie_rule,
            primary: revision.primary_site }
        end

        def shelf
          product = product!
          yield product
          redirect "/catalogue/#{product.id}#shelf", 303
        rescue Store::Faults => e
          status 422
          product_page(product!, faults: e.fields, typed: params)
        rescue Store::Unacceptable => e
          status 422
          product_page(product!, faults: { e.field => e.message }, typed: params)
        end
      end
    end
  end
end
