# frozen_string_literal: true

module Handrail
  module Store
    # The rows of some fittings and all their visits, each table read once, however many visits there are.
    class VisitRows
      TABLES = %i[safety_questions readings size_choices size_trials issued_devices steps_done check_results changes strap_settings recheck_answers
                  teach_backs overrides hand_overs visit_notes visit_events].freeze

      attr_reader :clinic

      def initialize(clinic, fitting_ids)
        @clinic = clinic
        @fittings = Fitting.where(clinic_id: clinic.id, id: fitting_ids).eager(:patient, :prescription, product: :maker).all.to_h { |f| [f.id, f] }
        @visits = Visit.where(clinic_id: clinic.id, fitting_id: fitting_ids).order(:id).all.group_by(&:fitting_id)
        @ids = @visits.values.flatten.map(&:id)
        @rows = {}
        @in_force = ChartRevision.in_force(@fittings.values.map(&:product_id).uniq, on: clinic.today)
        @revisions = @in_force.values.to_h { |revision| [revision.id, revision] }
      end

      def fitting(id) = @fittings.fetch(id)
      def visits(fitting_id) = @visits.fetch(fitting_id)

      # Rows of a table at a visit, oldest first.
      def [](table, visit_id) = (@rows[table] ||= read(table)).fetch(visit_id, [])

      # The product's newest chart that is in force, and any revision by its id.
      def in_force(product_id) = @in_force[product_id]
      def revision(id) = @revisions[id] ||= ChartRevision[id]

      # Pieces held for a fitting, and what stands on the shelf of a product, counted by size and side.
      def stock(fitting_id)
        (@stock ||= Store.db[:stock_items].where(clinic_id: clinic.id, fitting_id: @fittings.keys).order(:id).all.group_by do |row|
          row[:fitting_id]
        end).fetch(fitting_id, [])
      end

      def shelf(product_id)
        @shelf ||= Store.db[:stock_items].where(clinic_id: clinic.id, product_id: @fittings.values.map(&:product_id).uniq, state: "shelf")
                        .group_and_count(:product_id, :size, :side).all.group_by { |row| row[:product_id] }
        @shelf.fetch(product_id, [])
      end

      def stocked?(product_id)
        @stocked ||= Store.db[:stock_items].where(clinic_id: clinic.id,
                                                  product_id: @fittings.values.map(&:product_id).uniq).distinct.select_map(:product_id)
        @stocked.include?(product_id)
      end

      # How well a fitter repeats a site, or nil.
      def repeatability(account_id, site) = (@repeatability ||= Repeatability.of(clinic))[[account_id, site]]

      # Who an account id is.
      def name_of(account_id) = (@names ||= Account.where(clinic_id: clinic.id).select_hash(:id, :name))[account_id]

      private

      def read(table)
        Store.db[table].where(clinic_id: clinic.id, visit_id: @ids).order(:version, :id).all.group_by { |row| row[:visit_id] }
      end
    end
  end
end
