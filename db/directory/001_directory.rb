# frozen_string_literal: true

# Where the clinics of a group live.
Sequel.migration do
  change do
    create_table(:clusters) do
      String :name, primary_key: true
      Integer :number, null: false, unique: true
    end

    create_table(:clinics) do
      column :id, :Bignum, primary_key: true
      String :name, null: false
      foreign_key :cluster, :clusters, type: String, key: :name, null: false
      Integer :version, null: false, default: 1
      column :changed_at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
    end

    create_table(:moves) do
      primary_key :id, type: :Bignum
      column :clinic_id, :Bignum, null: false
      foreign_key :source, :clusters, type: String, key: :name, null: false
      foreign_key :target, :clusters, type: String, key: :name, null: false
      String :step, null: false
      column :told, :jsonb, null: false, default: Sequel.lit("'{}'::jsonb")
      column :begun_at, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      column :ended_at, :timestamptz
      String :outcome
      constraint(:to_another, Sequel.lit("source <> target"))
      constraint(:step_known, step: %w[begun copied held proved switched])
      index :clinic_id, unique: true, where: { ended_at: nil }, name: :moves_one_at_a_time
    end

    # what lies where a clinic lived before: read-only until it is dropped
    create_table(:old_copies) do
      column :clinic_id, :Bignum, null: false
      foreign_key :cluster, :clusters, type: String, key: :name, null: false
      column :since, :timestamptz, null: false, default: Sequel::CURRENT_TIMESTAMP
      primary_key %i[clinic_id cluster]
    end
  end
end
