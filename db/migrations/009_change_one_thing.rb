# frozen_string_literal: true

require_relative "../support/tables"

# Changes with what was before and after and where it was felt, checks that are not possible today,
# work that goes away to the workshop or the maker, and what each remedy came to.
Sequel.migration do
  up do
    drop_column_constraints = <<~SQL
      SELECT conname FROM pg_constraint WHERE conrelid = 'check_results'::regclass AND contype = 'c'
        AND (pg_get_constraintdef(oid) LIKE '%outcome%' OR conname = 'value_where_measured')
    SQL
    fetch(drop_column_constraints).each do |row|
      run "ALTER TABLE check_results DROP CONSTRAINT #{row[:conname]}"
    end
    alter_table :check_results do
      add_constraint :outcome_known, outcome: %w[good bad not_possible]
      add_constraint :value_where_measured,
                     Sequel.lit(
                       "CASE WHEN outcome = 'not_possible' THEN value IS NULL " \
                         "ELSE (kind = 'yes_no') = (value IS NULL) END"
                     )
      add_constraint :not_possible_has_reason,
                     Sequel.lit("outcome <> 'not_possible' OR length(trim(coalesce(note, ''))) > 0")
    end

    alter_table :changes do
      add_column :before, String
      add_column :after, String
      # what it was named by, and the point of the figure that was tapped, in the figure's own measure
      add_column :felt, String
      add_column :spot, :jsonb
      add_column :doer, String, null: false, default: "fitter"
      add_constraint :felt_known, felt: %w[hurts rubs gaps slips digs numb]
      add_constraint :doer_known, doer: %w[wearer fitter workshop maker prescriber]
      add_constraint :texts_in_bounds, Sequel.lit("length(before) <= 80 AND length(after) <= 80")
    end

    Tables.at_visit(self, :job_slips, parents: { fitting_id: :fittings }) do
      String :side
      String :doer, null: false
      String :what, null: false
      String :measures, text: true
      column :marks, :jsonb, null: false
      column :opens, :jsonb, null: false
      Date :due_on, null: false
      String :problem
      String :remedy
      check side: Tables::SIDES
      check doer: %w[workshop maker]
      constraint(:what_said, Tables.said(:what))
    end

    # back from the workshop, or called off
    Tables.at_visit(self, :slip_returns, parents: { slip_id: :job_slips }) do
      String :outcome, null: false
      String :note
      check outcome: %w[back called_off]
      unique :slip_id
    end

    Tables.append_only(self, :job_slips)
    Tables.append_only(self, :slip_returns)

    # what each remedy of a visit came to, kept with every entry
    create_table :remedy_tries do
      primary_key :id, type: :Bignum
      foreign_key :clinic_id, :clinics, type: :Bignum, null: false
      column :visit_id, :Bignum, null: false
      String :family, null: false
      String :problem, null: false
      String :remedy, null: false
      Integer :tries, null: false
      Integer :ended, null: false
      foreign_key %i[clinic_id visit_id], :visits, key: %i[clinic_id id]
      unique %i[visit_id problem remedy]
      constraint(:ended_in_tries, Sequel.lit("tries > 0 AND ended BETWEEN 0 AND tries"))
      index %i[clinic_id family problem]
    end
  end

  down do
    raise Sequel::Error,
          "What was written at visits is not thrown away: use bin/start --reset-demo."
  end
end
