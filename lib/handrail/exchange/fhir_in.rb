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

      # A resource has something else than an object or a list where FHIR has one.
      class Misbuilt < Handrail::Error
      end
      private_constant :Misbuilt

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
      SNOMED = "http://snomed.info/sct"
      # an address that a reference can be relative to: its base, then type and id (R4, 2.3.0.1)
      RESTFUL = %r{\A(?<base>https?://.+)/[A-Z][A-Za-z]+/[A-Za-z0-9.-]{1,64}(?:/_history/.+)?\z}
      UNITS = { "mm" => "mm", "cm" => "cm", "[in_i]" => "in" }.freeze
      # what counts as read: not what was entered in error or never came about
      STANDS = %w[final amended corrected].freeze
      ANIMAL = "http://hl7.org/fhir/StructureDefinition/patient-animal"

      # what a zip file begins with, and what is read of it
      ZIPPED = "PK\x03\x04".b.freeze
      INSIDE = "fhir.json"

      class << self
        # bytes - a bundle as JSON, or a zip file with one. Returns Found. Raises Unreadable.
        def read(bytes, today: Date.today) =
          new(bytes.b.start_with?(ZIPPED) ? unzipped(bytes) : bytes, today: today).found

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

      # text - JSON; today - the clinic's day: what ended before it is past
      def initialize(text, today: Date.today)
        @today = today
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
        @people = {}
        patients = each_of("Patient") { |place, entry| patient(place, entry) }
        readings = each_of("Observation") { |place, entry| reading(place, entry) }
        orders = each_of("ServiceRequest") { |_, entry| order(entry) }
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
          why = FhirMeaning.of_entry(entry)
          why ? fault(place, why) : yield(place, entry)
        rescue FhirMeaning::Unclear => e
          fault(place, e.message)
        rescue Misbuilt
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

        why = FhirMeaning.of_patient(whole)
        return fault(place, why) if why

        number = text(FhirMeaning.record_number(list(whole["identifier"]), @today)) or
          return fault(place, "This patient has no identifier.")
        name = FhirMeaning.current(list(whole["name"]), @today) || {}
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
          "phone" => text(FhirMeaning.current(phones(whole), @today)&.fetch("value", nil))
        }
        [place, form.compact]
      end

      def phones(whole) = list(whole["telecom"]).select { |one| one["system"] == "phone" }

      def animal?(whole) = list(whole["extension"]).any? { |one| one["url"] == ANIMAL }

      # by its address, and by type and id for what is relative to nothing
      def keep(entry, number)
        url = entry["fullUrl"].to_s
        @numbers[url] = number unless url.empty?
        id = text(entry["resource"]["id"]) or return
        (@people["Patient/#{id}"] ||= []) << [url, number]
      end

      # The record number of whom a resource is about, or nil. A reference is read as R4 says: an
      # address is looked for as it stands; what is relative belongs to the base of the entry that
      # refers. Where that has no such base, type and id must be one patient's alone. Raises Unclear.
      def whose(entry)
        said = at(entry["resource"], "subject", "reference").to_s
        return @numbers[said] if @numbers.key?(said)

        base = RESTFUL.match(entry["fullUrl"].to_s)&.[](:base)
        return @numbers["#{base}/#{said}"] if base

        meant = @people.fetch(said, [])
        return meant.first&.last if meant.size < 2

        raise FhirMeaning::Unclear, "It is of #{said}, and there are #{meant.size} of that name."
      end

      def reading(place, entry)
        whole = entry["resource"]
        codings = list(at(whole, "bodySite", "coding"))
        site =
          codings.find do |one|
            one["system"] == Fhir::SYSTEM && Anatomy::Vocabulary.default[one["code"].to_s]
          end
        unit = UNITS[at(whole, "valueQuantity", "code").to_s]
        unless site && unit && STANDS.include?(whole["status"])
          @left += 1
          return
        end

        number = whose(entry) or return fault(place, "It is of a patient who is not in the bundle.")
        day = text(whole["effectiveDateTime"])&.slice(/\A\d{4}-\d\d-\d\d/) or
          return fault(place, "It does not say on which day it was read.")
        sides = codings.filter_map { |one| SIDES[one["code"].to_s] if one["system"] == SNOMED }.uniq
        value = at(whole, "valueQuantity", "value")
        why = FhirMeaning.of_observation(whole) || unreadable(value, sides)
        return fault(place, why) if why

        [place, row(number, day, site, sides.first, value, unit, whole)]
      end

      def unreadable(value, sides)
        return "Its value is no number." unless value.is_a?(Numeric)

        "It says left and right at once." if sides.size > 1
      end

      def row(number, day, site, side, value, unit, whole)
        posture =
          list(at(whole, "method", "coding"))
            .find { |one| one["system"] == Fhir::SYSTEM }
            &.then { |one| one["code"].to_s.split("-").first }
        {
          "record_number" => number,
          "date" => day,
          "site" => site["code"],
          "side" => side,
          "posture" => posture,
          "value" => value.to_d.to_s("F").delete_suffix(".0"),
          "unit" => unit
        }.compact
      end

      def order(entry)
        whole = entry["resource"]
        number = whose(entry)
        unless number && FhirMeaning.standing?(whole)
          @left += 1
          return
        end
        coding = list(at(whole, "code", "coding")).find { |one| one["system"] == Fhir::SYSTEM }
        family = coding && Families::Registry.all[coding["code"].to_s]&.key
        Order[
          record_number: number,
          family: family,
          text: text(at(whole, "code", "text")) || coding&.fetch("display", nil).to_s,
          prescriber: prescriber(at(whole, "requester", "reference")),
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

      # what lies under some names, one within the other; nil where there is none
      def at(whole, *names)
        names.reduce(whole) do |found, name|
          break if found.nil?
          raise Misbuilt unless found.is_a?(Hash)

          found[name]
        end
      end

      def list(value)
        return [] if value.nil?
        raise Misbuilt unless value.is_a?(Array) && value.all?(Hash)

        value
      end

      def text(value) = value.is_a?(String) && !value.strip.empty? ? value.strip : nil
    end
  end
end
