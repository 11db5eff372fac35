# frozen_string_literal: true

require_relative "../support/tables"

# The day and the weeks: how long a visit is booked for, with whom and in which room; visits that did
# not take place; what would be sent to a wearer; the days on which somebody works.
Sequel.migration do
  up do
    run "CREATE EXTENSION IF NOT EXISTS btree_gist"

    alter_table :visits do
      add_column :planned_to, :timestamptz
      add_column :planned_with, :Bignum
      add_column :planned_room, String
      add_foreign_key %i[clinic_id planned_with],
                      :accounts,
                      key: %i[clinic_id id],
                      name: :visits_planned_with_fkey
      add_constraint(:planned_not_reversed, Sequel.lit("planned_to > planned_for"))
      add_constraint(
        :planned_to_something,
        Sequel.lit(
          "planned_for IS NOT NULL OR " \
            "(planned_to IS NULL AND planned_with IS NULL AND planned_room IS NULL)"
        )
      )
    end
    # nobody is in two places, and no room holds two visits, at one time
    {
      planned_with: "visits_one_at_a_time",
      planned_room: "visits_one_in_a_room"
    }.each { |what, name| run <<~SQL }
        ALTER TABLE visits ADD CONSTRAINT #{name} EXCLUDE USING gist
          (clinic_id WITH =, #{what} WITH =, tstzrange(planned_for, planned_to) WITH &&)
          WHERE (#{what} IS NOT NULL AND planned_to IS NOT NULL AND closed_at IS NULL AND called_off_at IS NULL)
      SQL

    Tables.at_visit(self, :missed_visits) do
      column :planned_for, :timestamptz, null: false
      column :planned_to, :timestamptz
      String :why, null: false
      String :note
      check why: %w[no_show cancelled]
    end
    Tables.append_only(self, :missed_visits)

    # what a wearer would be sent; a stand-in, nothing leaves the house
    Tables.at_visit(self, :messages, parents: { patient_id: :patients }, closed: false) do
      String :kind, null: false
      String :language, null: false
      String :recipient, null: false
      String :body, null: false, text: true
      check kind: %w[text letter]
      constraint(:body_said, Tables.said(:body))
      index %i[clinic_id at]
    end
    Tables.append_only(self, :messages)

    # open pages are told that something was written, and by which page: clinic, visit, page
    run <<~SQL
      CREATE FUNCTION tell_written() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        PERFORM pg_notify('handrail_written', concat_ws(':', NEW.clinic_id, coalesce(NEW.visit_id, 0), NEW.page));
        RETURN NULL;
      END $$;
      CREATE TRIGGER written AFTER INSERT ON entries FOR EACH ROW EXECUTE FUNCTION tell_written();
    SQL

    # weekday => "09:00-13:00"; an account without any works whenever the clinic is open
    alter_table(:accounts) do
      add_column :hours, :jsonb, null: false, default: Sequel.lit("'{}'::jsonb")
    end
  end

  down do
    raise Sequel::Error,
          "This can not be taken back: it would lose what was entered. Restore a backup instead."
  end
end
