# frozen_string_literal: true

module Handrail
  module Store
    # Some fittings of one clinic with all their visits and everything written at them: read once, in a handful of
    # queries. A Source shows one fitting of it to the core.
    class Batch
      attr_reader :clinic

      def initialize(clinic, fitting_ids)
        @clinic = clinic
        @ids = fitting_ids
        @fittings = Fitting.where(clinic_id: clinic.id, id: fitting_ids).all.to_h { |fitting| [fitting.id, fitting] }
        @visits = Visit.where(clinic_id: clinic.id, fitting_id: fitting_ids).order(:id).all.group_by(&:fitting_id)
      end

      # What the core asks of one fitting.
      def source(fitting_id) = (@sources ||= {})[fitting_id] ||= Source.new(self, @fittings.fetch(fitting_id))

      # The batch's own copy of a visit's row, so that what is written on it is seen everywhere.
      def own(row)
        visits(row.fitting_id).index { |other| other.id == row.id }.then { |i| visits(row.fitting_id)[i] = row }
      end

      def visits(fitting_id) = @visits.fetch(fitting_id, [])

      def patient(id)
        (@patients ||= Patient.where(clinic_id: clinic.id,
                                     id: @fittings.values.map(&:patient_id).uniq).as_hash(:id)).fetch(id)
      end

      def prescription(id)
        @prescriptions ||= Prescription.where(clinic_id: clinic.id,
                                              id: @fittings.values.map(&:prescription_id)).as_hash(:id)
        @prescriptions.fetch(id)
      end

      # Rows of a table at a visit, oldest first.
      def rows(table, visit_id) = written.fetch(table).fetch(visit_id) { [] }

      # visit id => rows, to which an entry adds its own
      def written = @written ||= VisitRows.read(clinic.id, @visits.values.flatten.map(&:id))

      # The pins of a fitting, oldest first, as Pins.
      def pins(fitting_id) = (@pins ||= Pin.of_fittings(clinic.id, @ids)).fetch(fitting_id, [])

      # Pieces that are held for a fitting, or worn.
      def stock(fitting_id)
        @stock ||= Store.db[:stock_items].where(clinic_id: clinic.id, fitting_id: @ids).order(:id).all
                        .group_by { |row| row[:fitting_id] }
        @stock.fetch(fitting_id, [])
      end

      # Pieces on the shelf of a product, counted by size and side; those that were ever there count as nothing.
      def shelf(product_id)
        @shelf ||= Store.db[:stock_items].where(clinic_id: clinic.id, product_id: product_ids)
                        .group(:product_id, :size, :side)
                        .select(:product_id, :size, :side)
                        .select_append { count.function.*.filter(state: "shelf").as(:count) }
                        .all.group_by { |row| row[:product_id] }
        @shelf.fetch(product_id, [])
      end

      # Forgets what the shelf held, after an entry took from it.
      def forget_stock = @stock = @shelf = nil

      # How well a fitter repeats a site, as a Measuring::Repeatability, or nil.
      def repeatability(account_id, site) = (@repeatability ||= Repeatability.of(clinic))[[account_id, site]]

      # Who an account id is.
      def name_of(account_id)
        @names ||= Account.where(clinic_id: clinic.id).select_hash(:id, :name)
        @names[account_id]
      end

      private

      def product_ids = @ids.filter_map { |id| @fittings[id]&.product_id }.uniq
    end
  end
end
