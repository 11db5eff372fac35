# frozen_string_literal: true

module Handrail
  module Store
    # A bundle of another program, looked at before anything of it is kept.
    module Bundles
      # What would be refused, as [[place in the bundle or nil, words], ...]. Keeps nothing. rows, record - see
      # Commands::BringBundle
      def self.faults(clinic, account, rows, record = nil)
        found = []
        Store
          .db
          .transaction(rollback: :always, savepoint: true) do
            Commands::BringBundle.new({ "rows" => rows }, record: record).perform(clinic, account)
          rescue Faults => e
            found = e.fields.map { |name, words| [name[/\d+/]&.to_i, words] }
          end
        found
      end
    end
  end
end
