# frozen_string_literal: true

require "csv"

module Handrail
  module Web
    # What the clinic learns from its own outcomes: sizes that were right, charts that run small or
    # large, what ended which problem, what is overdue.
    class Report < Base
      # counts below this are hidden in what leaves the clinic: who is one of two can be known
      LEAST = 5
      # column => what of a line it counts
      COUNTED = {
        "fittings" => :fittings,
        "sized" => :sized,
        "first_size_right" => :first_right,
        "changes" => :changes,
        "rechecks" => :rechecks,
        "overdue" => :overdue
      }.freeze

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
        def of(part, whole) = whole.zero? ? "–" : Wording.t("web.of", part: part, whole: whole)

        # A count that is hidden is an empty field, so that a column of figures stays one; the last column names them.
        def csv(lines)
          CSV.generate(row_sep: "\r\n") do |out|
            out << ["family", *COUNTED.keys, "under_#{LEAST}"]
            lines.each do |line|
              counts = COUNTED.to_h { |column, member| [column, line.public_send(member)] }
              hidden = counts.select { |_, count| count.positive? && count < LEAST }.keys
              out << [
                line.family.name,
                *counts.map { |column, count| count unless hidden.include?(column) },
                hidden.join(" ")
              ]
            end
          end
        end
      end
    end
  end
end
