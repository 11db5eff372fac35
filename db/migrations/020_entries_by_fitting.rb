# frozen_string_literal: true

# Entries are numbered by fitting, over all its visits: the number alone says what came first, and
# whoever writes at a fitting waits for whoever writes at it already. Visits of a fitting have a
# number of their own.
#
# What was written before is numbered anew in the order in which it was written; nothing else of it
# changes.
Sequel.migration do
  up do
    written = fetch(<<~SQL).select_map(:table_name)
        SELECT a.table_name FROM information_schema.columns a
        JOIN information_schema.columns b USING (table_schema, table_name)
        JOIN information_schema.tables t USING (table_schema, table_name)
        WHERE a.table_schema = 'public' AND t.table_type = 'BASE TABLE'
          AND a.column_name = 'visit_id' AND b.column_name = 'version' AND a.table_name <> 'entries'
        ORDER BY 1
      SQL
    touched = [*written, "entries", "visits", "fittings"]

    alter_table(:fittings) { add_column :version, Integer, null: false, default: 0 }
    alter_table(:visits) { add_column :number, Integer }
    alter_table(:entries) { add_column :fitting_id, :Bignum }

    touched.each { |table| run "ALTER TABLE #{table} DISABLE TRIGGER USER" }
    written.each { |table| run "ALTER TABLE #{table} DROP CONSTRAINT #{table}_entry_fkey" }
    run "ALTER TABLE entries DROP CONSTRAINT entries_visit_id_version_key"
    run "ALTER TABLE entries DROP CONSTRAINT entries_visit_id_entry_key_key"

    run <<~SQL
      CREATE TEMPORARY TABLE renumbered ON COMMIT DROP AS
      SELECT e.id, e.visit_id, v.fitting_id, e.version AS was,
             row_number() OVER (PARTITION BY v.fitting_id ORDER BY e.id)::int AS version
      FROM entries e JOIN visits v ON v.id = e.visit_id;
      CREATE UNIQUE INDEX ON renumbered (visit_id, was);
      ANALYZE renumbered;
      UPDATE entries e SET fitting_id = n.fitting_id, version = n.version FROM renumbered n WHERE n.id = e.id;
    SQL
    written.each do |table|
      run "UPDATE #{table} t SET version = n.version FROM renumbered n " \
            "WHERE n.visit_id = t.visit_id AND n.was = t.version"
    end
    # what a senior's word rests on: numbers of entries of its visit, or [visit, number]
    run <<~SQL
      CREATE FUNCTION pg_temp.now_at(visit bigint, said jsonb) RETURNS jsonb LANGUAGE sql AS $$
        SELECT coalesce((SELECT to_jsonb(version) FROM renumbered WHERE visit_id = visit AND to_jsonb(was) = said), said)
      $$;
      UPDATE overrides o SET blocks = (
        SELECT jsonb_agg(
          CASE WHEN b->>'code' = 'skin_unseen'
               THEN b || jsonb_build_object('rests_on', pg_temp.now_at((b->'rests_on'->>0)::bigint, b->'rests_on'->1))
               WHEN jsonb_typeof(b->'rests_on') = 'array'
               THEN b || jsonb_build_object('rests_on',
                      (SELECT jsonb_agg(pg_temp.now_at(o.visit_id, x) ORDER BY i)
                       FROM jsonb_array_elements(b->'rests_on') WITH ORDINALITY AS e(x, i)))
               WHEN jsonb_typeof(b->'rests_on') = 'number'
               THEN b || jsonb_build_object('rests_on', pg_temp.now_at(o.visit_id, b->'rests_on'))
               ELSE b END ORDER BY place)
        FROM jsonb_array_elements(o.blocks) WITH ORDINALITY AS list(b, place));
      UPDATE fittings f SET version = n.version
        FROM (SELECT fitting_id, max(version) AS version FROM renumbered GROUP BY 1) n WHERE n.fitting_id = f.id;
      UPDATE visits v SET version = coalesce((SELECT max(version) FROM renumbered n WHERE n.visit_id = v.id), 0),
                          number = s.number
        FROM (SELECT id, row_number() OVER (PARTITION BY fitting_id ORDER BY id) AS number FROM visits) s
        WHERE s.id = v.id;
    SQL

    alter_table(:visits) do
      set_column_not_null :number
      add_constraint(:number_counts, Sequel.lit("number > 0"))
      add_unique_constraint %i[fitting_id number], name: :visits_number_once
      add_unique_constraint %i[fitting_id id], name: :visits_of_fitting
    end
    run <<~SQL
      ALTER TABLE entries ADD CONSTRAINT entries_fitting_id_version_key UNIQUE (fitting_id, version);
      ALTER TABLE entries ADD CONSTRAINT entries_fitting_id_entry_key_key UNIQUE (fitting_id, entry_key);
      ALTER TABLE entries ADD CONSTRAINT entries_visit_id_version_key UNIQUE (visit_id, version);
      ALTER TABLE entries ADD CONSTRAINT fitting_with_visit CHECK ((fitting_id IS NULL) = (visit_id IS NULL));
      ALTER TABLE entries ADD CONSTRAINT entries_fitting_id_fkey
        FOREIGN KEY (clinic_id, fitting_id) REFERENCES fittings (clinic_id, id);
      ALTER TABLE entries ADD CONSTRAINT entries_visit_of_fitting
        FOREIGN KEY (fitting_id, visit_id) REFERENCES visits (fitting_id, id);
    SQL
    written.each do |table|
      run "ALTER TABLE #{table} ADD CONSTRAINT #{table}_entry_fkey " \
            "FOREIGN KEY (visit_id, version) REFERENCES entries (visit_id, version)"
    end
    touched.each { |table| run "ALTER TABLE #{table} ENABLE TRIGGER USER" }

    # a visit is numbered when it is made, under the lock of its fitting
    run <<~SQL
      CREATE FUNCTION number_visit() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        NEW.number := coalesce((SELECT max(number) FROM visits WHERE fitting_id = NEW.fitting_id), 0) + 1;
        RETURN NEW;
      END $$;
      CREATE TRIGGER number_visit BEFORE INSERT ON visits FOR EACH ROW WHEN (NEW.number IS NULL)
        EXECUTE FUNCTION number_visit();
    SQL

    # every entry counts its fitting and its visit on; that alone is no change to audit, the entry is
    run <<~SQL
      CREATE FUNCTION count_entry() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        IF NEW.fitting_id IS NOT NULL THEN
          UPDATE fittings SET version = NEW.version WHERE id = NEW.fitting_id AND version = NEW.version - 1;
          IF NOT FOUND THEN
            RAISE EXCEPTION 'entry % does not follow the last one of its fitting', NEW.version
              USING ERRCODE = 'restrict_violation';
          END IF;
          UPDATE visits SET version = NEW.version WHERE id = NEW.visit_id;
        END IF;
        RETURN NULL;
      END $$;
      CREATE TRIGGER count_entry AFTER INSERT ON entries FOR EACH ROW EXECUTE FUNCTION count_entry();
      CREATE FUNCTION only_counted(was jsonb, now jsonb) RETURNS boolean LANGUAGE sql IMMUTABLE AS
        $$ SELECT was - 'version' = now - 'version' $$;
    SQL
    %w[visits fittings].each do |table|
      run "DROP TRIGGER audited ON #{table}"
      run "CREATE TRIGGER audited AFTER INSERT OR DELETE ON #{table} FOR EACH ROW EXECUTE FUNCTION write_audit()"
      run "CREATE TRIGGER audited_change AFTER UPDATE ON #{table} FOR EACH ROW " \
            "WHEN (NOT only_counted(to_jsonb(OLD), to_jsonb(NEW))) EXECUTE FUNCTION write_audit()"
    end
  end

  down do
    raise Sequel::Error,
          "What was written is not numbered back: bring a backup of before back with bin/restore."
  end
end
