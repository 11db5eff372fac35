# frozen_string_literal: true

module Handrail
  module Web
    # Readings from before, brought in from a file: looked at first, all of them or none, and taken back
    # as one.
    module EarlierPages
      # What these pages share.
      module Helpers
        include TablesIn

        # by which readings come, and can be taken back
        BROUGHT = [Store::Commands::BringReadings, Store::Commands::BringBundle].freeze

        # asked - a TablesIn::Sent of which something has to be chosen first, or nil
        # looked - a Store::Earlier::Looked, rows - what would be brought in, as JSON; nil before a file
        # was chosen
        def earlier(looked: nil, rows: nil, faults: [], asked: nil)
          before =
            Store.db[:entries]
              .where(clinic_id: clinic.id, command: BROUGHT.map(&:key))
              .reverse(:at)
              .limit(5)
              .all
          erb :"patients/earlier",
              locals: {
                looked: looked,
                rows: rows,
                faults: faults,
                asked: asked,
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
          bundle_page(faults: faults)
        end

        # found - an Exchange::FhirIn::Found; record - an Exchange::WearerIn, or nil; waits - number of the file that
        # waits for a yes, or nil; coming - see look_at_bundle
        def bundle_page(found: nil, rows: nil, faults: [], record: nil, waits: nil, coming: nil)
          erb :"patients/bundle",
              locals: {
                found: found,
                rows: rows,
                faults: faults,
                record: record,
                waits: waits,
                coming: coming
              }
        end

        # rows with the names of their sites, and their days as they are written here
        def readings_in_words(rows)
          rows.map do |place, row|
            site = Anatomy::Vocabulary.default[row["site"]]&.name || row["site"]
            [
              place,
              row.merge(
                "site" => site,
                "date" => Quantity::Day.write(Quantity::Day.read(row["date"]))
              )
            ]
          rescue Quantity::Day::Unreadable
            [place, row]
          end
        end

        # keeps nothing but the file itself, for its yes. coming - the id of a record that came from another clinic of
        # the group, which its yes takes
        def look_at_bundle(bytes, name, coming: nil)
          system = Store::ClinicValues.more(clinic)["choices"].to_h["identifier_system"]
          found = Exchange::FhirIn.read(bytes, today: today, system: system)
          record = Exchange::WearerIn.read(bytes)
          rows = JSON.generate("patients" => found.patients, "readings" => found.readings)
          faults = found.faults + Store::Bundles.faults(clinic, account, rows, record)
          waits = Store::WaitingFiles.put(account, name, bytes) if record && faults.empty?
          status 422 if faults.any?
          bundle_page(
            found: found,
            rows: rows,
            faults: faults,
            record: record,
            waits: waits,
            coming: coming
          )
        end

        # runs the command that the block makes; what is wrong is shown by line
        def brought
          desk.run(yield)
          go("/patients/earlier")
        rescue Store::Faults, Store::Conflict => e
          refuse_earlier(e.fields.map { |name, said| [name[/\d+/], said] })
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
          bundle_page
        end

        app.post "/bundle" do
          clinical!
          upload, name = sent_file("file")
          next refuse_bundle(Wording.t("web.choose_file_first")) unless upload

          look_at_bundle(upload.read(Exchange::FhirIn::MOST_FILE + 1) || +"", name)
        rescue Exchange::FhirIn::Unreadable => e
          refuse_bundle(e.message)
        end

        app.post "/bundle/all" do
          clinical!
          bytes = Store::WaitingFiles.bytes(account, params["file"])
          next refuse_bundle(Wording.t("web.file_gone")) if params["file"] && bytes.nil?

          record = bytes && Exchange::WearerIn.read(bytes)
          done = desk.run(Store::Commands::BringBundle.new(params, record: record))
          next go("/patients/bundle") unless done["of"]

          Store::SentRecords.tell(
            done["coming"].transform_keys(&:to_sym),
            clinic,
            record: done["number"]
          )
          go("/patients/#{done["of"]}")
        rescue Store::Faults, Store::Conflict => e
          refuse_bundle(*e.fields.values)
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
          sent = table_sent(Exchange::EarlierFile) or
            next refuse_earlier([[nil, Wording.t("web.choose_csv_file_first")]])
          next refuse_earlier([[nil, Wording.t("web.no_row_file")]]) if sent.listed.empty?
          next refuse_earlier(sent.faults) if sent.faults.any?
          next earlier(asked: sent) if sent.questions.any?

          looked = Store::Earlier.look(clinic, sent.rows)
          if looked.sound?
            earlier(looked: looked, rows: JSON.generate(sent.rows))
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
