# frozen_string_literal: true

require "date"
require "json"

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
      # orders - Orders; faults - [[place, words], ...]; left - how many resources were left out, by kind; systems -
      # addresses by which patients' numbers are told apart in it, each with one of its numbers
      Found = Value.new(:patients, :readings, :orders, :faults, :left, :systems)
      # record_number; family - its key, or nil; text - what was ordered; prescriber; prescribed_on
      Order = Value.new(:record_number, :family, :text, :prescriber, :prescribed_on)

      MOST_BYTES = 5_000_000
      # a zip file has papers and photos beside it
      MOST_FILE = 20_000_000
      MOST = 5000
      SIDES = Fhir::SIDES.to_h { |side, (code, _)| [code, side] }.freeze
      SNOMED = "http://snomed.info/sct"
      UNITS = { "mm" => "mm", "cm" => "cm", "[in_i]" => "in" }.freeze
      # what counts as read: not what was entered in error or never came about
      STANDS = %w[final amended corrected].freeze
      ANIMAL = "http://hl7.org/fhir/StructureDefinition/patient-animal"

      # what is read of a zip file
      INSIDE = "fhir.json"

      class << self
        # bytes - a bundle as JSON, or a zip file with one. Returns Found. Raises Unreadable.
        def read(bytes, today: Date.today, system: nil) =
          new(Unzipped.like?(bytes) ? unzipped(bytes) : bytes, today: today, system: system).found

        private

        def unzipped(bytes)
          Unzipped.new(bytes).read(INSIDE, MOST_BYTES) or
            raise Unreadable, Wording.t("files.zip_without", inside: INSIDE)
        rescue Unzipped::Damaged
          raise Unreadable, Wording.t("files.zip_file_damaged_cut")
        end
      end

      # text - JSON; today - the clinic's day: what ended before it is past; system - the address by which the clinic's
      # own numbers are told from others, or nil
      def initialize(text, today: Date.today, system: nil)
        @today = today
        @system = system
        raise Unreadable, Wording.t("files.file_larger_than_5") if text.bytesize > MOST_BYTES

        @bundle = JSON.parse(text.dup.force_encoding(Encoding::UTF_8).delete_prefix("\uFEFF"))
        unless @bundle.is_a?(Hash) && @bundle["resourceType"] == "Bundle" &&
                 @bundle["entry"].is_a?(Array)
          raise Unreadable, Wording.t("files.no_fhir_bundle_wants")
        end

        if @bundle["entry"].size > MOST
          raise Unreadable, Wording.t("files.too_many_entries", most: MOST)
        end
      rescue JSON::ParserError, EncodingError
        raise Unreadable, Wording.t("files.can_not_read_json")
      end

      def found
        @faults = []
        @left = []
        @numbers = FhirReferences.new("Patient")
        @sides = FhirReferences.new("BodyStructure")
        each_of("BodyStructure") { |_, entry| structure(entry) }
        patients = each_of("Patient") { |place, entry| patient(place, entry) }
        readings = each_of("Observation") { |place, entry| reading(place, entry) }
        orders = each_of("ServiceRequest") { |_, entry| order(entry) }
        bare
        Found[
          patients: patients,
          readings: readings,
          orders: orders,
          faults: @faults.sort_by(&:first),
          left: left,
          systems: systems
        ]
      end

      private

      # what is read of a bundle, and what is read with it
      READ = %w[Patient Observation ServiceRequest BodyStructure].freeze
      private_constant :READ

      # kind => how many, the most of them first
      def left
        others =
          entries
            .map { |_, entry| entry["resource"]["resourceType"].to_s[0, 40] }
            .reject { |type| READ.include?(type) }
        (others + @left).tally.sort_by { |type, count| [-count, type] }.to_h
      end

      def systems
        of("Patient")
          .flat_map { |_, entry| Array(entry["resource"]["identifier"]).grep(Hash) }
          .select { |one| one["system"].is_a?(String) && one["value"].is_a?(String) }
          .group_by { |one| one["system"] }
          .transform_values { |ones| ones.first["value"] }
      end

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
          fault(place, Wording.t("files.not_built_fhir_asks", type: type))
        end
      end

      # entries that bring nothing, and take something away
      def bare
        @bundle["entry"].each_with_index do |entry, i|
          next if !entry.is_a?(Hash) || entry["resource"].is_a?(Hash)

          why = FhirMeaning.of_entry(entry) and fault(i + 1, why)
        end
      end

      def fault(place, words)
        @faults << [place, words]
        nil
      end

      def patient(place, entry)
        whole = entry["resource"]
        return fault(place, Wording.t("files.animal_add_hand_owner")) if animal?(whole)

        why = FhirMeaning.of_patient(whole)
        return fault(place, why) if why

        number = text(FhirMeaning.record_number(list(whole["identifier"]), @today, @system)) or
          return fault(place, Wording.t("files.patient_has_no_identifier"))
        name = FhirMeaning.current(list(whole["name"]), @today) || {}
        born = text(whole["birthDate"])
        unless born&.match?(/\A\d{4}-\d\d-\d\d\z/)
          return fault(place, Wording.t("files.date_birth_not_whole", number: number))
        end

        @numbers.keep(entry, number)
        why = nameless(number, name) and return fault(place, why)

        form = {
          "record_number" => number,
          "given_name" => Array(name["given"]).grep(String).join(" "),
          "family_name" => text(name["family"]),
          "born_on" => born,
          "phone" => text(FhirMeaning.current(phones(whole), @today)&.fetch("value", nil))
        }
        [place, form.compact]
      end

      # why a name can not be kept as family and given names, or nil
      def nameless(number, name)
        return if name.values_at("given", "family").any?

        whole = text(name["text"])
        Wording.t(whole ? "fhir.one_text" : "fhir.no_name", number: number, name: whole.to_s[0, 60])
      end

      def phones(whole) = list(whole["telecom"]).select { |one| one["system"] == "phone" }

      def animal?(whole) = list(whole["extension"]).any? { |one| one["url"] == ANIMAL }

      # a place of the body with its side
      def structure(entry)
        qualifiers = list(entry["resource"]["locationQualifier"])
        sides = qualifiers.flat_map { |one| sides_in(list(one["coding"])) }.uniq
        @sides.keep(entry, sides)
        nil
      end

      def sides_in(codings) =
        codings.filter_map { |one| SIDES[one["code"].to_s] if one["system"] == SNOMED }

      # The record number of whom a resource is about, or nil. Raises Unclear.
      def whose(entry) = @numbers.meant(entry, at(entry["resource"], "subject", "reference").to_s)

      # the sides that a resource says: by codes beside its site, and by the places it refers to
      def sides_of(entry, codings)
        places =
          list(entry["resource"]["extension"])
            .select { |one| one["url"] == Fhir::BODY_SITE }
            .flat_map do |one|
              @sides.meant(entry, at(one, "valueReference", "reference").to_s) || []
            end
        (sides_in(codings) + places).uniq
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
          @left << "Observation"
          return
        end

        number = whose(entry) or return fault(place, Wording.t("files.patient_who_not_bundle"))
        day = text(whole["effectiveDateTime"])&.slice(/\A\d{4}-\d\d-\d\d/) or
          return fault(place, Wording.t("files.no_day"))
        sides = sides_of(entry, codings)
        value = at(whole, "valueQuantity", "value")
        why = FhirMeaning.of_observation(whole) || unreadable(value, sides)
        return fault(place, why) if why

        [place, row(number, day, site, sides.first, value, unit, whole)]
      end

      def unreadable(value, sides)
        return Wording.t("files.value_no_number") unless value.is_a?(Numeric)

        Wording.t("files.left_and_right") if sides.size > 1
      end

      def row(number, day, site, side, value, unit, whole)
        posture, tension = how(whole)
        {
          "record_number" => number,
          "date" => day,
          "site" => site["code"],
          "side" => side,
          "posture" => posture,
          "tension" => tension,
          "value" => value.to_d.to_s("F").delete_suffix(".0"),
          "unit" => unit
        }.compact
      end

      # posture and pull of the tape, each nil where it is not said
      def how(whole)
        coding = list(at(whole, "method", "coding")).find { |one| one["system"] == Fhir::SYSTEM }
        coding.to_h["code"].to_s.split("-", 2).map { |one| one unless one.empty? }
      end

      def order(entry)
        whole = entry["resource"]
        number = whose(entry)
        unless number && FhirMeaning.standing?(whole)
          @left << "ServiceRequest"
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
