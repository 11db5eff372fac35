# frozen_string_literal: true

module Handrail
  module Web
    # The day: today's visits and what each needs next, what is slipping away, what is waiting.
    class Board < Base
      # Names of the day's lists, as they are headed where one stands alone.
      LISTS = Wording.names("board")

      get "/" do
        day = Store::Day.new(clinic)
        lists = day.lists
        first = lists.each_value.all?(&:empty?) ? day.first_steps : {}
        page =
          DayPage.new(
            account,
            lists,
            low: day.low,
            first: first,
            timers: account.clinical? ? day.timers : [],
            slips: account.clinical? ? day.slips : [],
            dues: account.clinical? ? day.dues : {},
            newcomers: day.newcomers,
            records_coming: account.clinical? ? day.records_coming : []
          )
        erb :"board/day", locals: { page: page }
      end

      # one list, with its end and the way to the rest
      get "/list/:name" do
        title = found(LISTS[params["name"]])
        from = Store::Inputs.whole(params["from"], 0..1_000_000) || 0
        cut = Store::Day.new(clinic).page(params["name"].to_sym, offset: from)
        page = DayPage.new(account, {})
        erb :"board/list",
            locals: {
              title: title,
              cut: cut,
              page: page,
              from: from,
              step: Store::Day::SHOWN
            }
      end

      get "/find" do
        words = text("q").strip
        patients = words.empty? ? [] : Store::Find.exactly(clinic, words, limit: 8)
        near = words.empty? || patients.any? ? [] : Store::Find.nearly(clinic, words)
        erb :"patients/found",
            layout: false,
            locals: {
              text: words,
              patients: patients,
              near: near
            }
      end
    end
  end
end
