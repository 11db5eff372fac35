# frozen_string_literal: true

# A wearer who died, moved away, or wants no calls: from that day nobody is asked to come, written to or waited for.
# visits.resting says it again where lists are read.
Sequel.migration do
  up do
    alter_table :patients do
      add_column :rest, String
      add_column :rest_on, Date
      add_column :rest_said, String
      add_constraint :rest_known, Sequel.lit("rest IN ('died', 'moved_away', 'no_calls')")
      add_constraint :rest_whole,
                     Sequel.lit(
                       "(rest IS NULL) = (rest_on IS NULL) AND (rest IS NULL) = (rest_said IS NULL)"
                     )
    end
    alter_table(:visits) { add_column :resting, TrueClass, null: false, default: false }
  end

  down do
    alter_table(:visits) { drop_column :resting }
    alter_table :patients do
      drop_constraint :rest_whole
      drop_constraint :rest_known
      %i[rest rest_on rest_said].each { |column| drop_column column }
    end
  end
end
