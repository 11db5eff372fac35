# frozen_string_literal: true

require "json"
require "zip"

module Handrail
  module Exchange
    # A size chart as a Frictionless Tabular Data Package: datapackage.json beside chart.csv in one
    # zip file, or a datapackage.json that carries its rows itself. The descriptor keeps to
    # docs/formats/size-chart.schema.json. Others' packages are read by PackageIn.
    module DataPackage
      # The package is not as it must be; the message says what to mend.
      class Faulty < Handrail::Error
      end

      SCHEMA = File.join(ROOT, "docs", "formats", "size-chart.schema.json")
      FIELDS = [
        { "name" => "part", "type" => "string" },
        { "name" => "size", "type" => "string", "constraints" => { "required" => true } },
        { "name" => "site", "type" => "string", "constraints" => { "required" => true } },
        { "name" => "min", "type" => "string", "constraints" => { "required" => true } },
        { "name" => "max", "type" => "string", "constraints" => { "required" => true } },
        { "name" => "unit", "type" => "string", "constraints" => { "enum" => %w[mm cm m in ft] } },
        { "name" => "posture", "type" => "string" },
        { "name" => "tension", "type" => "string" },
        # the same edges as numbers, for programs that compute: what counts are the texts
        { "name" => "min_mm", "type" => "number" },
        { "name" => "max_mm", "type" => "number" }
      ].freeze
      NUMBERS = %w[min_mm max_mm].freeze
      LARGEST = 2_000_000

      class << self
        # The descriptor of a chart, as a Hash. name - of the product; maker, dated, tie_rule,
        # primary - as kept; rows - for inline data, or nil.
        def descriptor(name:, maker:, family:, dated:, tie_rule:, primary: nil, rows: nil)
          resource = {
            "name" => "chart",
            "profile" => "tabular-data-resource",
            "schema" => {
              "fields" => FIELDS,
              "missingValues" => [""]
            }
          }
          resource.merge!(
            (
              if rows
                {
                  "data" =>
                    rows.map do |row|
                      { **ChartFile::COLUMNS.zip(ChartFile.fields(row)).to_h, **numbers(row) }
                    end
                }
              else
                { "path" => "chart.csv", "format" => "csv", "encoding" => "utf-8" }
              end
            )
          )
          {
            "profile" => "tabular-data-package",
            "name" => slug("#{maker} #{name}"),
            "title" => "#{maker} #{name}",
            "created" => dated.iso8601,
            "size_chart" => {
              "family" => family,
              "tie_rule" => tie_rule,
              "primary_site" => primary
            }.compact,
            "resources" => [resource]
          }
        end

        # The zip file's bytes.
        def zip(descriptor, rows)
          Zip::OutputStream
            .write_buffer do |out|
              out.put_next_entry("datapackage.json")
              out.write(JSON.pretty_generate(descriptor))
              out.put_next_entry("chart.csv")
              out.write(with_numbers(rows))
            end
            .string
        end

        private

        # the edges in mm, as exact as a decimal can be
        def numbers(row)
          { "min_mm" => row.min.to_f.round(4), "max_mm" => row.max.to_f.round(4) }
        end

        def with_numbers(rows)
          lines = CSV.parse(ChartFile.write(rows))
          added = [NUMBERS, *rows.map { |row| numbers(row).values }]
          CSV.generate(row_sep: "\r\n") do |csv|
            lines.zip(added) { |line, more| csv << (line + more) }
          end
        end

        def slug(text) = text.downcase.gsub(/[^a-z0-9]+/, "-").gsub(/\A-|-\z/, "")
      end
    end
  end
end
