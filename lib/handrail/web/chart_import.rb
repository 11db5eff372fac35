# frozen_string_literal: true

module Handrail
  module Web
    # A maker's chart on its way in: as a table or as a data package, refused with every fault named, asked about where
    # it can be read two ways, or shown in the editor beside what it would change; nothing is kept yet. Helpers of the
    # catalogue.
    module ChartImport
      def import(product, path, name)
        return import_package(product, path, name) if name.match?(/\.(zip|json)\z/i)

        import_table(product, name, Exchange::ChartFile.listed(path, name: name))
      rescue Exchange::CSVTable::Faulty => e
        import_refused(product, [e.message])
      end

      # rows that were sent before, with what was chosen since
      def import_again(product)
        name, listed = rows_again
        return import_refused(product, [Catalogue::NO_CHART_FILE]) unless listed

        import_table(product, name, listed, about: Exchange::PackageIn.about(params["about"]))
      end

      def another_family(name, family, product)
        other = clinic.device_families[family]&.name || family
        Wording.t(
          "web.chart_of_another_family",
          name: name,
          other: other,
          device_family: product.device_family.name
        )
      end

      # about - what a package says of the chart
      def import_table(product, name, listed, about: {}, chosen: nil)
        sent = table_of(name, listed, Exchange::ChartFile, chosen: chosen, about: about)
        faults = sent.faults.map { |line, words| "#{name} line #{line}: #{words}" }
        return import_refused(product, faults) if faults.any?
        return product_page(product, import_asked: sent) if sent.questions.any?

        import_scanned(product, name, Exchange::ChartFile.scan_rows(sent.rows, name: name), about)
      end

      def import_package(product, path, name)
        found = Exchange::PackageIn.read(path, name: name)
        family = found.about["family"]
        if family && family != product.family
          return import_refused(product, [another_family(name, family, product)])
        end

        written = found.marks ? { "figures" => found.marks.code } : {}
        import_table(product, name, found.listed, about: found.about, chosen: written)
      rescue Exchange::DataPackage::Faulty => e
        import_refused(product, [e.message])
      end

      # scan - of a chart's file; meta - what a data package says of it
      def import_scanned(product, name, scan, meta)
        return import_refused(product, scan.faults) unless scan.usable?

        strange = strange_sites(product, name, scan)
        return import_refused(product, strange) if strange.any?

        revision = product.revision(today)
        values = {
          "dated" => Quantity::Day.write(today),
          "primary_site" => meta["primary_site"] || revision&.primary_site,
          "tie_rule" => meta["tie_rule"] || revision&.tie_rule || "larger"
        }
        shown_beside(product, scan.rows, values, name)
      rescue Sizing::Chart::Faulty => e
        import_refused(product, [e.message])
      end

      # A chart in the editor, beside what it would change for the clinic's own wearers; nothing is kept. source - where
      # it comes from, in words
      def shown_beside(product, rows, values, source)
        revision = product.revision(today)
        editor(
          ChartPage.new(
            product,
            ChartDraft.of(rows),
            values,
            source: source,
            before: revision && covered(revision.chart, revision.rule),
            after: covered(Sizing::Chart.build(rows), ChartPage.rule(values))
          )
        )
      end

      # sites of a chart that nobody reads for such a device
      def strange_sites(product, name, scan)
        known = product.device_family.needs.map(&:site).uniq
        scan
          .rows
          .zip(scan.lines)
          .reject { |row, _| known.include?(row.site) }
          .map do |row, line|
            Wording.t(
              "web.site_not_of_family",
              name: name,
              line: line,
              site: row.site,
              family: product.device_family.name.downcase,
              known: known.join(", ")
            )
          end
      end

      def import_refused(product, faults)
        status 422
        product_page(product, import_faults: faults)
      end
    end
  end
end
