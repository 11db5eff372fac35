# frozen_string_literal: true

require "json"
require "json_schemer"
require "tempfile"
require "zip"

module Handrail
  module Exchange
    # A size chart as a Frictionless Tabular Data Package: datapackage.json beside chart.csv in one
    # zip file, or a datapackage.json that carries its rows itself. The descriptor is held against
    # docs/formats/size-chart.schema.json.
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

        # Reads a package (zip or json) and yields the path of its chart as CSV; returns what the
        # block returns. Raises Faulty.
        def open(path, name: File.basename(path), &block)
          if File.binread(path, 2) == "PK"
            from_zip(path, name, &block)
          else
            from_json(parse(File.read(path, encoding: "UTF-8"), name), name, &block)
          end
        end

        private

        # the edges in mm, as exact as a decimal can be
        def numbers(row)
          { "min_mm" => row.min.to_f.round(4), "max_mm" => row.max.to_f.round(4) }
        end

        def with_numbers(rows)
          lines = CSV.parse(ChartFile.write(rows))
          added = [NUMBERS, *rows.map { |row| numbers(row).values }]
          CSV.generate { |csv| lines.zip(added) { |line, more| csv << (line + more) } }
        end

        # a chart without the numbers: the texts are what is read
        def texts_of(csv)
          table = CSV.parse(csv, headers: true)
          return csv unless NUMBERS.intersect?(table.headers.compact)

          NUMBERS.each { |name| table.delete(name) }
          table.to_csv
        rescue CSV::MalformedCSVError
          # its own faults are named where it is read
          csv
        end

        def slug(text) = text.downcase.gsub(/[^a-z0-9]+/, "-").gsub(/\A-|-\z/, "")

        def parse(text, name)
          unless text.valid_encoding?
            raise Faulty, "#{name}: is not UTF-8 text. Save it again with the encoding UTF-8."
          end

          descriptor = JSON.parse(text)
          faults =
            schemer
              .validate(descriptor)
              .first(3)
              .map do |fault|
                "#{fault["data_pointer"].delete_prefix("/").tr("/", ".")}: #{fault["error"]}"
              end
          raise Faulty, "#{name}: #{faults.join("; ")}" if faults.any?

          descriptor
        rescue JSON::ParserError
          raise Faulty, "#{name}: is not well-formed JSON. Export the package again."
        end

        def from_json(descriptor, name)
          data = descriptor["resources"].first["data"] or
            raise Faulty,
                  "#{name}: its rows are in another file. Send " \
                    "the whole package as one zip file."
          csv =
            CSV.generate do |out|
              (out << ChartFile::COLUMNS) &&
                data.each { |row| out << row.values_at(*ChartFile::COLUMNS) }
            end
          passing(csv) { |file| yield file, descriptor }
        end

        def from_zip(path, name, &block)
          Zip::File.open(path) do |zip|
            entry = zip.find_entry("datapackage.json") or
              raise Faulty, "#{name}: holds no datapackage.json."
            descriptor = parse(content(entry, name), name)
            return from_json(descriptor, name, &block) if descriptor["resources"].first["data"]

            inside = descriptor["resources"].first["path"]
            chart = zip.find_entry(inside) or
              raise Faulty, "#{name}: names #{inside}, which is not in it."
            passing(texts_of(content(chart, name))) { |file| yield file, descriptor }
          end
        rescue Zip::Error, Zlib::Error
          raise Faulty, "#{name}: is no zip file that can be opened. Export the package again."
        end

        def content(entry, name)
          raise Faulty, "#{name}: #{entry.name} is a folder, not a file." unless entry.file?

          text = entry.get_input_stream.read(LARGEST + 1).to_s
          if text.bytesize > LARGEST
            raise Faulty, "#{name}: #{entry.name} is larger than 2 MB, too large for a size chart."
          end

          text.force_encoding(Encoding::UTF_8)
        end

        def passing(text)
          Tempfile.create(%w[chart .csv]) do |file|
            file.write(text)
            file.flush
            yield file.path
          end
        end

        def schemer = @schemer ||= JSONSchemer.schema(JSON.parse(File.read(SCHEMA)))
      end
    end
  end
end
