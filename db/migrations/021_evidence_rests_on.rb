# frozen_string_literal: true

require_relative "../support/tables"

# What was looked at counts for what it was looked at on: each check, step, teach-back, size,
# confirmed identity and signature keeps what it rested on (wearer, protocol, size, piece, marks),
# and no longer counts once that is another. Another piece is looked at as a whole; a serial number
# that was mistyped is put right and is the same piece. An open stop holds every device on that part
# of the wearer.
Sequel.migration do
  up do
    resting = %i[
      safety_questions
      size_choices
      steps_done
      check_results
      teach_backs
      overrides
      hand_overs
      visit_timers
    ]
    resting.each { |table| alter_table(table) { add_column :rests_on, :jsonb } }
    # the number of the entry with which a piece came, on the rows that put its serial number right
    alter_table(:issued_devices) { add_column :piece, Integer }
    run "ALTER TABLE issued_devices ADD CONSTRAINT piece_came_before CHECK (piece IS NULL OR piece < version)"

    # a step is done again on another piece
    run "DROP INDEX steps_done_once"
    run "CREATE UNIQUE INDEX steps_done_once ON steps_done " \
          "(visit_id, coalesce(side, ''), step, place, coalesce(rests_on, '{}'::jsonb))"
    # a recheck that gives out something new is signed for too
    run "ALTER TABLE hand_overs DROP CONSTRAINT hand_overs_fitting_id_key"
    run "ALTER TABLE hand_overs ADD CONSTRAINT hand_overs_visit_id_key UNIQUE (visit_id)"
    # tapped by mistake is no way of dealing with a stop, and no course of the skin
    { stop_actions: "action", skin_findings: "course" }.each do |table, column|
      named = fetch(<<~SQL, table.to_s, "%\"#{column}\"%", "%#{column}%").select_map(:conname)
        SELECT conname FROM pg_constraint WHERE conrelid = ?::regclass AND contype = 'c'
        AND conname NOT IN ('course_of_something') AND (pg_get_constraintdef(oid) LIKE ? OR pg_get_constraintdef(oid) LIKE ?)
      SQL
      named.each { |name| run "ALTER TABLE #{table} DROP CONSTRAINT #{name}" }
    end
    alter_table(:stop_actions) do
      add_constraint(:action_known, action: %w[referred advised emergency mistake])
    end
    alter_table(:skin_findings) do
      add_constraint(:course_known, course: %w[smaller same larger gone mistake])
    end

    # open stops of a fitting, for the wearer's other devices
    create_table :open_stops do
      foreign_key :clinic_id, :clinics, type: :Bignum, null: false
      column :fitting_id, :Bignum, null: false
      column :visit_id, :Bignum, null: false
      column :patient_id, :Bignum, null: false
      String :key, null: false
      String :side
      String :body, null: false
      String :holds, null: false
      String :urgency, null: false
      String :title, null: false
      String :text, text: true
      column :figures, :jsonb, null: false
      Integer :version, null: false
      foreign_key %i[clinic_id fitting_id], :fittings, key: %i[clinic_id id]
      foreign_key %i[clinic_id visit_id], :visits, key: %i[clinic_id id]
      foreign_key %i[clinic_id patient_id], :patients, key: %i[clinic_id id]
      primary_key %i[fitting_id key]
      check side: Tables::SIDES
      check holds: %w[wearer part]
      check urgency: %w[emergency today prescriber]
      index %i[clinic_id patient_id]
      index :visit_id
    end

    # what was written before rested on what stood when it was written
    tables = [*resting, :issued_devices, :stop_actions]
    tables.each { |table| run "ALTER TABLE #{table} DISABLE TRIGGER USER" }
    # a place of the skin is told by the number of its first entry, which is the same wherever the
    # fitting is read in
    run "UPDATE stop_actions a SET stop = 'skin:' || s.version FROM skin_findings s " \
          "WHERE a.stop ~ '^skin:[0-9]+$' AND s.id = substr(a.stop, 6)::bigint"
    run <<~SQL
      CREATE FUNCTION pg_temp.stood(fitting bigint, number int, before int, own text, table_name text, place text)
      RETURNS jsonb LANGUAGE sql AS $$
        WITH mine AS (SELECT id FROM visits WHERE fitting_id = fitting AND visits.number <= stood.number),
        who AS (
          SELECT jsonb_build_array(concat_ws(' ', p.given_name, p.family_name), p.born_on::text, p.species) AS it
          FROM fittings f JOIN patients p ON p.id = f.patient_id WHERE f.id = fitting),
        pinned AS (
          SELECT coalesce(max(version), 0) AS it FROM fitting_pins
          WHERE fitting_id = fitting AND (visit_id IS NULL OR visit_id IN (SELECT id FROM mine))
            AND coalesce(version, 0) < before AND left_offer IS NULL),
        chosen AS (
          SELECT to_jsonb(chosen) AS it FROM size_choices
          WHERE visit_id IN (SELECT id FROM mine) AND version < before AND (own IS NULL OR side IS NULL OR side = own)
          ORDER BY version DESC LIMIT 1),
        held AS (
          SELECT to_jsonb(coalesce(piece, version)) AS it FROM issued_devices
          WHERE visit_id IN (SELECT id FROM mine) AND version < before AND (own IS NULL OR side IS NULL OR side = own)
          ORDER BY version DESC LIMIT 1)
        SELECT CASE table_name
          WHEN 'safety_questions' THEN jsonb_build_object('wearer', (SELECT it FROM who), 'pin', (SELECT it FROM pinned))
          WHEN 'overrides' THEN jsonb_build_object('pin', (SELECT it FROM pinned))
          WHEN 'size_choices' THEN jsonb_build_object('pin', (SELECT it FROM pinned))
          WHEN 'visit_timers' THEN jsonb_build_object('pin', (SELECT it FROM pinned), 'piece', (SELECT it FROM held))
          ELSE jsonb_build_object('pin', (SELECT it FROM pinned), 'size', (SELECT it FROM chosen),
                                  'piece', (SELECT it FROM held)) END
      $$;
    SQL
    resting.each do |table|
      side = schema(table).any? { |name, _| name == :side }
      run "UPDATE #{table} t SET rests_on = pg_temp.stood(v.fitting_id, v.number, t.version, " \
            "#{side ? "t.side" : "NULL"}, '#{table}', '') FROM visits v WHERE v.id = t.visit_id"
    end
    tables.each { |table| run "ALTER TABLE #{table} ENABLE TRIGGER USER" }
  end

  down do
    raise Sequel::Error,
          "This can not be taken back: it would lose what was entered. Restore a backup instead."
  end
end
