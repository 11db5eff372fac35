# frozen_string_literal: true

require "csv"

module Handrail
  module Web
    # What the clinic learns from its own outcomes: sizes that were right, charts that run small or
    # large, what ended which problem, what is overdue.
    class Report < Base
      # counts below this are hidden in what leaves the clinic: who is one of two can be known
      LEAST = 5

      get "/" do
        clinical!
        page
      end

      post "/families.csv" do
        clinical!
        confirm!
        content_type "text/csv"
        headers "Content-Disposition" => 'attachment; filename="handrail-families.csv"'
        csv(Store::Learned.new(clinic).families)
      rescue Store::Faults => e
        status 422
        page(faults: e.fields)
      end

      helpers do
        def page(faults: {})
          erb :"report/page", locals: { learned: Store::Learned.new(clinic), faults: faults }
        end

        # "7 of 9", or "–" of nothing
        def of(part, whole) = whole.zero? ? "–" : "#{part} of #{whole}"

        def csv(lines)
          CSV.generate do |out|
            out << %w[family fittings sized first_size_right changes rechecks overdue]
            lines.each do |line|
              counts = [
                line.fittings,
                line.sized,
                line.first_right,
                line.changes,
                line.rechecks,
                line.overdue
              ]
              out << [line.family.name, *counts.map { |count| hidden_count(count) }]
            end
          end
        end

        def hidden_count(count) = count.positive? && count < LEAST ? "<#{LEAST}" : count
      end
    end
  end
end
