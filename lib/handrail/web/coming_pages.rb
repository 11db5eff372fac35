# frozen_string_literal: true

module Handrail
  module Web
    # Records that came from other clinics of the group with the wearer's consent: looked at as any record from
    # elsewhere is, then taken or not. Page: views/patients/coming.erb
    module ComingPages
      def self.registered(app)
        app.get "/coming" do
          clinical!
          erb :"patients/coming", locals: { rows: Store::SentRecords.coming(clinic), fault: nil }
        end

        app.post "/coming/:id/look" do
          clinical!
          row = found(Store::SentRecords.one(clinic, id))
          name = "#{row[:from_record].gsub(/[^A-Za-z0-9]+/, "-")}.zip"
          look_at_bundle(row[:bytes], name, coming: row[:id])
        rescue Exchange::FhirIn::Unreadable => e
          refuse_bundle(e.message)
        end

        app.post "/coming/:id/refuse" do
          clinical!
          done = desk.run(Store::Commands::RefuseRecord.new("coming" => id))
          Store::SentRecords.tell(done["coming"].transform_keys(&:to_sym), clinic)
          go("/patients/coming")
        rescue Store::Faults => e
          status 422
          erb :"patients/coming",
              locals: {
                rows: Store::SentRecords.coming(clinic),
                fault: e.fields.values.first
              }
        end
      end
    end
  end
end
