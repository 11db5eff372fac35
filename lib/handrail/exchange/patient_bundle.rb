# frozen_string_literal: true

require "csv"
require "icalendar"
require "json"
require "json_schemer"
require "zip"

module Handrail
  module Exchange
    # One wearer as one zip file that any program can read: patient.json (held against
    # docs/formats/patient.schema.json), readings.csv, a FHIR bundle, the papers that were kept, the
    # photos, and the booked visits as a calendar.
    class PatientBundle
      SCHEMA = File.join(ROOT, "docs", "formats", "patient.schema.json")
      COLUMNS = %w[record_number date site side posture tension value unit mm by counts].freeze
      # what a row says of itself elsewhere, or to the database alone
      INSIDE = %i[
        id
        clinic_id
        visit_id
        fitting_id
        product_id
        patient_id
        stock_item_id
        version
      ].freeze
      # written for the machine alone
      LEFT = %i[entries messages].freeze

      # clinic; patient - its row; visits - Handrail::Visits of all fittings, oldest first; earlier - rows of readings
      # from before; cautions - rows of those that stand; brought - rows of records from elsewhere; files - called
      # with a SHA-256, gives the bytes or nil
      def initialize(clinic, patient, visits, earlier: [], cautions: [], brought: [], &files)
        @clinic = clinic
        @patient = patient
        @visits = visits
        @earlier = earlier
        @cautions = cautions
        @brought = brought
        @files = files
      end

      # The zip file as a String of bytes.
      def to_zip
        Zip::OutputStream
          .write_buffer do |zip|
            contents.each do |name, bytes|
              zip.put_next_entry(name)
              zip.write(bytes)
            end
          end
          .string
      end

      # name => bytes
      def contents
        {
          "patient.json" => JSON.pretty_generate(told),
          "readings.csv" => readings,
          "fhir.json" =>
            JSON.pretty_generate(Fhir.new(@clinic, @patient, @visits, earlier: @earlier).bundle),
          "visits.ics" => calendar,
          **kept(:papers, "papers", "pdf") { |row| row[:kind] },
          **kept(:photos, "photos", "jpg") do |row|
            row[:what][/[\p{L}\d ]+/].to_s.strip.tr(" ", "-")[0, 40]
          end,
          **brought_files
        }
      end

      # patient.json as a Hash.
      def told
        {
          "format" => "handrail-patient",
          "version" => 2,
          "clinic" => {
            "name" => @clinic.name,
            "place" => @clinic.place,
            "time_zone" => @clinic.time_zone
          },
          "patient" => who,
          "cautions" => @cautions.map { |row| plain(row.slice(:text, :at)) },
          "earlier" =>
            @earlier.map do |row|
              plain(
                row.slice(
                  :read_on,
                  :site,
                  :side,
                  :posture,
                  :tension,
                  :typed,
                  :unit,
                  :value_mm
                ).compact
              )
            end,
          "fittings" =>
            @visits.group_by { |visit| visit.fitting.id }.values.map { |visits| fitting(visits) },
          # what was brought here from elsewhere goes on
          "elsewhere" => @brought.map { |row| row[:told].to_h }
        }
      end

      private

      def who
        plain(
          @patient.values.slice(
            :record_number,
            :species,
            :given_name,
            :family_name,
            :owner_name,
            :born_on,
            :phone,
            :address,
            :payer,
            :referrer,
            :note,
            :language
          )
        )
      end

      def fitting(visits)
        first = visits.first
        order = first.prescription
        {
          "device" => first.title,
          "family" => first.family.key,
          "product" => first.product.full_name,
          "side" => order.side,
          "prescriber" => order.prescriber,
          "prescribed_on" => order.prescribed_on.iso8601,
          "fields" => order.fields.to_h,
          "ended_at" => value(first.fitting.ended_at),
          "ended_why" => first.fitting.ended_why,
          "ended_as" => first.fitting.ended_as,
          "visits" => visits.map { |visit| visit_of(visit) }
        }
      end

      def visit_of(visit)
        written =
          (Store::VisitRows::TABLES - LEFT).to_h do |table|
            [table.to_s, visit.rows(table).map { |row| row_of(visit, row) }]
          end
        {
          "purpose" => visit.purpose,
          **%w[planned_for opened_at closed_at due_from due_to].to_h do |name|
            [name, value(visit.row[name.to_sym])]
          end,
          "story" =>
            visit.events.map do |entry|
              {
                "at" => value(entry[:at]),
                "by" => visit.name_of(entry[:by]),
                "said" => entry[:said]
              }
            end,
          "written" => written.reject { |_, rows| rows.empty? }
        }
      end

      def brought_files
        @brought
          .flat_map { |row| row[:files].to_a }
          .uniq { |file| file["sha256"] }
          .filter_map do |file|
            (bytes = @files.call(file["sha256"])) && [brought_name(file), bytes]
          end
          .to_h
      end

      # beside files of our own that may be called the same
      def brought_name(file)
        kind, name = file["name"].split("/", 2)
        "#{kind}/elsewhere-#{file["sha256"][0, 8]}-#{name.sub(/\Aelsewhere-\h{8}-/, "")}"
      end

      # a row with names for numbers of people
      def row_of(visit, row)
        named =
          row
            .except(*INSIDE)
            .to_h { |key, one| [key, key.end_with?("by") ? visit.name_of(one) : one] }
        plain(named.compact)
      end

      def plain(row) = row.to_h { |key, one| [key.to_s, value(one)] }

      # exact numbers as texts, moments as ISO 8601
      def value(one)
        case one
        when Time
          one.getutc.iso8601
        when Date
          one.iso8601
        when BigDecimal
          one.to_s("F")
        when Sequel::SQL::Blob
          nil
        else
          one.respond_to?(:to_hash) ? one.to_hash : one
        end
      end

      def readings
        CSV.generate(row_sep: "\r\n") do |out|
          out << COLUMNS
          @earlier.each { |row| out << before(row) }
          @visits.each do |visit|
            visit.by_edition do
              usable = visit.usable_readings
              visit.rows(:readings).each { |row| out << reading(visit, row, usable.include?(row)) }
            end
          end
        end
      end

      def reading(visit, row, counts)
        [
          @patient.record_number,
          @clinic.today(row[:at]).iso8601,
          *row.values_at(:site, :side, :posture, :tension, :typed, :unit),
          row[:value_mm].to_d.to_s("F"),
          visit.name_of(row[:by]),
          counts ? "yes" : "no"
        ].map { |text| safe(text) }
      end

      # of nobody who is known here
      def before(row)
        [
          @patient.record_number,
          row[:read_on].iso8601,
          *row.values_at(:site, :side, :posture, :tension, :typed, :unit),
          row[:value_mm].to_d.to_s("F"),
          nil,
          "yes"
        ].map { |text| safe(text) }
      end

      # nothing that a spreadsheet would run as a formula
      def safe(text) = text.is_a?(String) && text.match?(/\A[=+\-@\t\r]/) ? "'#{text}" : text

      def calendar
        rows =
          @visits
            .select(&:planned_for)
            .map do |visit|
              {
                **visit.row.values.slice(
                  :id,
                  :version,
                  :purpose,
                  :planned_for,
                  :planned_to,
                  :planned_room
                ),
                title: visit.title,
                given_name: @patient.given_name,
                family_name: @patient.family_name,
                changed_at: visit.events.last&.fetch(:at),
                gone: !visit.row.called_off_at.nil?
              }
            end
        ClinicCalendar.new(@clinic, rows, now: Store.now).to_ical
      end

      # files that were kept at the visits, each once
      def kept(table, folder, ending)
        @visits
          .flat_map { |visit| visit.rows(table).map { |row| [visit, row] } }
          .uniq { |_, row| row[:sha256] }
          .filter_map do |visit, row|
            bytes = @files.call(row[:sha256]) or next
            [
              "#{folder}/#{@clinic.today(row[:at]).iso8601}-#{visit.id}-#{row[:id]}-#{yield(row)}.#{ending}",
              bytes
            ]
          end
          .to_h
      end
    end
  end
end
