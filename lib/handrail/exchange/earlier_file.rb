# frozen_string_literal: true

module Handrail
  module Exchange
    # Readings from before as CSV, one a row, as a clinic brings them along from what it used then.
    class EarlierFile
      COLUMNS = %w[record_number date site side posture value unit].freeze
      MOST = 5000
      EXAMPLE = <<~CSV.freeze
        #{COLUMNS.join(",")}
        C 77,14 Mar 2025,calf_widest,left,standing,36.5,cm
        C 77,14 Mar 2025,calf_widest,right,standing,36.9,cm
      CSV

      # Returns [[line, { column => text }], ...]. Raises CSVTable::Faulty.
      def self.rows(path, name: nil) = CSVTable.new(path, COLUMNS, name: name).listed(MOST)
    end
  end
end
