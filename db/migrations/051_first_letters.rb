# frozen_string_literal: true

# A newcomer is told of the first appointment, before there is a visit that a message could belong to; and when that
# appointment was written on last is kept, so that calendars see what changed. Of a record that came from another
# clinic it stays written under which number it was taken, so that the clinic that sent it can ask later too.
Sequel.migration do
  up do
    alter_table(:messages) do
      set_column_allow_null :visit_id
      set_column_allow_null :version
      add_constraint(:visit_whole, Sequel.lit("num_nulls(visit_id, version) IN (0, 2)"))
    end
    alter_table(:first_appointments) { add_column :changed_at, :timestamptz }
    alter_table(:coming_records) { add_column :ended_record, String }
  end

  down do
    alter_table(:coming_records) { drop_column :ended_record }
    alter_table(:first_appointments) { drop_column :changed_at }
    alter_table(:messages) do
      drop_constraint :visit_whole
      set_column_not_null :visit_id
      set_column_not_null :version
    end
  end
end
