# frozen_string_literal: true

# What the tables of a clinic have in common, for the migrations. It is part of them: once a migration has been
# published, this file changes no more than they do. It calls nothing of the application.
module Tables
  SIDES = %w[left right].freeze

  # Makes a table whose rows belong to a clinic. parents - column => table, each held by a foreign key on
  # (clinic_id, column), so that no row can name another clinic's; optional - the parents that may be empty.
  def self.owned(db, name, parents: {}, optional: [], audit: true, &columns)
    db.create_table(name) do
      primary_key :id, type: :Bignum
      foreign_key :clinic_id, :clinics, type: :Bignum, null: false
      parents.each_key { |column| column(column, :Bignum, null: optional.include?(column)) }
      instance_exec(&columns) if columns
      unique %i[clinic_id id]
      parents.each do |column, table|
        foreign_key [:clinic_id, column],
                    table,
                    key: %i[clinic_id id],
                    name: :"#{name}_#{column}_fkey"
        index [:clinic_id, column] unless table == :accounts
      end
    end
    audited(db, name) if audit
  end

  # A table whose rows say who wrote them, and when.
  def self.signed(db, name, parents: {}, optional: [], &columns)
    owned(db, name, parents: { by: :accounts, **parents }, optional: optional) do
      column :at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      instance_exec(&columns) if columns
    end
  end

  # Rows written at a visit: who, when, and the entry (visit, version) that they came with. A closed visit takes no
  # more of them, except those that name the row they correct.
  def self.at_visit(db, name, parents: {}, optional: [], closed: true, &columns)
    signed(db, name, parents: { visit_id: :visits, **parents }, optional: optional) do
      Integer :version, null: false
      foreign_key %i[visit_id version],
                  :entries,
                  key: %i[visit_id version],
                  name: :"#{name}_entry_fkey"
      index %i[visit_id version]
      instance_exec(&columns)
    end
    before(db, name, "closed_visit", "INSERT OR UPDATE OR DELETE", "refuse_closed_visit") if closed
  end

  # Rows are added and never changed.
  def self.append_only(db, name)
    before(db, name, "append_only", "UPDATE OR DELETE", "refuse_change")
    db.run "CREATE TRIGGER append_only_all BEFORE TRUNCATE ON #{name} " \
             "FOR EACH STATEMENT EXECUTE FUNCTION refuse_change()"
  end

  def self.audited(db, name)
    db.run "CREATE TRIGGER audited AFTER INSERT OR UPDATE OR DELETE ON #{name} " \
             "FOR EACH ROW EXECUTE FUNCTION write_audit()"
  end

  def self.before(db, name, trigger, events, function)
    db.run "CREATE TRIGGER #{trigger} BEFORE #{events} ON #{name} FOR EACH ROW EXECUTE FUNCTION #{function}()"
  end
  private_class_method :before

  # SQL that holds a text column to something other than blanks.
  def self.said(column) = Sequel.lit("length(trim(coalesce(#{column}, ''))) > 0")
end
