# frozen_string_literal: true

module Handrail
  module Web
    # A visit, stage by stage. Each stage is one fragment (#bench), so that htmx can put a new one in its place after every entry.
    class Visits < Base
      register Stages::Ordering, Stages::Measuring, Stages::Fitting, Stages::Finishing

      get "/:id" do
        record = record!
        redirect(record.visit.closed? ? "/visits/#{record.visit.id}/record" : stage_path(record.visit.id, NextStep.new(record).stage))
      end

      # the visit as it was written, with corrections and notes
      get "/:id/record" do
        clinical!
        erb :"visits/record", locals: { record: record!, fault: nil, values: {} }
      end

      post "/:id/notes" do
        clinical!
        record = record!
        Store::Entries::Handing.note(ledger(record), params["text"])
        redirect "/visits/#{record.visit.id}/record", 303
      rescue Store::Unacceptable => e
        status 422
        erb :"visits/record", locals: { record: record, fault: e, values: params }
      end

      get "/:id/trail" do
        senior!
        record = record!
        rows = Store::Trail.of_visit(record)
        erb :"visits/trail", locals: { record: record, rows: rows }
      end

      # the front desk books too
      post "/:id/book" do
        record = record!
        Store::Entries::Handing.book(ledger(record), record, day: params["day"], time: params["time"])
        redirect params["back"].to_s.match?(%r{\A/[a-z0-9/-]*\z}) ? params["back"] : "/", 303
      rescue Store::Unacceptable, Store::Closed => e
        status 422
        erb :"visits/book", locals: { record: record, fault: e.message }
      rescue Store::Stale => e
        status 409
        said = e.events.map { |event| "#{record.name_of(event.by)}: #{event.said}" }.join("; ")
        erb :"visits/book",
            locals: { record: record!, fault: "This changed while your page was open: #{said}. Yours is still below; send it again if it holds." }
      end

      get "/:id/book" do
        erb :"visits/book", locals: { record: record!, fault: nil }
      end

      helpers do
        def record! = found(Store::VisitRecord.find(clinic, Integer(params["id"], 10, exception: false)))

        def ledger(record)
          Store::Ledger.new(record.visit, account, seen: Integer(params["seen"].to_s, 10, exception: false), page: page_key)
        end

        # Shows a stage. extra - what went wrong or what was typed.
        def stage(name, record, **extra)
          view = StagePage.new(record, name, params, account, **extra)
          locals = { record: record, view: view }
          return part(:"visits/bench", **locals) if fragment?

          erb :"visits/stage", locals: locals
        end

        # Carries out an entry, then shows the stage as it now stands; what could not be taken is shown with everything that was typed.
        def enter(name)
          clinical!
          record = record!
          result = yield ledger(record), record
          return go(result) if result.is_a?(String)

          if fragment?
            stage(name, record!, saved: true,
                                 shown: Hash.try_convert(result))
          else
            redirect("#{stage_path(record.visit.id, name)}#{"?#{query(result)}" if result.is_a?(Hash)}", 303)
          end
        rescue Store::Unacceptable => e
          again(name, 422, fault: e)
        rescue Store::Faults => e
          again(name, 422, faults: e.fields, fault: Store::Unacceptable.new(e.fields.keys.first, e.message))
        rescue Store::Stale => e
          again(name, 409, stale: e)
        rescue Store::Refused => e
          again(name, 422, refused: e)
        rescue Store::Closed => e
          again(name, 409, fault: Store::Unacceptable.new("visit", e.message))
        end

        # A correction on a closed visit: of a check, or of a reading.
        def correct(ledger, record)
          how = { typed: params["value"], corrects: params["corrects"], why: params["why"], entry_key: params["entry_key"] }
          return Store::Entries::Fit.check(ledger, params["check"], outcome: params["outcome"], **how) if params["check"]

          row = found(record.rows(:readings).find { |r| r[:id] == params["corrects"].to_i })
          Store::Entries::Readings.take(ledger, record, **row.slice(:site, :side, :posture, :tension, :unit), **how)
        end

        def again(name, code, **what)
          status code
          stage(name, record!, **what)
        end
      end
    end
  end
end
