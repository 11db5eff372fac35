# frozen_string_literal: true

# Tries of passwords and codes are counted in the database: a restart forgets none of them, and a
# flood from elsewhere pushes none out.
Sequel.migration do
  up do
    create_table :tries do
      String :key, primary_key: true
      Integer :count, null: false
      column :ends_at, :timestamptz, null: false
      index :ends_at
      constraint(:key_bounded, Sequel.lit("length(key) <= 200"))
      constraint(:count_positive, Sequel.lit("count > 0"))
    end
  end

  down { drop_table :tries }
end
