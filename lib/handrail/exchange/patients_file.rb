# frozen_string_literal: true

module Handrail
  module Exchange
    # Patients as CSV, one a row, as a clinic brings them along from what it used before.
    class PatientsFile
      COLUMNS = %w[
        record_number
        species
        given_name
        family_name
        owner_name
        born_on
        phone
        note
      ].freeze
      MOST = 1000
      # what the columns hold, see Interpretation
      MEANT = { days: %w[born_on] }.freeze
      EXAMPLE = <<~CSV.freeze
        #{COLUMNS.join(",")}
        C 77,human,Wilma,Quarrel,,14 Mar 1961,12 34,
        A 3,dog,Moss,,Ada Quill,2 May 2021,,
      CSV

      # Returns [[line, { column => text }], ...]. Raises CSVTable::Faulty.
      def self.rows(path, name: nil) =
        CSVTable.new(path, COLUMNS, name: name, foreign: true).listed(MOST)
    end
  end
end
