# frozen_string_literal: true

module Handrail
  module Store
    # Looking people up.
    module Find
      COLUMNS = "given_name, family_name, owner_name, record_number, to_char(born_on, 'YYYY-MM-DD DD Mon YYYY')"

      # Patients of a clinic by parts of name, owner, record number or date of birth; every word must be found.
      def self.patients(clinic, text, limit: 40)
        set = Patient.where(clinic_id: clinic.id)
        text.to_s.downcase.split.first(5).each do |word|
          set = set.where(Sequel.lit("lower(concat_ws(' ', #{COLUMNS})) LIKE ?", "%#{set.escape_like(word)}%"))
        end
        set.order(:family_name, :given_name, :id).limit(limit).all
      end
    end
  end
end
