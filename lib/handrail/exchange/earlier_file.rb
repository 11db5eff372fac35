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
      def self.rows(path, name: nil)
        table = CSVTable.new(path, COLUMNS, name: name)
        found = []
        table.each do |fields, line|
          if found.size >= MOST
            table.fault(
              line,
              "is more than is brought in at once: #{MOST} rows at most. Split the file."
            )
          end
          found << [line, COLUMNS.zip(fields).to_h.reject { |_, text| text.empty? }]
        end
        found
      end
    end
  end
end
