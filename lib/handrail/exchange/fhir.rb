# frozen_string_literal: true

require "digest"
require "openssl"

module Handrail
  module Exchange
    # One wearer's fittings as a FHIR R4 bundle (HL7 FHIR 4.0.1): who they are, who ordered what, the
    # device and its use, readings, checks of pain and volume, what was done, booked and planned, and
    # who wrote it. Coded with LOINC or SNOMED CT only where the code is certain; all else in a system
    # of our own, whose codes are the keys of the handbook (docs/formats/fhir.md). Each concept has one coding; a
    # side is a BodyStructure of its own, beside its site. Every entry is named by an address that is its own
    # wherever it goes (urn:uuid, by the clinic's key), and by nothing else.
    #
    #   Fhir.new(clinic, patient, visits).bundle # => a Hash, ready for JSON
    class Fhir
      include FhirObservations
      include FhirVisits

      # our own codes: sites, families, checks
      SYSTEM = "urn:handrail:codes"
      SIDES = { "left" => %w[7771000 Left], "right" => %w[24028007 Right] }.freeze
      SNOMED = "http://snomed.info/sct"
      # where a resource whose body site is a code has its place as a BodyStructure (HL7's extension, from memory)
      BODY_SITE = "http://hl7.org/fhir/StructureDefinition/bodySite"

      # clinic - name, place, phone; patient - a patient's row; visits - Handrail::Visits of their
      # fittings, oldest first; earlier - rows of readings from before
      def initialize(clinic, patient, visits, earlier: [])
        @clinic = clinic
        @patient = patient
        @visits = visits
        @earlier = earlier
        @entries = {}
        @written = Hash.new { |all, entry| all[entry] = [] }
      end

      def bundle
        organization
        patient
        @earlier.each { |row| earlier(row) }
        @visits.each { |visit| visit.by_edition { of_visit(visit) } }
        {
          "resourceType" => "Bundle",
          "type" => "collection",
          "entry" =>
            @entries.map { |name, resource| { "fullUrl" => address(name), "resource" => resource } }
        }
      end

      private

      def add(type, id, **fields)
        @entries["#{type}/#{id}"] ||= {
          "resourceType" => type,
          "id" => id,
          **fields.transform_keys(&:to_s).compact
        }
        reference(type, id)
      end

      def reference(type, id) = { "reference" => address("#{type}/#{id}") }

      # the same name at the same clinic has the same address, and no other has (RFC 4122, version 5)
      def address(name)
        space = [@clinic.key.delete("-")].pack("H*")
        bytes = OpenSSL::Digest.digest("SHA1", space + name).bytes.first(16)
        bytes[6] = (bytes[6] & 0x0f) | 0x50
        bytes[8] = (bytes[8] & 0x3f) | 0x80
        "urn:uuid:#{bytes.pack("C*").unpack("H8H4H4H4H12").join("-")}"
      end

      def own(code, text) =
        { "coding" => [{ "system" => SYSTEM, "code" => code, "display" => text }], "text" => text }
      # on the clinic's clock, so that the day it names is the clinic's day
      def instant(time) = @clinic.local(time).iso8601
      def clinic_id = "clinic-#{@clinic.id}"
      def whom = reference("Patient", "patient-#{@patient.id}")

      def organization
        add(
          "Organization",
          clinic_id,
          name: @clinic.name,
          telecom: [{ "system" => "phone", "value" => @clinic.phone }],
          address: [{ "text" => @clinic.address || @clinic.place }]
        )
      end

      def patient
        name = {
          "use" => "official",
          "family" => @patient.family_name,
          "given" => [@patient.given_name]
        }.compact
        add(
          "Patient",
          "patient-#{@patient.id}",
          identifier: [
            { "system" => "urn:handrail:#{clinic_id}:record", "value" => @patient.record_number }
          ],
          name: [name],
          birthDate: @patient.born_on.iso8601,
          telecom: @patient.phone && [{ "system" => "phone", "value" => @patient.phone }],
          contact: @patient.owner_name && [{ "name" => { "text" => @patient.owner_name } }],
          communication: [
            {
              "language" => {
                "coding" => [{ "system" => "urn:ietf:bcp:47", "code" => @patient.language }]
              }
            }
          ],
          managingOrganization: reference("Organization", clinic_id)
        )
      end

      def practitioner(id, name)
        add("Practitioner", "person-#{id}", name: [{ "text" => name }])
      end

      def prescriber(name)
        add(
          "Practitioner",
          "prescriber-#{Digest::SHA256.hexdigest(name)[0, 16]}",
          name: [{ "text" => name }]
        )
      end

      def of_visit(visit)
        order(visit)
        devices(visit)
        appointment(visit) if visit.planned_for
        return unless visit.opened_at

        procedure(visit)
        readings(visit)
        pressures(visit)
        pain(visit)
        volumes(visit)
        plan(visit) if visit.hand_over_here
        provenance(visit)
      end

      # how an order ended => status of its ServiceRequest (FHIR R4, request-status)
      ORDER_STATUS = {
        nil => "active",
        "ended" => "completed",
        "withdrawn" => "revoked",
        "moved" => "entered-in-error"
      }.freeze
      private_constant :ORDER_STATUS

      def order(visit)
        add(
          "ServiceRequest",
          "order-#{visit.prescription.id}",
          status: ORDER_STATUS.fetch(visit.fitting.ended_as),
          intent: "order",
          code: own(visit.family.key, visit.title),
          subject: whom,
          authoredOn: visit.prescription.prescribed_on.iso8601,
          requester: prescriber(visit.prescription.prescriber),
          performer: [reference("Organization", clinic_id)]
        )
      end

      def devices(visit)
        visit.sizing.devices.each do |side, row|
          id = "device-#{row[:id]}"
          add(
            "Device",
            id,
            status: row[:ended_at] ? "inactive" : "active",
            manufacturer: visit.product.maker_name,
            serialNumber: row[:serial],
            lotNumber: row[:lot],
            manufactureDate: row[:made_on]&.iso8601,
            expirationDate: row[:use_by]&.iso8601,
            udiCarrier: udi(row[:gtin]),
            deviceName: [{ "name" => visit.product.full_name, "type" => "user-friendly-name" }],
            type: own(visit.family.key, visit.family.name),
            note: [{ "text" => "Size #{row[:size]}" }],
            patient: whom,
            owner: reference("Organization", clinic_id)
          )
          used(visit, side, row, id) if visit.handed_over? && !waiting?(visit, side)
        end
      end

      # what a recheck has written down and not handed over yet
      def waiting?(visit, side)
        visit.recheck? && visit.sizing.issued_here?(side) && visit.hand_over_here.nil?
      end

      # what was given out at a recheck is used from its own hand-over on
      def used(visit, side, row, device)
        handed = visit.wear.hand_over_of(side)
        add(
          "DeviceUseStatement",
          "use-#{row[:id]}",
          status: visit.fitting.ended_at || row[:ended_at] ? "completed" : "active",
          subject: whom,
          timingPeriod: {
            "start" => instant(handed[:at]),
            "end" => (row[:ended_at] || visit.fitting.ended_at)&.then { |at| instant(at) }
          }.compact,
          device: reference("Device", device),
          recordedOn: instant(handed[:at]),
          source: practitioner(handed[:by], visit.name_of(handed[:by])),
          **placed(side, own("place-#{visit.family.place}", visit.family.place.tr("_", " "))),
          basedOn: [reference("ServiceRequest", "order-#{visit.prescription.id}")]
        )
      end

      # the product's number on its label, with who gives such numbers (HL7's naming system, from memory)
      def udi(gtin)
        return unless gtin

        [{ "deviceIdentifier" => gtin, "issuer" => "http://hl7.org/fhir/NamingSystem/gs1-di" }]
      end

      # The fields of a resource that say where on the body it is: the place as its one code, and with a side as a
      # BodyStructure (SNOMED CT's left and right, from memory). side - nil for none
      def placed(side, concept)
        return { bodySite: concept } unless side

        code, name = SIDES.fetch(side)
        structure =
          add(
            "BodyStructure",
            "#{side}-#{concept["coding"].first["code"].tr("_", "-")}",
            location: concept,
            locationQualifier: [
              {
                "coding" => [{ "system" => SNOMED, "code" => code, "display" => name }],
                "text" => side
              }
            ],
            description: "#{side} #{concept["text"]}",
            patient: whom
          )
        { extension: [{ "url" => BODY_SITE, "valueReference" => structure }], bodySite: concept }
      end

      # who wrote what, entry by entry: the visit by who wrote there last
      def provenance(visit)
        last = visit.events.last or return
        @written[[visit.id, last[:version]]] << reference("Procedure", "fitting-#{visit.id}")
        visit.events.each do |entry|
          targets = @written[[visit.id, entry[:version]]]
          written_by(visit, entry, targets) if targets.any?
        end
      end

      def written_by(visit, entry, targets)
        add(
          "Provenance",
          "written-#{entry[:id]}",
          target: targets,
          occurredDateTime: instant(entry[:made_at] || entry[:at]),
          recorded: instant(entry[:at]),
          agent: [
            {
              "who" => practitioner(entry[:by], visit.name_of(entry[:by])),
              "onBehalfOf" => reference("Organization", clinic_id)
            }
          ]
        )
      end
    end
  end
end
