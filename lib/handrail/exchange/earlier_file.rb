# frozen_string_literal: true

module Handrail
  module Exchange
    # Readings from before as CSV, one a row, as a clinic brings them along from what it used then.
    class EarlierFile
      COLUMNS = %w[record_number date site side posture value unit].freeze
      MOST = 5000
      # what the columns hold, see Interpretation
      MEANT = { figures: %w[value], unit: "unit", days: %w[date] }.freeze
      EXAMPLE = <<~CSV.freeze
        #{COLUMNS.join(",")}
        C 77,14 Mar 2025,calf_widest,left,standing,36.5,cm
        C 77,14 Mar 2025,calf_widest,right,standing,36.9,cm
      CSV

      # columns that may be there: how the tape was pulled, and what the readings.csv of a wearer's zip file has beside
      OPTIONAL = %w[tension mm by counts].freeze

      # Returns [[line, { column => text }], ...]. Raises CSVTable::Faulty.
      def self.rows(path, name: nil) =
        CSVTable.new(path, COLUMNS, name: name, foreign: true, optional: OPTIONAL).listed(MOST)
    end
  end
end
