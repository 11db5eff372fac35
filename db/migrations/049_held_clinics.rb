# frozen_string_literal: true

# A clinic can be moved to another cluster of databases while it works: for some seconds nothing is written in it, and
# what is left where it was is read-only.
Sequel.migration do
  up do
    # why - moving: it is about to go; arriving: it is not here yet; gone: it lives elsewhere by now
    create_table(:clinic_holds) do
      column :clinic_id, :Bignum, primary_key: true
      String :why, null: false
      String :cluster, null: false
      column :since, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      constraint(:why_known, why: %w[moving arriving gone])
    end

    run <<~SQL
      CREATE FUNCTION refuse_held() RETURNS trigger LANGUAGE plpgsql AS $$
      DECLARE
        own bigint := CASE WHEN TG_OP = 'DELETE' THEN OLD.clinic_id ELSE NEW.clinic_id END;
      BEGIN
        IF EXISTS (SELECT 1 FROM clinic_holds WHERE clinic_id = own) THEN
          RAISE EXCEPTION 'the clinic is held' USING ERRCODE = 'HR001';
        END IF;
        IF TG_OP = 'DELETE' THEN RETURN OLD; END IF;
        RETURN NEW;
      END $$;
      CREATE FUNCTION refuse_held_clinic() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        IF EXISTS (SELECT 1 FROM clinic_holds WHERE clinic_id = OLD.id) THEN
          RAISE EXCEPTION 'the clinic is held' USING ERRCODE = 'HR001';
        END IF;
        IF TG_OP = 'DELETE' THEN RETURN OLD; END IF;
        RETURN NEW;
      END $$;
      CREATE TRIGGER held BEFORE UPDATE OR DELETE ON clinics FOR EACH ROW EXECUTE FUNCTION refuse_held_clinic();
    SQL
    # not from what the application calls its tables: from those that there are
    owned =
      fetch(
        "SELECT table_name FROM information_schema.columns WHERE table_schema = 'public' AND " \
          "column_name = 'clinic_id' AND table_name NOT IN ('clinic_holds', 'audit_entries') ORDER BY 1"
      ).map(:table_name)
    owned.each do |table|
      run "CREATE TRIGGER held BEFORE INSERT OR UPDATE OR DELETE ON #{literal(table.to_sym)} " \
            "FOR EACH ROW EXECUTE FUNCTION refuse_held()"
    end
  end

  down do
    raise Sequel::Error,
          "This can not be taken back: it would lose which clinics are held. Restore a backup instead."
  end
end
