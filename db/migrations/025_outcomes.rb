# frozen_string_literal: true

require_relative "../support/tables"

# What became of each fitting, kept beside it for what a clinic learns from its own outcomes: a page
# that counts over every fitting there ever was reads two narrow tables, and no entry.
Sequel.migration do
  up do
    # first and last size of a side of a fitting that was handed over
    Tables.owned(
      self,
      :fitting_outcomes,
      parents: {
        fitting_id: :fittings,
        product_id: :products,
        revision_id: :chart_revisions
      },
      optional: [:revision_id],
      audit: false
    ) do
      String :side, null: false
      String :family, null: false
      String :first, null: false
      String :last, null: false
      BigDecimal :probability
      unique %i[fitting_id side]
      index %i[clinic_id product_id fitting_id]
      constraint(:chance, Sequel.lit("probability BETWEEN 0 AND 1"))
    end

    # how often a fitting was changed, and how many of its rechecks were held
    Tables.owned(self, :fitting_counts, parents: { fitting_id: :fittings }, audit: false) do
      String :family, null: false
      Integer :changes, null: false
      Integer :rechecks, null: false
      unique :fitting_id
      constraint(:counts, Sequel.lit("changes >= 0 AND rechecks >= 0"))
    end
  end

  down { drop_table :fitting_counts, :fitting_outcomes }
end
