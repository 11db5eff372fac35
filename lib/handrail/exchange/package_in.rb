# frozen_string_literal: true

require "digest"
require "json"

module Handrail
  module Exchange
    # A size chart on its way in as a Frictionless Data Package, version 1 or 2, as any program may have made it: a zip
    # file with datapackage.json (at its top or in a folder), or a datapackage.json that carries its rows itself. The
    # table is the one resource whose fields are a chart's, under our names or others' (Columns); what else is in the
    # package is left alone.
    #
    #   found = PackageIn.read("chart.zip")
    #   found.listed # => [[2, { "size" => "S", "site" => "calf_widest", "min" => "34", ... }], ...]
    #   found.about  # => { "family" => "knee_sleeve", "tie_rule" => "larger" }, what it says of the chart
    #   found.marks  # => how its figures are said to be written, or nil
    #
    # Raises DataPackage::Faulty, with the resource, the row and the mend.
    class PackageIn
      Found = Value.new(:listed, :about, :marks)

      COLUMNS = ChartFile::COLUMNS
      NUMBERS = DataPackage::NUMBERS
      LARGEST = DataPackage::LARGEST
      # the edges in mm may be rounded to this much, in mm
      ROUNDED = 0.01r
      DIGESTS = {
        "md5" => Digest::MD5,
        "sha1" => Digest::SHA1,
        "sha256" => Digest::SHA256,
        "sha512" => Digest::SHA512
      }.freeze
      TIES = %w[larger smaller nearest primary].freeze
      private_constant :ROUNDED, :DIGESTS, :TIES

      class << self
        # path - of the package; name - what it is called in messages
        def read(path, name: File.basename(path))
          bytes = File.binread(path)
          Unzipped.like?(bytes) ? zipped(Unzipped.new(bytes), name) : new(bytes, name, {}).found
        rescue Unzipped::Damaged
          raise DataPackage::Faulty, Wording.t("files.no_zip_file", name: name)
        end

        # What is said of a chart: family, rule between sizes and site that decides, where they are texts. said - a
        # Hash, or one as JSON
        def about(said)
          said = JSON.parse(said) if said.is_a?(String)
          return {} unless said.is_a?(Hash)

          found =
            said
              .slice("family", "tie_rule", "primary_site")
              .select { |_, value| value.is_a?(String) }
          found.reject { |key, value| key == "tie_rule" && !TIES.include?(value) }
        rescue JSON::ParserError
          {}
        end

        private

        def zipped(zip, name)
          found = zip.names.grep(%r{\A(?:[^/]+/)*datapackage\.json\z})
          inside = found.min_by { |one| one.count("/") } or
            raise DataPackage::Faulty, Wording.t("files.holds_no_datapackage_json", name: name)

          folder = inside.delete_suffix("datapackage.json")
          own = zip.names.select { |one| one.start_with?(folder) }
          files = own.to_h { |one| [one.delete_prefix(folder), -> { zip.read(one, LARGEST) }] }
          new(zip.read(inside, LARGEST), name, files).found
        end
      end

      # bytes - of datapackage.json; files - name => what gives its bytes
      def initialize(bytes, name, files)
        @name = name
        @files = files
        @package = parsed(bytes, "datapackage.json")
        faulty(Wording.t("files.datapackage_json_no_object")) unless @package.is_a?(Hash)
      end

      def found
        rows = table.listed
        faulty(Wording.t("files.table_has_no_row", table: table.name)) if rows.empty?

        Found[
          listed: rows.map { |row, form| [row, edges(row, form)] },
          about: about,
          marks: table.marks
        ]
      end

      # A file of the package. Raises Faulty. For its tables.
      def file(path, table)
        if path.is_a?(Array) && path.size > 1
          faulty(Wording.t("files.table_several_files_send", table: table))
        end
        named = Array(path).first.to_s.delete_prefix("./")
        if named.match?(%r{\A/|\A[a-z]+:|(?:\A|/)\.\.(?:/|\z)|\\}i)
          faulty(Wording.t("files.table_lies_outside_package", table: table, named: named[0, 60]))
        end
        faulty(Wording.t("files.rows_another_file_send", named: named[0, 60])) if @files.empty?

        bytes = @files[named]&.call or
          faulty(Wording.t("files.named_file_missing", named: named[0, 60]))
        faulty(Wording.t("files.larger_than_2_mb", named: named)) if bytes.bytesize > LARGEST

        bytes
      end

      # Holds a file to the hash that is said of it. said - "sha256:..." or an MD5 alone
      def held(bytes, said, path)
        kind, hex = said.to_s.include?(":") ? said.split(":", 2) : ["md5", said.to_s]
        digest = DIGESTS[kind.downcase] or return
        return if digest.hexdigest(bytes) == hex.downcase

        faulty(Wording.t("files.other_hash", path: path))
      end

      # A file of it that holds JSON.
      def json(path, table) = parsed(file(path, table), path.to_s)
      def refuse(words) = faulty(words)

      private

      def faulty(words) = raise(DataPackage::Faulty, "#{@name}: #{words}")

      def parsed(bytes, file)
        text = bytes.dup.force_encoding(Encoding::UTF_8).delete_prefix("\uFEFF")
        faulty(Wording.t("files.file_not_utf_8", file: file)) unless text.valid_encoding?

        JSON.parse(text)
      rescue JSON::ParserError
        faulty(Wording.t("files.not_well_formed_json", file: file))
      end

      # the one table that has the fields of a chart
      def table
        @table ||=
          begin
            all = @package["resources"]
            unless all.is_a?(Array) && all.all?(Hash)
              faulty(Wording.t("files.has_no_resources_list"))
            end

            fitting = all.map { |one| PackageTable.new(one, self) }.select(&:chart?)
            faulty(NO_CHART) if fitting.empty?
            if fitting.size > 1
              faulty(
                Wording.t(
                  "files.several_charts",
                  many: fitting.size,
                  fitting: fitting.map(&:name).join(", ")
                )
              )
            end

            fitting.first
          end
      end

      NO_CHART = Wording.t("files.no_chart_table").freeze
      private_constant :NO_CHART

      # what the package says of the chart
      def about
        tie = @package["size_chart"].is_a?(Hash) && @package["size_chart"]["tie_rule"]
        unless !tie || TIES.include?(tie)
          faulty(Wording.t("files.unknown_tie_rule", tie: tie, ties: TIES.join(", ")))
        end

        self.class.about(@package["size_chart"])
      end

      # a row by its texts, or by its numbers in mm; where it has both they must say the same
      def edges(row, form)
        texts = form.slice(*COLUMNS)
        mm = form.slice(*NUMBERS)
        return texts if mm.empty?
        unless texts["min"] || texts["max"]
          return texts.merge("min" => mm["min_mm"], "max" => mm["max_mm"], "unit" => "mm").compact
        end

        %w[min max].each do |edge|
          contradicted(row, texts, edge, mm["#{edge}_mm"]) if mm["#{edge}_mm"]
        end
        texts
      end

      def contradicted(row, texts, edge, number)
        read =
          Quantity::Length.of_cell(
            (table.marks&.plain(texts[edge]) || texts[edge]).to_s,
            unit: texts["unit"]
          )
        return if (read.mm - Rational(number)).abs <= ROUNDED

        faulty(
          Wording.t(
            "files.row_mm_says_mm",
            row: row,
            edge: edge,
            figure: texts[edge],
            unit: texts["unit"],
            number: number
          )
        )
      rescue Quantity::Length::Unreadable, ArgumentError
        # said where the row is read
        nil
      end
    end
  end
end
