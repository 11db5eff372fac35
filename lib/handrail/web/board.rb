# frozen_string_literal: true

module Handrail
  module Web
    # The day: today's visits and what each needs next, what is slipping away, what is waiting.
    class Board < Base
      get "/" do
        day = Store::Day.new(clinic)
        lists = { visits: day.visits, paused: day.paused, overdue: day.overdue, unplanned: day.due_unbooked, coming: day.coming }
        erb :"board/day", locals: { **all_steps(lists), low: Store::Shelf.low(clinic) }
      end

      get "/find" do
        text = params["q"].to_s.strip
        erb :"patients/found", layout: false, locals: { text: text, patients: Store::Find.patients(clinic, text, limit: 8) }
      end

      not_found { raw(ErrorPages.page(404)) }

      helpers do
        # the records of all lists at the price of one
        def all_steps(lists)
          records = Store::VisitRecord.load(clinic, lists.values.flatten.uniq(&:id)).to_h { |record| [record.visit.id, record] }
          lists.transform_values { |visits| visits.map { |visit| NextStep.new(records.fetch(visit.id)) } }
        end
      end
    end
  end
end
