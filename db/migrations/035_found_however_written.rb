# frozen_string_literal: true

# People are found however a name, number or day is written: without accents and apostrophes, with another spacing of
# the number, with a letter wrong, by telephone.
Sequel.migration do
  up do
    # a dictionary by its name never changes within a version of the server: so it may stand in a generated column
    run <<~SQL
      CREATE EXTENSION IF NOT EXISTS unaccent;
      CREATE FUNCTION plain_text(written text) RETURNS text LANGUAGE sql IMMUTABLE STRICT PARALLEL SAFE AS $$
        SELECT lower(public.unaccent('public.unaccent'::regdictionary,
                                     regexp_replace(written, '[''’‘`´]', '', 'g')))
      $$;
      CREATE FUNCTION person_text(given text, family text, owner text, number text, born date, phone text)
      RETURNS text LANGUAGE sql IMMUTABLE PARALLEL SAFE AS $$
        SELECT concat_ws(' ', public.plain_text(concat_ws(' ', given, family, owner, number)),
          lower(regexp_replace(number, '[^[:alnum:]]', '', 'g')),
          extract(year from born)::text || '-' || lpad(extract(month from born)::text, 2, '0') || '-' ||
            lpad(extract(day from born)::text, 2, '0'),
          lpad(extract(day from born)::text, 2, '0') || ' ' ||
            (ARRAY['jan','feb','mar','apr','may','jun','jul','aug','sep','oct','nov','dec'])
              [extract(month from born)::int] || ' ' || extract(year from born)::text,
          extract(day from born)::text || '.' || extract(month from born)::text || '.' || extract(year from born)::text,
          lpad(extract(day from born)::text, 2, '0') || '.' || lpad(extract(month from born)::text, 2, '0') || '.' ||
            extract(year from born)::text,
          extract(day from born)::text || '/' || extract(month from born)::text || '/' || extract(year from born)::text,
          lpad(extract(day from born)::text, 2, '0') || '/' || lpad(extract(month from born)::text, 2, '0') || '/' ||
            extract(year from born)::text,
          nullif(regexp_replace(coalesce(phone, ''), '[^0-9]', '', 'g'), ''))
      $$;
      ALTER TABLE patients DROP COLUMN search_text, DROP COLUMN name_key;
      DROP FUNCTION patient_text(text, text, text, text, date);
      ALTER TABLE patients
        ADD COLUMN search_text text
          GENERATED ALWAYS AS (person_text(given_name, family_name, owner_name, record_number, born_on, phone)) STORED,
        ADD COLUMN name_key text COLLATE "C"
          GENERATED ALWAYS AS (plain_text(coalesce(nullif(trim(family_name), ''), given_name))) STORED,
        ADD COLUMN names text
          GENERATED ALWAYS AS (plain_text(given_name || ' ' || coalesce(family_name, '') || ' ' ||
                                          coalesce(owner_name, ''))) STORED,
        ADD COLUMN record_tight text
          GENERATED ALWAYS AS (upper(regexp_replace(record_number, '[^[:alnum:]]', '', 'g'))) STORED;
      CREATE INDEX patients_search ON patients USING gin (search_text gin_trgm_ops);
      CREATE INDEX patients_by_name ON patients (clinic_id, name_key, given_name, id);
      CREATE INDEX patients_by_number ON patients (clinic_id, record_tight);
      CREATE INDEX patients_by_birth ON patients (clinic_id, born_on);
      CREATE INDEX issued_devices_by_serial ON issued_devices (clinic_id, upper(serial));
    SQL

    # the words that names are made of, each once: what is nearly one of them is looked up here, however many people
    # there are. A word that nobody has any more does no harm.
    create_table :name_words do
      foreign_key :clinic_id, :clinics, type: :Bignum, null: false
      String :word, null: false, collate: '"C"'
      primary_key %i[clinic_id word]
    end
    run <<~SQL
      CREATE INDEX name_words_alike ON name_words USING gin (word gin_trgm_ops);
      CREATE FUNCTION keep_name_words() RETURNS trigger LANGUAGE plpgsql AS $$
      BEGIN
        INSERT INTO name_words SELECT DISTINCT NEW.clinic_id, word
          FROM regexp_split_to_table(NEW.names, '[^[:alnum:]]+') AS word WHERE length(word) > 3
          ORDER BY word ON CONFLICT DO NOTHING;
        RETURN NULL;
      END $$;
      INSERT INTO name_words SELECT DISTINCT clinic_id, word
        FROM patients, regexp_split_to_table(names, '[^[:alnum:]]+') AS word WHERE length(word) > 3;
      CREATE TRIGGER name_words AFTER INSERT OR UPDATE OF given_name, family_name, owner_name ON patients
        FOR EACH ROW EXECUTE FUNCTION keep_name_words();
    SQL
  end

  down do
    raise Sequel::Error,
          "This can not be taken back: it would lose what was entered. Restore a backup instead."
  end
end
