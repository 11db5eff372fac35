# frozen_string_literal: true

module Handrail
  module Web
    # Of one patient's record: joined into that of the same person and parted from it; and put to rest, where nobody
    # is waited for any more. Shown on the patient's page (views/patients/page.erb).
    module RecordsOfOne
      # How its routes answer.
      module Helpers
        # Runs a command on the patient in the path; what was not kept is shown on their page, under `field` where it is
        # of none.
        def kept_of(command, field, more = {})
          patient = patient!
          done = desk.run(command.new(params.merge("patient" => patient.id).merge(more)))
          go("/patients/#{done["patient"]}")
        rescue Store::Faults, Store::Conflict => e
          status e.is_a?(Store::Conflict) ? 409 : 422
          page = PatientPage.new(account, clinic, patient, all: false)
          faults = e.fields.transform_keys { |name| %w[form patient].include?(name) ? field : name }
          erb :"patients/page", locals: { patient: patient, page: page, faults: faults }
        end
      end

      def self.registered(app)
        app.helpers(Helpers)
        app.post("/:id/cautions") do
          clinical!
          kept_of(Store::Commands::NoteCaution, "text")
        end
        app.post("/:id/cautions/:caution/end") do
          clinical!
          kept_of(Store::Commands::EndCaution, "why", { "caution" => text("caution") })
        end
        app.post("/:id/rest") { kept_of(Store::Commands::RestPatient, "rest") }
        {
          "join" => Store::Commands::JoinRecords,
          "part" => Store::Commands::PartRecords
        }.each do |act, command|
          app.post("/:id/#{act}") do
            senior!
            kept_of(command, "into", { "from" => id })
          end
        end
      end
    end
  end
end
