# frozen_string_literal: true

module Handrail
  module Web
    # The day: today's visits and what each needs next, what is slipping away, what is waiting.
    class Board < Base
      get "/" do
        day = Store::Day.new(clinic)
        lists = { visits: day.visits, paused: day.paused, overdue: day.overdue, unplanned: day.due_unbooked, coming: day.coming }
        erb :"board/day", locals: lists.transform_values { |visits| steps(visits) }
      end

      get "/find" do
        text = params["q"].to_s.strip
        erb :"patients/found", layout: false, locals: { text: text, patients: Store::Find.patients(clinic, text, limit: 8) }
      end

      not_found { raw(ErrorPages.page(404)) }

      helpers do
        def steps(visits) = Store::VisitRecord.load(clinic, visits).map { |record| NextStep.new(record) }
      end
    end
  end
end
