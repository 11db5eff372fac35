# frozen_string_literal: true

module Handrail
  module Web
    # Finding, adding and changing patients; their timeline; their orders.
    class Patients < Base
      # how many a list shows at once
      STEP = 40

      # What was searched for is a name: it stands in no address, which a browser keeps.
      post "/find" do
        words = text("q").strip[0, 200]
        one = Store::Find.numbered(clinic, words)
        next go("/patients/#{one.id}") if one

        session["sought"] = words
        go("/patients/found")
      end

      get("/?") { list(text("q").strip) }
      get("/found") { list(session["sought"].to_s) }

      helpers do
        def list(words)
          from = Store::Inputs.whole(params["from"], 0..1_000_000) || 0
          exact = Store::Find.exactly(clinic, words, limit: STEP + 1, from: from)
          near = exact.empty? && from.zero? ? Store::Find.nearly(clinic, words) : []
          erb :"patients/list",
              locals: {
                text: words,
                patients: exact + near,
                near: near.any?,
                from: from,
                step: STEP
              }
        end
      end

      get("/new") { form(nil, { "record_number" => Store::Find.next_number(clinic) }.compact, {}) }

      # who of those that are there it may be, told while it is typed
      post "/same" do
        born =
          begin
            Quantity::Day.read(text("born_on"))
          rescue Quantity::Day::Unreadable
            nil
          end
        name = [text("given_name"), text("family_name")].join(" ")
        same =
          Store::Find.same(clinic, record_number: text("record_number"), name: name, born_on: born)
        erb :"patients/same", layout: false, locals: { same: same }
      end

      post "/practice" do
        go("/patients/#{desk.run(Store::Commands::MakePracticePatient.new(params))["patient"]}")
      rescue Store::Faults => e
        status 422
        form(nil, {}, e.fields)
      end

      post "/?" do
        written = desk.run(Store::Commands::AddPatient.new(params))
        go("/patients/#{written["patient"]}")
      rescue Store::Faults, Store::Conflict => e
        status e.is_a?(Store::Conflict) ? 409 : 422
        form(nil, params, e.fields)
      end

      register EarlierPages
      register ComingPages
      register RecordsOfOne
      register FirstPages
      register ElsewherePages
      register WearerOut

      get("/bring") { bring }

      get "/bring/example.csv" do
        content_type "text/csv"
        attachment "patients.csv"
        Exchange::PatientsFile::EXAMPLE
      end

      # looks at a file, and keeps nothing
      post "/bring" do
        sent = table_sent(Exchange::PatientsFile) or
          next refuse_bring([[nil, Wording.t("web.choose_csv_file_first").freeze]])
        next bring(asked: sent) if sent.questions.any?

        looked = Store::Arrivals.look(clinic, account, sent.rows)
        if looked.sound?
          bring(looked: looked, rows: JSON.generate(sent.rows))
        else
          refuse_bring(looked.faults)
        end
      rescue Exchange::CSVTable::Faulty => e
        refuse_bring([[nil, e.message]])
      end

      post "/bring/all" do
        desk.run(Store::Commands::BringPatients.new(params))
        go("/patients/bring")
      rescue Store::Faults, Store::Conflict => e
        refuse_bring(e.fields.map { |name, said| [name[/\d+/], said] })
      end

      post "/bring/back" do
        senior!
        desk.run(Store::Commands::TakeBackPatients.new(params))
        go("/patients/bring")
      rescue Store::Faults, Store::Conflict => e
        refuse_bring(e.fields.values.map { |said| [nil, said] })
      end

      get "/:id" do
        patient = patient!
        page = PatientPage.new(account, clinic, patient, all: params["all"] == "1")
        erb :"patients/page", locals: { patient: patient, page: page, faults: {} }
      end

      get "/:id/edit" do
        patient = patient!
        form(patient, patient.values.transform_keys(&:to_s), {})
      end

      post "/:id" do
        patient = patient!
        desk.run(Store::Commands::ChangePatient.new(params.merge("patient" => patient.id)))
        go("/patients/#{patient.id}")
      rescue Store::Stale => e
        status 409
        form(patient.refresh, params, {}, changes: e.events)
      rescue Store::Faults, Store::Conflict => e
        status e.is_a?(Store::Conflict) ? 409 : 422
        form(patient.refresh, params, e.fields)
      end

      get "/:id/orders/new" do
        clinical!
        order(patient!, params, {})
      end

      post "/:id/orders" do
        clinical!
        patient = patient!
        command =
          Store::Commands::WriteOrder.new(
            params.merge("patient" => patient.id),
            planned_for: Store.now
          )
        go("/visits/#{desk.run(command)["visit"]}/order")
      rescue Store::Faults, Store::Conflict => e
        status e.is_a?(Store::Conflict) ? 409 : 422
        order(patient, params, e.fields)
      end

      helpers do
        def patient! = found(Store::Patient.of(clinic, [id])[id])

        def form(patient, values, faults, changes: [])
          names =
            changes.any? ? Store::Account.where(clinic_id: clinic.id).select_hash(:id, :name) : {}
          erb :"patients/form",
              locals: {
                patient: patient,
                values: values,
                faults: faults,
                changes: changes,
                names: names
              }
        end

        # the form of the family chosen, else of the one this patient had last or the only one that
        # is offered
        def order(patient, values, faults)
          picked = clinic.device_families[values["family"].to_s]
          family = picked || (values["pick"] ? nil : usual(patient))
          family = nil unless family&.species&.include?(patient.species)
          page = OrderPage.new(clinic, patient, family: family, values: values, faults: faults)
          erb :"orders/#{family ? "form" : "pick"}", locals: { patient: patient, page: page }
        end

        # The page that brings in many. looked - an Arrivals::Looked; rows - as JSON, for the next
        # step; faults - [[line, words], ...]; asked - a TablesIn::Sent of which something has to be chosen first.
        def bring(looked: nil, rows: nil, faults: [], asked: nil)
          before =
            Store.db[:entries]
              .where(clinic_id: clinic.id, command: Store::Commands::BringPatients.key)
              .reverse(:at)
              .limit(5)
              .all
          erb :"patients/bring",
              locals: {
                looked: looked,
                rows: rows,
                faults: faults,
                asked: asked,
                before: before
              }
        end

        def refuse_bring(faults)
          status 422
          bring(faults: faults)
        end

        def usual(patient)
          last =
            Store::Prescription.where(clinic_id: clinic.id, patient_id: patient.id).order(:id).last
          return clinic.device_families[last.family] if last

          offered =
            Store::Product.where(clinic_id: clinic.id, offered: true).distinct.select_map(:family)
          own =
            offered
              .filter_map { |key| clinic.device_families[key] }
              .select { |f| f.species.include?(patient.species) }
          own.first if own.one?
        end
      end
    end
  end
end
