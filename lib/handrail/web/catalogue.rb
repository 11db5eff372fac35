# frozen_string_literal: true

module Handrail
  module Web
    # Makers, products, their charts and the shelf.
    class Catalogue < Base
      register OwnFamilies
      register GroupCatalogue

      get "/?" do
        family = clinic.device_families[text("family")]
        products =
          Store::Product.where(clinic_id: clinic.id).eager(:maker, :clinic).order(:family, :id).all
        products = products.select { |product| product.family == family.key } if family
        revisions = Store::ChartRevision.in_force(products.map(&:id), on: today)
        erb :"catalogue/list",
            locals: {
              products: products,
              revisions: revisions,
              family: family,
              families: families,
              shelf: Store::Shelf.counts(clinic)
            }
      end

      get "/new" do
        senior!
        product_form({}, {})
      end

      post "/?" do
        senior!
        go("/catalogue/#{desk.run(Store::Commands::AddProduct.new(params))["product"]}")
      rescue Store::Faults, Store::Conflict => e
        status 422
        product_form(params, e.fields)
      end

      get("/:id") { product_page(product!) }

      post "/:id" do
        senior!
        write(Store::Commands::ChangeProduct)
      end

      get "/:id/chart" do
        senior!
        product = product!
        revision = product.revision(today)
        values = {
          "dated" => Quantity::Day.write(today),
          "tie_rule" => revision&.tie_rule || "larger",
          "primary_site" => revision&.primary_site
        }
        editor(ChartPage.new(product, ChartDraft.of(revision ? revision.rows : []), values))
      end

      # the tapes and findings for what is typed, while it is typed
      post "/:id/chart/look" do
        senior!
        draft = ChartDraft.from(params)
        erb :"catalogue/look",
            layout: false,
            locals: {
              draft: draft,
              grips: true,
              rule: ChartPage.rule(params)
            }
      end

      post "/:id/chart" do
        senior!
        draft = ChartDraft.from(params)
        if draft.faults.any?
          raise(
            Store::Faults,
            draft.faults.each_with_index.to_h { |words, i| ["typed #{i}", words] }
          )
        end

        command = Store::Commands::AddChart.new(params.merge("product" => id), rows: draft.rows)
        go("/catalogue/#{desk.run(command)["product"]}")
      rescue Store::Faults, Store::Conflict => e
        status 422
        editor(ChartPage.new(product!, ChartDraft.from(params), params, faults: e.fields))
      end

      # a maker's file: refused with every fault named, or shown in the editor beside what it would
      # change; nothing is kept yet
      post "/:id/import" do
        senior!
        product = product!
        next import_again(product) if params["raw"]

        file = upload or next import_refused(product, [NO_CHART_FILE])
        import(product, *file)
      end

      NO_CHART_FILE =
        Wording.t(
          "web.choose_file_csv_columns",
          columns: Exchange::ChartFile::COLUMNS.join(", ")
        ).freeze
      NO_READINGS_FILE =
        Wording.t(
          "web.choose_csv_columns",
          columns: Exchange::ReadingsFile::COLUMNS.join(", ")
        ).freeze

      # the family's sites, postures and tensions, to be filled in elsewhere
      get "/:id/empty-chart.csv" do
        product = product!
        attachment "empty-chart-#{file_name(product)}.csv"
        content_type "text/csv", charset: "utf-8"
        rows = ChartPage.new(product, ChartDraft.of([]), {}).empty_rows
        Exchange::ChartFile.write_texts(rows)
      end

      get "/:id/chart.csv" do
        product = product!
        attachment "#{file_name(product)}.csv"
        content_type "text/csv", charset: "utf-8"
        Exchange::ChartFile.write(found(product.revision(today)).rows)
      end

      get "/:id/chart.zip" do
        product = product!
        revision = found(product.revision(today))
        attachment "#{file_name(product)}.zip"
        content_type "application/zip"
        Exchange::DataPackage.zip(
          Exchange::DataPackage.descriptor(**described(product, revision)),
          revision.rows
        )
      end

      get "/:id/datapackage.json" do
        product = product!
        revision = found(product.revision(today))
        content_type "application/json"
        JSON.pretty_generate(
          Exchange::DataPackage.descriptor(**described(product, revision), rows: revision.rows)
        )
      end

      get "/:id/coverage" do
        clinical!
        coverage(product!)
      end

      # the same for an uploaded file of readings
      post "/:id/coverage" do
        clinical!
        product = product!
        path, name = upload
        next coverage(product, fault: NO_READINGS_FILE) unless path

        people = []
        most = Exchange::ReadingsFile::MOST_HERE
        file = Exchange::ReadingsFile.new(path, name: name, most: most, foreign: true)
        file.each_person(again: -> { people.clear }) { |_, readings| people << readings }
        coverage(product, people: people, named: name)
      rescue Exchange::CSVTable::Faulty => e
        status 422
        coverage(product, fault: e.message)
      end

      post("/:id/stock") { write(Store::Commands::ReceiveStock, anchor: "#shelf") }
      post("/:id/levels") { write(Store::Commands::SetStockLevel, anchor: "#shelf") }

      post "/:id/back" do
        clinical!
        write(Store::Commands::PutBackPiece, anchor: "#shelf")
      end

      helpers TablesIn, ChartImport

      helpers do
        def product! = found(Store::Product.where(clinic_id: clinic.id, id: id).first)
        def families = clinic.device_families.values.sort_by(&:name)
        def file_name(product) = product.full_name.downcase.gsub(/[^a-z0-9]+/, "-")

        # [path, name] of the file that came along, or nil
        def upload
          file = params["file"]
          if file.is_a?(Hash) && file[:tempfile].respond_to?(:path)
            [file[:tempfile].path, file[:filename].to_s]
          end
        end

        def product_form(values, faults)
          family =
            clinic.device_families[values["family"].to_s] ||
              clinic.device_families[text("family")] || families.first
          erb :"catalogue/new",
              locals: {
                family: family,
                families: families,
                values: values,
                faults: faults
              }
        end

        def product_page(product, **how)
          erb :"catalogue/product", locals: { page: ProductPage.new(account, product, **how) }
        end

        # carries out an entry that is answered with the product's page
        def write(command, anchor: "")
          desk.run(command.new(params.merge("product" => product!.id)))
          go("/catalogue/#{id}#{anchor}")
        rescue Store::Faults, Store::Conflict => e
          status 422
          product_page(product!, faults: e.fields, typed: params)
        end

        def editor(page)
          erb :"catalogue/chart", locals: { page: page }
        end

        def covered(chart, rule)
          Sizing::Coverage.of(chart, Store::Catalogue.wearers(clinic, chart), rule: rule)
        end

        def coverage(product, people: nil, named: nil, fault: nil)
          revision = found(product.revision(today))
          wearers = people || Store::Catalogue.wearers(clinic, revision.chart)
          cut = people.nil? && wearers.size >= Store::Catalogue::MOST_WEARERS ? wearers.size : nil
          page =
            CoveragePage.new(
              clinic,
              product,
              revision,
              wearers,
              params: params,
              named: named,
              fault: fault,
              cut: cut
            )
          erb :"catalogue/coverage", locals: { page: page }
        end

        def described(product, revision)
          {
            name: product.name,
            maker: product.maker.name,
            family: product.family,
            dated: revision.dated,
            tie_rule: revision.tie_rule,
            primary: revision.primary_site
          }
        end
      end
    end
  end
end
