# frozen_string_literal: true

# What was put right does not wait either where a check is no longer good by it, or a girth goes another way over the
# visits: the row of that says in course which.
Sequel.migration do
  up do
    alter_table :fitting_dues do
      drop_constraint :kind_known
      add_constraint :kind_known, kind: %w[part size problem skin mark misread failed turned]
    end
  end

  down do
    from(:fitting_dues).where(kind: %w[failed turned]).delete
    alter_table :fitting_dues do
      drop_constraint :kind_known
      add_constraint :kind_known, kind: %w[part size problem skin mark misread]
    end
  end
end
