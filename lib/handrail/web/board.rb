# frozen_string_literal: true

module Handrail
  module Web
    # The day: today's visits and what each needs next, what is slipping away, what is waiting.
    class Board < Base
      get "/" do
        day = Store::Day.new(clinic)
        erb :"board/day", locals: { visits: steps(day.visits), paused: steps(day.paused), overdue: steps(day.overdue), unplanned: steps(day.due_unbooked),
                                    coming: steps(day.coming) }
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
