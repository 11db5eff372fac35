# frozen_string_literal: true

module Handrail
  module Exchange
    # One wearer's fittings as a FHIR R4 bundle (HL7 FHIR 4.0.1): who they are, who ordered what, the
    # device and its use, readings, checks of pain and volume, what was done, booked and planned, and
    # who wrote it. Coded with LOINC or SNOMED CT only where the code is certain; all else in a system
    # of our own, whose codes are the keys of the handbook (docs/formats/fhir.md).
    #
    #   Fhir.new(clinic, patient, visits).bundle # => a Hash, ready for JSON
    class Fhir
      include FhirObservations

      # our own codes: sites, families, checks
      SYSTEM = "urn:handrail:codes"
      SIDES = { "left" => %w[7771000 Left], "right" => %w[24028007 Right] }.freeze

      # clinic - name, place, phone; patient - a patient's row; visits - Handrail::Visits of their
      # fittings, oldest first; names - account id => name
      def initialize(clinic, patient, visits)
        @clinic = clinic
        @patient = patient
        @visits = visits
        @entries = {}
      end

      def bundle
        organization
        patient
        @visits.each { |visit| visit.by_edition { of_visit(visit) } }
        {
          "resourceType" => "Bundle",
          "type" => "collection",
          "entry" =>
            @entries.values.map do |resource|
              {
                "fullUrl" => "urn:handrail:#{resource["resourceType"]}:#{resource["id"]}",
                "resource" => resource
              }
            end
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

      def reference(type, id) = { "reference" => "#{type}/#{id}" }
      def own(code, text) =
        { "coding" => [{ "system" => SYSTEM, "code" => code, "display" => text }], "text" => text }
      def instant(time) = time.getutc.iso8601
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
          "prescriber-#{name.downcase.gsub(/[^a-z0-9]+/, "-")[0, 40]}",
          name: [{ "text" => name }]
        )
      end

      def of_visit(visit)
        order(visit)
        devices(visit) if visit.first?
        appointment(visit) if visit.planned_for
        return unless visit.opened_at

        procedure(visit)
        readings(visit)
        pressures(visit)
        pain(visit)
        volumes(visit)
        plan(visit) if visit.hand_over && visit.first?
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
        visit.devices.each do |side, row|
          id = "device-#{row[:id]}"
          add(
            "Device",
            id,
            status: row[:ended_at] ? "inactive" : "active",
            manufacturer: visit.product.maker_name,
            serialNumber: row[:serial],
            lotNumber: row[:lot],
            deviceName: [{ "name" => visit.product.full_name, "type" => "user-friendly-name" }],
            type: own(visit.family.key, visit.family.name),
            note: [{ "text" => "Size #{row[:size]}" }],
            patient: whom,
            owner: reference("Organization", clinic_id)
          )
          used(visit, side, row, id) if visit.handed_over?
        end
      end

      def used(visit, side, row, device)
        add(
          "DeviceUseStatement",
          "use-#{row[:id]}",
          status: visit.fitting.ended_at ? "completed" : "active",
          subject: whom,
          timingPeriod: {
            "start" => instant(visit.hand_over[:at]),
            "end" => visit.fitting.ended_at&.then { |at| instant(at) }
          }.compact,
          device: reference("Device", device),
          recordedOn: instant(visit.hand_over[:at]),
          source: practitioner(visit.hand_over[:by], visit.name_of(visit.hand_over[:by])),
          bodySite:
            side &&
              sided(side, own("place-#{visit.family.place}", visit.family.place.tr("_", " "))),
          basedOn: [reference("ServiceRequest", "order-#{visit.prescription.id}")]
        )
      end

      # a place with its side, as SNOMED CT has left and right (from memory)
      def sided(side, concept)
        code, name = SIDES.fetch(side)
        {
          **concept,
          "coding" =>
            concept["coding"] +
              [{ "system" => "http://snomed.info/sct", "code" => code, "display" => name }]
        }
      end

      def appointment(visit)
        from = visit.planned_for
        add(
          "Appointment",
          "visit-#{visit.id}",
          status: appointment_status(visit),
          serviceType: [own(visit.purpose, visit.first? ? "First fitting" : "Recheck")],
          start: instant(from),
          end: instant(visit.planned_to || (from + (30 * 60))),
          participant:
            [whom, *staff(visit), *room(visit)].map do |actor|
              { "actor" => actor, "status" => "accepted" }
            end
        )
      end

      def appointment_status(visit)
        return "cancelled" if visit.row.called_off_at
        return "fulfilled" if visit.closed?

        visit.arrived_at ? "arrived" : "booked"
      end

      def staff(visit)
        [
          (
            if visit.planned_with
              practitioner(visit.planned_with, visit.name_of(visit.planned_with))
            end
          )
        ].compact
      end

      def room(visit) = [({ "display" => visit.planned_room } if visit.planned_room)].compact

      def procedure(visit)
        add(
          "Procedure",
          "fitting-#{visit.id}",
          status: visit.closed? ? "completed" : "in-progress",
          code:
            own(
              visit.first? ? "fitting" : "recheck",
              visit.first? ? "Fitting of an orthosis" : "Recheck of an orthosis"
            ),
          subject: whom,
          performedPeriod: {
            "start" => instant(visit.opened_at),
            "end" => visit.closed_at&.then { |at| instant(at) }
          }.compact,
          basedOn: [reference("ServiceRequest", "order-#{visit.prescription.id}")],
          note:
            visit
              .notes
              .map { |row| { "text" => row[:text], "time" => instant(row[:at]) } }
              .then { |all| all unless all.empty? }
        )
      end

      def plan(visit)
        add(
          "CarePlan",
          "plan-#{visit.fitting.id}",
          status: visit.fitting.ended_at ? "completed" : "active",
          intent: "plan",
          title: "Wearing and rechecks",
          description: visit.hand_over[:start_hours],
          subject: whom,
          created: instant(visit.hand_over[:at])
        )
      end

      def provenance(visit)
        entry = visit.events.last or return
        add(
          "Provenance",
          "written-#{visit.id}",
          target: [reference("Procedure", "fitting-#{visit.id}")],
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
