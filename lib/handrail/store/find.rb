# frozen_string_literal: true

module Handrail
  module Store
    # Looking people up.
    module Find
      # Patients of a clinic by parts of name, owner, record number or date of birth; every word
      # must be found. Without a word, the first by name. from - how many to pass over.
      def self.patients(clinic, text, limit: 40, from: 0)
        set = Patient.where(clinic_id: clinic.id)
        words(text).each do |word|
          set = set.where(Sequel.like(:search_text, "%#{set.escape_like(word)}%"))
        end
        set.order(:family_name, :given_name, :id).limit(limit, from).all
      end

      # up to five words of at most 40 characters
      def self.words(text)
        text
          .to_s
          .dup
          .force_encoding(Encoding::UTF_8)
          .scrub("")
          .delete("\0")
          .downcase
          .split
          .first(5)
          .map { |word| word[0, 40] }
      end
      private_class_method :words
    end
  end
end
