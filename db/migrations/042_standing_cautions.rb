# frozen_string_literal: true

require_relative "../support/tables"

# What is to be taken care of of a wearer, whatever is ordered: an allergy, a shunt arm, a pacemaker. It stands until
# somebody ends it. And where a wearer lives, who pays, who sent them.
Sequel.migration do
  up do
    alter_table :patients do
      add_column :address, String
      add_column :payer, String
      add_column :referrer, String
    end
    Tables.signed(
      self,
      :standing_cautions,
      parents: {
        patient_id: :patients,
        ended_by: :accounts
      },
      optional: [:ended_by]
    ) do
      String :text, null: false
      column :ended_at, :timestamptz
      String :ended_why
      constraint(:text_said, Tables.said(:text))
      constraint(:ended_whole, Sequel.lit("num_nulls(ended_at, ended_by, ended_why) IN (0, 3)"))
    end
  end

  down do
    drop_table :standing_cautions
    alter_table :patients do
      drop_column :address
      drop_column :payer
      drop_column :referrer
    end
  end
end
