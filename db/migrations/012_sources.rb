# frozen_string_literal: true

# Where a value came from: typed, or sent by a device, whose message is taken once.
Sequel.migration do
  up do
    %i[readings check_results].each do |table|
      alter_table table do
        add_column :source, String, null: false, default: "typed"
        add_column :message, String
        add_constraint :source_known, source: %w[typed tape sensor]
        add_constraint :message_of_a_device, Sequel.lit("(message IS NULL) = (source = 'typed')")
        add_constraint :message_in_bounds, Sequel.lit("length(message) <= 60")
      end
      run "CREATE UNIQUE INDEX #{table}_message_once ON #{table} (clinic_id, message) WHERE message IS NOT NULL"
    end
  end

  down do
    raise Sequel::Error,
          "What was written at visits is not thrown away: use bin/start --reset-demo."
  end
end
