# frozen_string_literal: true

module Handrail
  module Web
    # What leaves the clinic: one wearer, for another program (FHIR) or with everything (a zip file), to who has shown
    # lately that it is them.
    module WearerOut
      # What the routes need.
      module Helpers
        # all visits of a wearer's fittings, oldest first
        def fitted(patient)
          ids =
            Store::Fitting
              .where(clinic_id: clinic.id, patient_id: patient.id)
              .order(:id)
              .select_map(:id)
          Store::Visits.of_fittings(clinic, ids).values.flatten
        end

        def wearer_as_fhir(patient) =
          Exchange::Fhir.new(
            clinic,
            patient,
            fitted(patient),
            earlier: Store::Earlier.rows(clinic, patient)
          ).bundle

        def wearer_as_zip(patient)
          files = Store.db[:files].where(clinic_id: clinic.id)
          standing =
            Store.db[:standing_cautions].where(
              clinic_id: clinic.id,
              patient_id: patient.id,
              ended_at: nil
            )
          whole = {
            earlier: Store::Earlier.rows(clinic, patient),
            cautions: standing.order(:id).all,
            brought: Store::Brought.of(clinic, patient).reject { |row| row[:ended_at] }
          }
          Exchange::PatientBundle
            .new(clinic, patient, fitted(patient), **whole) do |sha256|
              files.where(sha256: sha256).get(:bytes)
            end
            .to_zip
        end

        # Sends the record to another clinic of the group: written down, then delivered.
        def send_record(patient)
          sent = desk.run(Store::Commands::SendRecord.new(params.merge("patient" => patient.id)))
          Store::SentRecords.deliver(patient, sent["sent"], wearer_as_zip(patient))
        end

        # Sends one wearer as a file.
        def leaves(ending, type)
          clinical!
          patient = patient!
          confirm!
          made = yield patient
          content_type type
          attachment "handrail-#{patient.id}.#{ending}"
          headers "Cache-Control" => "private, no-store"
          made
        rescue Store::Faults => e
          status 422
          page = PatientPage.new(account, clinic, patient, all: false)
          erb :"patients/page", locals: { patient: patient, page: page, faults: e.fields }
        end
      end

      def self.registered(app)
        app.helpers(Helpers)
        app.post("/:id/export") do
          leaves("fhir.json", "application/fhir+json") do |patient|
            JSON.pretty_generate(wearer_as_fhir(patient))
          end
        end
        app.post("/:id/bundle") do
          leaves("zip", "application/zip") { |patient| wearer_as_zip(patient) }
        end
        app.post("/:id/send") do
          clinical!
          patient = patient!
          confirm!
          send_record(patient)
          go("/patients/#{patient.id}")
        rescue Store::Faults, Store::Conflict => e
          status e.is_a?(Store::Conflict) ? 409 : 422
          page = PatientPage.new(account, clinic, patient, all: false)
          faults = e.fields.transform_keys { |name| name == "form" ? "to" : name }
          erb :"patients/page", locals: { patient: patient, page: page, faults: faults }
        end
        # once more, where the other clinic could not be reached: it is delivered, or asked what became of it
        app.post("/:id/sent/:sent") do
          clinical!
          patient = patient!
          sent = Store::Inputs.whole(params["sent"], 1..Store::Inputs::LARGEST_ID) || halt(404)
          unless Store::SentRecords.ask_after(patient, sent)
            Store::SentRecords.deliver(patient, sent, wearer_as_zip(patient))
          end
          go("/patients/#{patient.id}")
        end
      end
    end
  end
end
