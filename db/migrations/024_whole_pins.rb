# frozen_string_literal: true

require "digest"
require_relative "../support/tables"

# A pin is whole: it says by which edition of the knowledge beside the family its fitting is read
# (sites, figures, girths, schools, languages), and a closed visit keeps what its clinic had settled
# when it was closed (zone, tape, name, what is printed). What was pinned and closed before reads by
# what held when this was migrated: the edition lies beside this file, as its knowledge will change.
Sequel.migration do
  up do
    edition = File.read(File.join(__dir__, "024_whole_pins", "edition.json"))

    Tables.owned(self, :editions, audit: false) do
      String :digest, null: false, fixed: true, size: 64
      String :text, null: false, text: true
      unique %i[clinic_id digest]
    end
    Tables.owned(self, :clinic_states) do
      String :digest, null: false, fixed: true, size: 64
      column :values, :jsonb, null: false
      unique %i[clinic_id digest]
    end
    %i[editions clinic_states].each { |table| Tables.append_only(self, table) }

    alter_table(:fitting_pins) { add_column :edition_id, :Bignum }
    alter_table(:visits) { add_column :clinic_state_id, :Bignum }

    digest = Digest::SHA256.hexdigest(edition)
    from(:clinics)
      .select_order_map(:id)
      .each do |clinic|
        id = from(:editions).insert(clinic_id: clinic, digest: digest, text: edition)
        run "ALTER TABLE fitting_pins DISABLE TRIGGER USER"
        from(:fitting_pins).where(clinic_id: clinic).update(edition_id: id)
        run "ALTER TABLE fitting_pins ENABLE TRIGGER USER"
        values = get(Sequel.lit(<<~SQL, clinic))
          (SELECT jsonb_build_object('name', name, 'place', place, 'address', address, 'phone', phone,
             'time_zone', time_zone, 'tape', tape, 'choices', choices)::text FROM clinics WHERE id = ?)
        SQL
        state =
          from(:clinic_states).insert(
            clinic_id: clinic,
            digest: Digest::SHA256.hexdigest(values),
            values: Sequel.lit("?::jsonb", values)
          )
        run "ALTER TABLE visits DISABLE TRIGGER USER"
        from(:visits)
          .where(clinic_id: clinic)
          .exclude(closed_at: nil)
          .update(clinic_state_id: state)
        run "ALTER TABLE visits ENABLE TRIGGER USER"
      end

    alter_table(:fitting_pins) do
      set_column_not_null :edition_id
      add_foreign_key %i[clinic_id edition_id], :editions, key: %i[clinic_id id]
    end
    alter_table(:visits) do
      add_foreign_key %i[clinic_id clinic_state_id], :clinic_states, key: %i[clinic_id id]
    end
  end

  down do
    alter_table(:visits) { drop_column :clinic_state_id }
    alter_table(:fitting_pins) { drop_column :edition_id }
    drop_table :clinic_states, :editions
  end
end
