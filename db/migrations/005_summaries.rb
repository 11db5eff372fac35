# frozen_string_literal: true

require_relative "../support/tables"

# What pages need of the whole clinic, kept beside the rows that it follows from: written in the same transaction as
# they are, and made anew from them by `bin/handrail summaries`.
Sequel.migration do
  up do
    # where a visit stands and what it needs next, as data
    Tables.owned(
      self,
      :visit_summaries,
      parents: {
        visit_id: :visits,
        patient_id: :patients
      },
      audit: false
    ) do
      String :title, null: false
      String :stage, null: false
      String :state, null: false
      String :finding, null: false
      column :figures, :jsonb, null: false
      column :done, :jsonb, null: false
      unique :visit_id
      check stage: %w[order measure size fit teach hand_over recheck]
      check state: %w[good look_again stop not_done]
    end

    # how well a fitter repeats a site: pairs of first two readings at one visit, by visit and in all
    Tables.owned(
      self,
      :reading_pairs,
      parents: {
        visit_id: :visits,
        by: :accounts
      },
      audit: false
    ) do
      String :site, null: false
      String :side, null: false
      String :posture, null: false
      BigDecimal :first_mm, null: false
      BigDecimal :second_mm, null: false
      unique %i[visit_id by site side posture]
    end

    Tables.owned(self, :repeatabilities, parents: { by: :accounts }, audit: false) do
      String :site, null: false
      Integer :pairs, null: false
      BigDecimal :squares, null: false
      BigDecimal :means, null: false
      unique %i[by site]
      constraint(:counts, Sequel.lit("pairs >= 0 AND squares >= 0 AND means >= 0"))
    end
  end

  down { drop_table :repeatabilities, :reading_pairs, :visit_summaries }
end
