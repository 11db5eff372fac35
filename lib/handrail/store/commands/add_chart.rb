# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Puts a chart in force from a day on. Older fittings keep the one they were pinned to.
      #
      #   AddChart.new({ "product" => 4, "dated" => "1 Nov 2026", "tie_rule" => "larger" }, rows: rows)
      #
      # rows - Sizing::Chart::Rows in chart order; seen - AddChart.newest of the page that it was written on: a chart
      # put in force since is told, and another does not take its place unseen. Refuses with every row at fault.
      class AddChart < ClinicCommand
        # the most rows of a chart
        MOST_ROWS = 2000

        role :senior
        input :product, :id
        input :dated, :line, most: 40
        input :tie_rule, :line, most: 20
        input :primary_site, :line, most: 80
        input :seen, :line, most: 20

        # Changes whenever another chart is put in force.
        def self.newest(product) =
          (ChartRevision.where(product_id: product.id).max(:id) || "none").to_s

        def initialize(params = {}, rows: [])
          super(params)
          @rows = rows
          @digest = Digest::SHA256.hexdigest([@digest, rows.map(&:to_a)].inspect)
        end

        def perform(clinic, _account)
          made = Product.where(clinic_id: clinic.id, id: product).for_update.first or
            unacceptable("product", t(:no_such_product))
          unseen(made) if seen && seen != self.class.newest(made)

          day = day_of(dated)
          refuse!({ "dated" => day.is_a?(String) ? day : nil, **rule_faults, **row_faults })
          revision =
            ChartRevision.add(
              made,
              @rows,
              dated: day,
              tie_rule: tie_rule,
              primary_site: tie_rule == "primary" ? primary_site : nil
            )
          [
            t(:chart_added, full_name: made.full_name),
            { "product" => made.id, "revision" => revision.id }
          ]
        end

        def doubled(_error)
          Faults.new("dated" => t(:chart_day_already_date))
        end

        private

        def unseen(made)
          newest = ChartRevision.where(product_id: made.id).order(:id).last
          raise Faults,
                "seen" => t(:chart_put_in_force_meanwhile, dated: Quantity::Day.write(newest.dated))
        end

        # a Date, or what is wrong with it
        def day_of(text)
          Quantity::Day.read(text)
        rescue Quantity::Day::Unreadable => e
          e.message
        end

        def rule_faults
          known = Sizing::TieRule::NAMES.include?(tie_rule)
          named = @rows.any? { |row| row.site == primary_site }
          {
            "tie_rule" => (t(:choose_how_tie_settled) unless known),
            "primary_site" => (t(:name_deciding_site) if tie_rule == "primary" && !named)
          }
        end

        def row_faults
          return { "rows" => t(:chart_has_no_rows) } if @rows.empty?
          if @rows.size > MOST_ROWS
            return { "rows" => t(:too_many_rows, many: @rows.size, most_rows: MOST_ROWS) }
          end

          found = Sizing::ChartCheck.new(@rows).findings.select { |finding| finding.state == :stop }
          found.to_h do |finding|
            ["row #{finding.row + 1}", "row #{finding.row + 1}: #{Wording.chart_finding(finding)}"]
          end
        end
      end
    end
  end
end
