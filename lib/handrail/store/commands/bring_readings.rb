# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Brings in readings from before as one: all of them or none. TakeBackReadings undoes it as one.
      #
      #   BringReadings.new("rows" => JSON.generate([[2, { "record_number" => "C 77", ... }], ...]))
      class BringReadings < ClinicCommand
        input :rows, :text, most: 1_500_000, missing: t(:choose_file_first)

        NO_LIST = t(:no_list_readings_choose)

        def perform(clinic, account)
          found, faults = Earlier.read(clinic, listed)
          refuse!(faults.to_h { |line, words| ["line #{line}", words] })
          ids = Earlier.add(clinic, account, found)
          [t(:readings_before_brought, many: ids.size), { "earlier" => ids }]
        end

        private

        def listed
          list = JSON.parse(rows)
          Earlier.list?(list) && list.any? ? list : unacceptable("rows", NO_LIST)
        rescue JSON::ParserError
          unacceptable("rows", NO_LIST)
        end
      end
    end
  end
end
