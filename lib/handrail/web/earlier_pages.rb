# frozen_string_literal: true

module Handrail
  module Web
    # Readings from before, brought in from a file: looked at first, all of them or none, and taken back
    # as one.
    module EarlierPages
      # What these pages share.
      module Helpers
        # looked - a Store::Earlier::Looked, rows - what would be brought in, as JSON; nil before a file
        # was chosen
        def earlier(looked: nil, rows: nil, faults: [])
          before =
            Store.db[:entries]
              .where(clinic_id: clinic.id, command: Store::Commands::BringReadings.key)
              .reverse(:at)
              .limit(5)
              .all
          erb :"patients/earlier",
              locals: {
                looked: looked,
                rows: rows,
                faults: faults,
                before: before
              }
        end

        def refuse_earlier(faults)
          status 422
          earlier(faults: faults)
        end

        def refuse_bundle(*words)
          status 422
          faults = words.map { |one| [nil, one] }
          erb :"patients/bundle", locals: { found: nil, rows: nil, faults: faults }
        end

        # runs the command that the block makes; what is wrong is shown by line
        def brought
          desk.run(yield)
          go("/patients/earlier")
        rescue Store::Faults => e
          refuse_earlier(e.fields.map { |name, said| [name[/\d+/], said] })
        rescue Store::Conflict => e
          refuse_earlier([[nil, e.message]])
        end
      end

      def self.registered(app)
        app.helpers(Helpers)
        looks(app)
        writes(app)
        bundles(app)
      end

      # patients and readings from another program, as a FHIR bundle
      def self.bundles(app)
        app.get "/bundle" do
          clinical!
          erb :"patients/bundle", locals: { found: nil, rows: nil, faults: [] }
        end

        app.post "/bundle" do
          clinical!
          upload, = sent_file("file")
          next refuse_bundle("Choose a file first.") unless upload

          found =
            Exchange::FhirIn.read(upload.read(Exchange::FhirIn::MOST_FILE + 1) || +"", today: today)
          rows = JSON.generate("patients" => found.patients, "readings" => found.readings)
          faults = found.faults + Store::Bundles.faults(clinic, account, rows)
          status 422 if faults.any?
          erb :"patients/bundle", locals: { found: found, rows: rows, faults: faults }
        rescue Exchange::FhirIn::Unreadable => e
          refuse_bundle(e.message)
        end

        app.post "/bundle/all" do
          clinical!
          desk.run(Store::Commands::BringBundle.new(params))
          go("/patients/bundle")
        rescue Store::Faults => e
          refuse_bundle(*e.fields.values)
        rescue Store::Conflict => e
          refuse_bundle(e.message)
        end
      end
      private_class_method :bundles

      def self.looks(app)
        app.get "/earlier" do
          clinical!
          earlier
        end

        app.get "/earlier/example.csv" do
          content_type "text/csv"
          attachment "readings.csv"
          Exchange::EarlierFile::EXAMPLE
        end

        # looks at a file, and keeps nothing
        app.post "/earlier" do
          clinical!
          file, name = sent_file("file")
          next refuse_earlier([[nil, "Choose a CSV file first."]]) unless file

          rows = Exchange::EarlierFile.rows(file.path, name: name)
          next refuse_earlier([[nil, "There is no row in the file."]]) if rows.empty?

          looked = Store::Earlier.look(clinic, rows)
          if looked.sound?
            earlier(looked: looked, rows: JSON.generate(rows))
          else
            refuse_earlier(looked.faults)
          end
        rescue Exchange::CSVTable::Faulty => e
          refuse_earlier([[nil, e.message]])
        end
      end
      private_class_method :looks

      def self.writes(app)
        app.post "/earlier/all" do
          clinical!
          brought { Store::Commands::BringReadings.new(params) }
        end

        app.post "/earlier/back" do
          senior!
          brought { Store::Commands::TakeBackReadings.new(params) }
        end
      end
      private_class_method :writes
    end
  end
end
