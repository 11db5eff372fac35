# frozen_string_literal: true

module Handrail
  module Web
    # Finding, adding and changing patients; their timeline; their orders.
    class Patients < Base
      get "/?" do
        text = params["q"].to_s
        erb :"patients/list", locals: { text: text, patients: Store::Find.patients(clinic, text) }
      end

      get "/new" do
        form(nil, {}, {})
      end

      post "/?" do
        patient = Store::Entries::Patients.create(clinic, account, params)
        redirect "/patients/#{patient.id}", 303
      rescue Store::Faults => e
        status 422
        form(nil, params, e.fields)
      end

      get "/:id" do
        patient = patient!
        visits = Store::Visit.where(clinic_id: clinic.id, fitting_id: patient.fittings_dataset.select(:id)).order(:id).all
        records = Store::VisitRecord.load(clinic, visits)
        erb :"patients/page", locals: { patient: patient, fittings: records.group_by { |record| record.fitting.id }.values.reverse }
      end

      get "/:id/edit" do
        patient = patient!
        form(patient, patient.values.transform_keys(&:to_s), {})
      end

      post "/:id" do
        patient = patient!
        Store::Entries::Patients.update(clinic, account, patient, params, seen: params["seen"].to_i)
        redirect "/patients/#{patient.id}", 303
      rescue Store::Faults => e
        status 422
        form(patient, params, e.fields)
      rescue Store::Stale => e
        status 409
        form(patient.refresh, params, {}, changes: e.events)
      end

      get "/:id/orders/new" do
        clinical!
        order(patient!, params, {})
      end

      post "/:id/orders" do
        clinical!
        patient = patient!
        visit = Store::Entries::Orders.create(clinic, account, patient, params, planned_for: Store.now)
        redirect "/visits/#{visit.id}/order", 303
      rescue Store::Faults => e
        status 422
        order(patient, params, e.fields)
      end

      helpers do
        def patient! = found(Store::Patient.where(clinic_id: clinic.id, id: Integer(params["id"], 10, exception: false)).first)

        def form(patient, values, faults, changes: [])
          erb :"patients/form", locals: { patient: patient, values: values, faults: faults, changes: changes,
                                          names: Store::Account.where(clinic_id: clinic.id).select_hash(:id, :name) }
        end

        # the device this patient had last, or the only one that the clinic offers
        def usual(patient, families)
          last = Store::Prescription.where(clinic_id: clinic.id, patient_id: patient.id).order(:id).last
          offered = Store::Product.where(clinic_id: clinic.id, offered: true).distinct.select_map(:family)
          families.find { |family| family.key == last&.family } || families.select do |family|
            offered.include?(family.key)
          end.then do |own|
            own.first if own.one?
          end
        end

        def order(patient, values, faults)
          families = Families::Shelf.all.values.select { |family| family.species.include?(patient.species) }.sort_by(&:name)
          family = families.find { |f| f.key == values["family"] } || usual(patient, families)
          return erb(:"orders/pick", locals: { patient: patient, families: families }) if family.nil? && families.any?

          products = family ? Store::Product.where(clinic_id: clinic.id, family: family.key, offered: true).eager(:maker).order(:id).all : []
          erb :"orders/form", locals: { patient: patient, family: family, families: families, products: products, values: values, faults: faults }
        end
      end
    end
  end
end
