# frozen_string_literal: true

module Handrail
  module Store
    # Some fittings of one clinic with all their visits and everything written at them: read once,
    # in a handful of queries. A Source shows one fitting of it to the core.
    class Batch
      attr_reader :clinic

      # What was written at the visits of a fitting changes only by entries, and every entry counts
      # up the version of its visit's row. So what was read under one stamp of these rows (id,
      # version and writing transaction: a write that was rolled back leaves another one behind) is
      # not read again.
      STAMPED = Visit.select_all(:visits).select_append(Sequel.lit("xmin::text AS stamp"))
      WRITTEN = Memory.new(1000)
      PINNED = Memory.new(1000)
      ORDERED = Memory.new(1000)
      private_constant :STAMPED, :WRITTEN, :PINNED, :ORDERED

      # fitting_ids - an Array, or a Hash { of_visit: id } for the one of a visit
      def initialize(clinic, fitting_ids)
        @clinic = clinic
        rows = stamped(fitting_ids)
        @visits = rows.group_by(&:fitting_id)
        @stamps =
          @visits.to_h do |id, own|
            [
              id,
              [
                clinic.id,
                id,
                *own.flat_map { |row| [row.id, row.version, row.values.delete(:stamp)] }
              ]
            ]
          end
        @ids = @visits.keys
        ordered = remembered(ORDERED) { |ids| orders(ids) }
        @fittings = ordered.transform_values { |fitting, _| Fitting.call(fitting.dup) }
        @prescriptions =
          ordered.each_value.to_h { |_, row| [row[:id], Prescription.call(row.dup).freeze] }
      end

      # What the core asks of one fitting.
      def source(fitting_id) =
        (@sources ||= {})[fitting_id] ||= Source.new(self, @fittings.fetch(fitting_id))

      # The batch's own copy of a visit's row, so that what is written on it is seen everywhere.
      def own(row)
        visits(row.fitting_id)
          .index { |other| other.id == row.id }
          .then { |i| visits(row.fitting_id)[i] = row }
      end

      def visits(fitting_id) = @visits.fetch(fitting_id, [])

      # A visit's row, or nil.
      def row(id) = @visits.each_value.lazy.flat_map(&:itself).find { |row| row.id == id }

      def patient(id)
        (@patients ||= Patient.of(clinic, @fittings.values.map(&:patient_id).uniq)).fetch(id)
      end

      def prescription(id) = @prescriptions.fetch(id)

      # Rows of a table at a visit, oldest first.
      def rows(table, visit_id) = written.fetch(table).fetch(visit_id) { [] }

      # table => { visit id => rows }, to which an entry adds its own
      def written
        @written ||=
          VisitRows::TABLES
            .to_h { |table| [table, {}] }
            .tap do |tables|
              remembered_rows.each do |visit_id, own|
                own.each { |table, rows| tables[table][visit_id] = rows.dup }
              end
            end
      end

      # The number of a visit among those of its fitting.
      def number(visit_id) = row(visit_id).number

      # The pins of a fitting, oldest first, as Pins.
      def pins(fitting_id) = (@pins ||= remembered_pins).fetch(fitting_id, [])

      # Pieces that are held for a fitting, or worn.
      def stock(fitting_id)
        @stock ||=
          Store
            .prepared(:pieces_of, clinic: clinic.id, ids: @ids.join(",")) do
              Store.db[:stock_items].where(
                clinic_id: :$clinic,
                fitting_id: Store.among(:$ids)
              ).order(:id)
            end
            .group_by { |row| row[:fitting_id] }
        @stock.fetch(fitting_id, [])
      end

      # Pieces on the shelf of a product, counted by size and side; those that were ever there count
      # as nothing.
      def shelf(product_id)
        @shelf ||=
          Store
            .prepared(
              :on_shelf,
              clinic: clinic.id,
              ids: product_ids.join(","),
              today: clinic.today
            ) do
              Store.db[:stock_items]
                .where(clinic_id: :$clinic, product_id: Store.among(:$ids))
                .group(:product_id, :size, :side)
                .select(:product_id, :size, :side)
                .select_append do
                  kept = Sequel.|({ use_by: nil }, Sequel[:use_by] >= Sequel.cast(:$today, Date))
                  count.function.*.filter(Sequel.&({ state: "shelf" }, kept)).as(:count)
                end
            end
            .group_by { |row| row[:product_id] }
        @shelf.fetch(product_id, [])
      end

      # Forgets what the shelf held, after an entry took from it.
      def forget_stock = @stock = @shelf = nil

      # How well a fitter repeats a site, as a Measuring::Repeatability, or nil.
      def repeatability(account_id, site) =
        (@repeatability ||= Projectors::ReadingPairs.of(clinic))[[account_id, site]]

      # Who an account id is.
      def name_of(account_id)
        @names ||=
          Store
            .prepared(:names_of_accounts, clinic: clinic.id) do
              Store.db[:accounts].where(clinic_id: :$clinic).select(:id, :name)
            end
            .to_h { |row| row.values_at(:id, :name) }
        @names[account_id]
      end

      private

      # the visits' rows of some fittings, each with its stamp
      def stamped(fittings)
        if fittings.is_a?(Hash)
          Store.prepared(:visits_beside, clinic: clinic.id, visit: fittings.fetch(:of_visit)) do
            of = Visit.where(clinic_id: :$clinic, id: :$visit).select(:fitting_id)
            STAMPED.where(clinic_id: :$clinic, fitting_id: of).order(:fitting_id, :number)
          end
        else
          Store.prepared(:visits_of_fittings, clinic: clinic.id, ids: fittings.join(",")) do
            STAMPED.where(clinic_id: :$clinic, fitting_id: Store.among(:$ids)).order(
              :fitting_id,
              :number
            )
          end
        end
      end

      # fitting id => [its row, the row of its prescription], as plain values
      def orders(ids)
        fittings = Store.db[:fittings].where(clinic_id: clinic.id, id: ids).as_hash(:id)
        wanted = fittings.each_value.map { |row| row[:prescription_id] }
        prescriptions =
          Store.db[:prescriptions].where(clinic_id: clinic.id, id: wanted).as_hash(:id)
        fittings.transform_values do |row|
          [row, prescriptions.fetch(row[:prescription_id])].map { |one| VisitRows.plain(one) }
        end
      end

      # visit id => { table => rows }
      def remembered_rows
        remembered(WRITTEN) do |fittings|
          ids = fittings.to_h { |id| [id, visits(id).map(&:id)] }
          read = VisitRows.read(clinic.id, ids.values.flatten)
          ids.transform_values { |own| read.slice(*own) }
        end.values.reduce({}, :merge)
      end

      # fitting id => Pins: one is set with the order, the others by entries of its visits
      def remembered_pins
        remembered(PINNED) do |ids|
          Pin.of_fittings(clinic.id, ids.to_h { |id| [id, @fittings[id].product_id] })
        end.transform_values(&:dup)
      end

      # What a memory holds of the fittings under the stamps of their visits: fitting id => value.
      # The block reads the others.
      def remembered(memory)
        found =
          memory.remember_many(@stamps.values) do |stamps|
            read = yield stamps.map { |stamp| stamp[1] }
            stamps.to_h { |stamp| [stamp, read.fetch(stamp[1]).freeze] }
          end
        found.transform_keys { |stamp| stamp[1] }
      end

      def product_ids = @ids.filter_map { |id| @fittings[id]&.product_id }.uniq
    end
  end
end
