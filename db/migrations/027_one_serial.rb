# frozen_string_literal: true

# A serial number is worn once: of one product no two pieces that are worn have the same, unless a
# senior wrote why. Numbers that stand twice already are kept as they are, and say so.
Sequel.migration do
  up do
    alter_table(:issued_devices) { add_column :shared_why, String, text: true }
    run "ALTER TABLE issued_devices DISABLE TRIGGER USER"
    run <<~SQL
      UPDATE issued_devices d SET shared_why = 'written down before numbers were held to one piece'
      WHERE serial IS NOT NULL AND ended_at IS NULL AND EXISTS (
        SELECT 1 FROM issued_devices o WHERE o.clinic_id = d.clinic_id AND o.product_id = d.product_id
          AND o.serial = d.serial AND o.ended_at IS NULL AND o.id <> d.id)
    SQL
    run "ALTER TABLE issued_devices ENABLE TRIGGER USER"
    run "CREATE UNIQUE INDEX issued_devices_serial_once ON issued_devices (clinic_id, product_id, serial) " \
          "WHERE ended_at IS NULL AND serial IS NOT NULL AND shared_why IS NULL"
  end

  down do
    run "DROP INDEX issued_devices_serial_once"
    alter_table(:issued_devices) { drop_column :shared_why }
  end
end
