# frozen_string_literal: true

module Handrail
  module Store
    # Looking people up.
    module Find
      # Patients of a clinic by parts of name, owner, record number or date of birth; every word must be found.
      def self.patients(clinic, text, limit: 40)
        words = text.to_s.downcase.split.first(5)
        set = Patient.where(clinic_id: clinic.id)
        words.each do |word|
          pattern = "%#{set.escape_like(word)}%"
          set = set.where(Sequel.lit("lower(concat_ws(' ', given_name, family_name, owner_name, record_number, to_char(born_on, 'YYYY-MM-DD DD Mon YYYY'))) LIKE ?", pattern))
        end
        set.order(:family_name, :given_name, :id).limit(limit).all
      end
    end
  end
end
