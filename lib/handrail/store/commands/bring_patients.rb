# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Brings in many patients as one: all of them or none. TakeBackPatients undoes it as one.
      #
      #   BringPatients.new("rows" => JSON.generate([[2, { "record_number" => "C 77", ... }], ...]))
      class BringPatients < ClinicCommand
        role :anyone
        input :rows, :text, most: 550_000, missing: t(:choose_file_first)

        def perform(clinic, account)
          faults = {}
          ids =
            Arrivals.add(clinic, account, listed) { |line, words| faults["line #{line}"] = words }
          refuse!(faults)
          [t(:patients_brought, many: ids.size), { "patients" => ids }]
        end

        private

        def listed
          list = JSON.parse(rows)
          sound =
            list.is_a?(Array) && list.any? &&
              list.all? { |row| row.is_a?(Array) && row[1].is_a?(Hash) }
          sound ? list : unacceptable("rows", t(:no_list_patients_choose))
        rescue JSON::ParserError
          unacceptable("rows", t(:no_list_patients_choose))
        end
      end
    end
  end
end
