# frozen_string_literal: true

# A size that was chosen by readings which were put right since, and would be another by them, does not wait: its row
# says in course which size it would be.
Sequel.migration do
  up do
    alter_table :fitting_dues do
      drop_constraint :kind_known
      add_constraint :kind_known, kind: %w[part size problem skin mark misread]
    end
  end

  down do
    from(:fitting_dues).where(kind: "misread").delete
    alter_table :fitting_dues do
      drop_constraint :kind_known
      add_constraint :kind_known, kind: %w[part size problem skin mark]
    end
  end
end
