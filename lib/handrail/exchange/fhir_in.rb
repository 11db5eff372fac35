# frozen_string_literal: true

require "json"
require "stringio"
require "zip"

module Handrail
  module Exchange
    # A FHIR R4 bundle on its way in: patients, girths and lengths of sites that the handbook knows, and
    # orders to be written. What is none of these is left out and counted. Nothing is guessed at: what can
    # not be read is named by its place in the bundle.
    #
    # A wearer's zip file, as another clinic's Handrail made it, is read by the bundle in it.
    #
    #   FhirIn.read(File.read("bundle.json")).readings # => [[3, { "record_number" => "C 77", ... }], ...]
    class FhirIn
      # The text is no bundle.
      class Unreadable < Handrail::Error
      end

      # patients - [[place, form of AddPatient], ...]; readings - [[place, row of EarlierFile], ...];
      # orders - Orders; faults - [[place, words], ...]; left - how many resources were left out
      Found = Value.new(:patients, :readings, :orders, :faults, :left)
      # record_number; family - its key, or nil; text - what was ordered; prescriber; prescribed_on
      Order = Value.new(:record_number, :family, :text, :prescriber, :prescribed_on)

      MOST_BYTES = 5_000_000
      # a zip file has papers and photos beside it
      MOST_FILE = 20_000_000
      MOST = 5000
      SIDES = Fhir::SIDES.to_h { |side, (code, _)| [code, side] }.freeze
      UNITS = { "mm" => "mm", "cm" => "cm", "[in_i]" => "in" }.freeze
      # what counts as read: not what was entered in error or never came about
      STANDS = %w[final amended corrected].freeze
      ANIMAL = "http://hl7.org/fhir/StructureDefinition/patient-animal"

      # what a zip file begins with, and what is read of it
      ZIPPED = "PK\x03\x04".b.freeze
      INSIDE = "fhir.json"

      class << self
        # bytes - a bundle as JSON, or a zip file with one. Returns Found. Raises Unreadable.
        def read(bytes) = new(bytes.b.start_with?(ZIPPED) ? unzipped(bytes) : bytes).found

        private

        # no more is unpacked than is read, whatever the file says of its size
        def unzipped(bytes)
          zip = Zip::File.open_buffer(StringIO.new(bytes.b))
          entry = zip.find_entry(INSIDE) or raise Unreadable, "That zip file holds no #{INSIDE}."
          entry.get_input_stream.read(MOST_BYTES + 1).to_s
        rescue Zip::Error, Zlib::Error
          raise Unreadable, "That zip file is damaged or cut short. Make it anew."
        end
      end

      def initialize(text)
        raise Unreadable, "That file is larger than 5 MB." if text.bytesize > MOST_BYTES

        @bundle = JSON.parse(text.dup.force_encoding(Encoding::UTF_8))
        unless @bundle.is_a?(Hash) && @bundle["resourceType"] == "Bundle" &&
                 @bundle["entry"].is_a?(Array)
          raise Unreadable, "That is no FHIR bundle: it wants resourceType Bundle, and entries."
        end

        if @bundle["entry"].size > MOST
          raise Unreadable, "That is more than is read in at once: #{MOST} entries at most."
        end
      rescue JSON::ParserError, EncodingError
        raise Unreadable, "That can not be read as JSON."
      end

      def found
        @faults = []
        @left = 0
        @numbers = {}
        patients = each_of("Patient") { |place, entry| patient(place, entry) }
        readings = each_of("Observation") { |place, entry| reading(place, entry) }
        orders = each_of("ServiceRequest") { |_, entry| order(entry["resource"]) }
        Found[
          patients: patients,
          readings: readings,
          orders: orders,
          faults: @faults.sort_by(&:first),
          left:
            @left + entries.size -
              %w[Patient Observation ServiceRequest].sum { |type| of(type).size }
        ]
      end

      private

      # [[place from 1, entry], ...] of those that hold a resource
      def entries
        @entries ||=
          @bundle["entry"].each_with_index.filter_map do |entry, i|
            [i + 1, entry] if entry.is_a?(Hash) && entry["resource"].is_a?(Hash)
          end
      end

      def of(type) = entries.select { |_, entry| entry["resource"]["resourceType"] == type }

      # what is built in another way than FHIR asks is named, not guessed at
      def each_of(type)
        of(type).filter_map do |place, entry|
          yield place, entry
        rescue TypeError, NoMethodError
          fault(place, "This #{type} is not built as FHIR asks.")
        end
      end

      def fault(place, words)
        @faults << [place, words]
        nil
      end

      def patient(place, entry)
        whole = entry["resource"]
        return fault(place, "An animal: add it by hand, with its owner.") if animal?(whole)

        number = list(whole["identifier"]).filter_map { |one| text(one["value"]) }.first or
          return fault(place, "This patient has no identifier.")
        name = list(whole["name"]).min_by { |one| one["use"] == "official" ? 0 : 1 } || {}
        born = text(whole["birthDate"])
        unless born&.match?(/\A\d{4}-\d\d-\d\d\z/)
          return fault(place, "#{number}: the date of birth is not whole.")
        end

        keep(entry, number)
        form = {
          "record_number" => number,
          "given_name" => Array(name["given"]).grep(String).join(" "),
          "family_name" => text(name["family"]),
          "born_on" => born,
          "phone" =>
            list(whole["telecom"])
              .find { |one| one["system"] == "phone" }
              &.then { |one| text(one["value"]) }
        }
        [place, form.compact]
      end

      def animal?(whole) = list(whole["extension"]).any? { |one| one["url"] == ANIMAL }

      # by every name under which others refer to it
      def keep(entry, number)
        [entry["fullUrl"], "Patient/#{entry["resource"]["id"]}"].grep(String)
          .each { |name| @numbers[name] = number }
      end

      def whose(resource) = @numbers[resource.dig("subject", "reference").to_s]

      def reading(place, entry)
        whole = entry["resource"]
        codings = list(whole.dig("bodySite", "coding"))
        site =
          codings.find do |one|
            one["system"] == Fhir::SYSTEM && Anatomy::Vocabulary.default[one["code"].to_s]
          end
        unit = UNITS[whole.dig("valueQuantity", "code").to_s]
        unless site && unit && STANDS.include?(whole["status"])
          @left += 1
          return
        end

        number = whose(whole) or return fault(place, "It is of a patient who is not in the bundle.")
        day = text(whole["effectiveDateTime"])&.slice(/\A\d{4}-\d\d-\d\d/) or
          return fault(place, "It does not say on which day it was read.")
        value = whole.dig("valueQuantity", "value")
        return fault(place, "Its value is no number.") unless value.is_a?(Numeric)

        [place, row(number, day, site, codings, value, unit, whole)]
      end

      def row(number, day, site, codings, value, unit, whole)
        posture =
          list(whole.dig("method", "coding"))
            .find { |one| one["system"] == Fhir::SYSTEM }
            &.then { |one| one["code"].to_s.split("-").first }
        {
          "record_number" => number,
          "date" => day,
          "site" => site["code"],
          "side" => codings.filter_map { |one| SIDES[one["code"].to_s] }.first,
          "posture" => posture,
          "value" => value.to_d.to_s("F").delete_suffix(".0"),
          "unit" => unit
        }.compact
      end

      def order(whole)
        number = whose(whole)
        unless number && whole["intent"] == "order"
          @left += 1
          return
        end
        coding = list(whole.dig("code", "coding")).find { |one| one["system"] == Fhir::SYSTEM }
        family = coding && Families::Registry.all[coding["code"].to_s]&.key
        Order[
          record_number: number,
          family: family,
          text: text(whole.dig("code", "text")) || coding&.fetch("display", nil).to_s,
          prescriber: prescriber(whole.dig("requester", "reference")),
          prescribed_on: text(whole["authoredOn"])&.slice(/\A\d{4}-\d\d-\d\d/)
        ]
      end

      def prescriber(reference)
        found =
          of("Practitioner").find do |_, entry|
            reference &&
              [entry["fullUrl"], "Practitioner/#{entry["resource"]["id"]}"].include?(reference)
          end
        name = list(found&.last&.dig("resource", "name")).first or return
        text(name["text"]) || [*Array(name["given"]), name["family"]].grep(String).join(" ")
      end

      def list(value) = value.is_a?(Array) ? value.grep(Hash) : []
      def text(value) = value.is_a?(String) && !value.strip.empty? ? value.strip : nil
    end
  end
end
