# frozen_string_literal: true

module Handrail
  module Web
    # How well the clinic's readings repeat: a report for those who take them, kindly worded.
    class Tapes < Base
      get "/?" do
        clinical!
        found = Store::Projectors::ReadingPairs.of(clinic)
        found = found.select { |(by, _), _| by == account.id } unless account.senior?
        names = Store::Account.where(clinic_id: clinic.id).select_hash(:id, :name)
        erb :"tapes/report", locals: { found: found.group_by { |(by, _), _| by }, names: names }
      end
    end
  end
end
