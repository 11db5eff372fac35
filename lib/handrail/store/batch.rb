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
      STAMPED =
        Store.db[:visits].select_all(:visits).select_append(Sequel.lit("xmin::text AS stamp"))
      # The newest state of as many fittings as a few clinics have on one day: a quarter of a megabyte each.
      MOST = 200
      WRITTEN = Memory.new(MOST) { |clinic, fitting| [clinic, fitting] }
      # A pin is set once and never changed. By clinic, its id, the transaction that wrote it, and the product.
      PINS = Memory.new(2 * MOST)
      private_constant :MOST, :STAMPED, :WRITTEN, :PINS

      # fitting_ids - an Array, or a Hash { of_visit: id } for the one of a visit; wearers - their Patients by id, all
      # of them, where they were read already; to_write - where an entry follows: what is kept of them is read too
      def initialize(clinic, fitting_ids, wearers: nil, to_write: false)
        @clinic = clinic
        found = load(fitting_ids, wearers.nil?, to_write)
        @patients = wearers || found["wearer"].to_h { |row| [row[:id], Patient.call(row)] }
        @kept = found if to_write
        @visits = found["visit"].map { |row| Visit.call(row) }.group_by(&:fitting_id)
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
        @pin_keys = found["fitting"].to_h { |row| [row[:id], pin_keys(row)] }
        @fittings = found["fitting"].to_h { |row| [row[:id], Fitting.call(row)] }
        @prescriptions =
          found["prescription"].to_h { |row| [row[:id], Prescription.call(row).freeze] }
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
      def row(id)
        @visits.each_value { |rows| found = rows.find { |row| row.id == id } and return found }
        nil
      end

      def patient(id) = @patients.fetch(id)

      # The summaries' rows as they stood before the entry, by Projector, once: they change with it. nil where they
      # were not read.
      def hand_over_kept
        found = @kept or return
        @kept = nil
        Summaries.rows_of(found)
      end

      def prescription(id) = @prescriptions.fetch(id)

      # Rows of a table at a visit, oldest first.
      def rows(table, visit_id) = (@written || written).fetch(table).fetch(visit_id) { [] }

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

      # Adds a row that was just written to a table. stamp - of the transaction that wrote it.
      def add(table, row, stamp)
        (written.fetch(table)[row[:visit_id]] ||= []) << row
        restamp(row, stamp) if table == :entries
      end

      # Keeps what stands of a fitting now, after an entry that changed nothing but rows of its visits was committed:
      # who asks next has it already.
      def remember(fitting_id)
        WRITTEN.remember(@stamps.fetch(fitting_id)) { own_rows(visits(fitting_id).map(&:id)) }
      end

      # What stands of some visits, as VisitRows.read gives it.
      def own_rows(visit_ids)
        visit_ids.to_h do |id|
          [id, written.filter_map { |table, rows| [table, rows[id].dup] if rows[id]&.any? }.to_h]
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

      # What the fittings need of their clinic, as a Beside.
      def beside = @beside ||= Beside.new(clinic, @ids)

      # Forgets what the clinic held, after an entry changed it.
      def forget_beside = @stock = @beside = nil

      # Who an account id is.
      def name_of(account_id)
        @names ||= people.to_h { |row| row.values_at(:id, :name) }
        @names[account_id]
      end

      private

      # visits' rows, each with its stamp, their fittings, each with the keys of its pins, orders and wearers
      def load(fittings, with_wearers, to_write)
        of_visit = fittings.is_a?(Hash)
        name = [
          :fittings,
          *(:of_visit if of_visit),
          *(:and_wearers if with_wearers),
          *(:to_write if to_write)
        ]
        asked = of_visit ? { visit: fittings.fetch(:of_visit) } : { ids: fittings.join(",") }
        Gathered.read(name.join("_").to_sym, clinic: clinic.id, **asked) do
          ids = of_visit ? THAT_OF_VISIT : Store.among(:$ids)
          visits = STAMPED.where(clinic_id: :$clinic, fitting_id: ids).order(:fitting_id, :number)
          {
            "visit" => visits,
            "fitting" => fittings_of(ids).select_append(PIN_KEYS.as(:pins)),
            "prescription" => named_by(ids, :prescription_id, Store.db[:prescriptions]),
            **(with_wearers ? { "wearer" => named_by(ids, :patient_id, Patient.loaded) } : {}),
            **(to_write ? Summaries.sets(ids) : {})
          }
        end
      end

      THAT_OF_VISIT = Store.db[:visits].where(clinic_id: :$clinic, id: :$visit).select(:fitting_id)
      private_constant :THAT_OF_VISIT

      # id and writing transaction of each pin of a fitting, oldest first
      PIN_KEYS =
        Store.db[:fitting_pins].where(
          clinic_id: :$clinic,
          fitting_id: Sequel[:fittings][:id]
        ).select(
          Sequel.function(
            :json_agg,
            Sequel.function(:json_build_array, :id, Sequel.cast(:xmin, String))
          ).order(:id)
        )
      private_constant :PIN_KEYS

      def fittings_of(ids) =
        Store.db[:fittings].select_all(:fittings).where(clinic_id: :$clinic, id: ids)

      # rows that fittings name in a column
      def named_by(ids, column, rows) =
        rows.where(clinic_id: :$clinic, id: fittings_of(ids).select(column))

      # asked alone where nothing else of the clinic was needed
      def people
        return @beside.people if @beside

        Store.prepared(:names_of_accounts, clinic: clinic.id) do
          Store.db[:accounts].where(clinic_id: :$clinic).select(:id, :name)
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

      # an entry counts up its visit's row, in the same transaction: that is the row's stamp from then on
      def restamp(entry, stamp)
        fitting = entry[:fitting_id]
        turn = visits(fitting).index { |row| row.id == entry[:visit_id] }
        known = @stamps.fetch(fitting).dup
        known[2 + (3 * turn), 3] = [entry[:visit_id], entry[:version], stamp]
        @stamps[fitting] = known
      end

      def pin_keys(fitting) =
        fitting.delete(:pins).to_a.map { |id, stamp| [clinic.id, id, stamp, fitting[:product_id]] }

      # fitting id => Pins: one is set with the order, the others by entries of its visits
      def remembered_pins
        found =
          PINS.remember_many(@pin_keys.values.flatten(1)) do |missing|
            read = Pin.read(clinic.id, missing.to_h { |_, id, _, product| [id, product] })
            missing.to_h { |key| [key, read.fetch(key[1])] }
          end
        @pin_keys.transform_values { |keys| found.values_at(*keys) }
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
    end
  end
end
