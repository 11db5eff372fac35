# frozen_string_literal: true

require "csv"

module Handrail
  module Web
    # A group of clinics. Its office sees figures of all of them, a month at a time, and makes codes by which clinics
    # join; a clinic sees which group it belongs to, joins and leaves. Pages: views/group.
    class GroupRoom < Base
      # Months that can be chosen.
      BACK = 24
      private_constant :BACK

      helpers do
        def month = @month ||= read_month

        # the one asked for, else this one; never one that has not come
        def read_month
          asked = Date.strptime(text("month"), "%Y-%m")
          asked.between?(today << BACK, today) ? asked : today
        rescue Date::Error
          today
        end

        def months = (0...BACK).map { |back| Date.new(today.year, today.month) << back }

        def office!
          halt 404 unless clinic.office
        end

        def office_page(code: nil, faults: {})
          figures, silent = Store::Group.figures(clinic.key, month)
          erb :"group/office",
              locals: {
                figures: figures,
                silent: silent,
                code: code,
                faults: faults
              }
        end

        def member_page(faults: {})
          erb :"group/member",
              locals: {
                sisters:
                  Store::Group.clinics(clinic.group_key).reject { |one| one.id == clinic.id },
                faults: faults
              }
        end

        # runs a command for seniors; what was not kept is shown where it was sent from
        def kept(command)
          senior!
          confirm!
          desk.run(command)
          yield
        rescue Store::Faults, Store::Conflict => e
          status e.is_a?(Store::Conflict) ? 409 : 422
          clinic.refresh
          clinic.office ? office_page(faults: e.fields) : member_page(faults: e.fields)
        end

        # "4 of 5", or nothing where there is none
        def stayed(one) =
          one.sized.zero? ? "–" : Wording.t("groups.stayed", stayed: one.stayed, sized: one.sized)
      end

      get("/?") { clinic.office ? office_page : member_page }

      get "/figures.csv" do
        office!
        figures, = Store::Group.figures(clinic.key, month)
        content_type "text/csv", charset: "utf-8"
        attachment "figures-#{month.strftime("%Y-%m")}.csv"
        columns = %i[name place] + Store::Group::NUMBERS
        CSV.generate do |csv|
          csv << columns
          figures.each { |one| csv << columns.map { |name| one[name] } }
        end
      end

      post "/codes" do
        office!
        command = Store::Commands::MakeGroupCode.new
        kept(command) { command.code ? office_page(code: command.code) : go("/group") }
      end

      post("/join") { kept(Store::Commands::JoinGroup.new(params)) { go("/group") } }
      post("/leave") { kept(Store::Commands::LeaveGroup.new(params)) { go("/group") } }
    end
  end
end
