# frozen_string_literal: true

module Handrail
  module Store
    # What the tables of a clinic have in common, for the migrations: a clinic, foreign keys that can not point into
    # another clinic, an audit trail, and closed visits that stay as they are.
    module Schema
      # Makes a table whose rows belong to a clinic. parents - column => table, each held by a foreign key on
      # (clinic_id, column), so that no row can name another clinic's; optional - the columns that may be empty.
      def self.owned(db, name, parents: {}, optional: [], audit: true, &columns)
        db.create_table(name) do
          primary_key :id, type: :Bignum
          foreign_key :clinic_id, :clinics, type: :Bignum, null: false
          parents.each_key { |column| column(column, :Bignum, null: optional.include?(column)) }
          instance_exec(&columns) if columns
          parents.each { |column, table| foreign_key [:clinic_id, column], table, key: %i[clinic_id id], name: :"#{name}_#{column}_fkey" }
          unique %i[clinic_id id]
          parents.each_key { |column| index [:clinic_id, column] }
        end
        audited(db, name) if audit
      end

      # A row written at a visit: who, when, and the visit's version that it made.
      def self.at_visit(db, name, parents: {}, optional: [], closed: true, &columns)
        owned(db, name, parents: { visit_id: :visits, **parents }, optional: optional) do
          column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
          foreign_key :by, :accounts, type: :Bignum, null: false
          Integer :version, null: false
          instance_exec(&columns)
        end
        return unless closed

        db.run "CREATE TRIGGER closed_visit BEFORE INSERT OR UPDATE OR DELETE ON #{name} FOR EACH ROW EXECUTE FUNCTION refuse_closed_visit()"
      end

      def self.audited(db, name)
        db.run "CREATE TRIGGER audited AFTER INSERT OR UPDATE OR DELETE ON #{name} FOR EACH ROW EXECUTE FUNCTION write_audit()"
      end
    end
  end
end
