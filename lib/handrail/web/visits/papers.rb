# frozen_string_literal: true

require "icalendar"

module Handrail
  module Web
    class Visits
      # Papers of a visit: the wearer's sheet, the fitting record, a calendar of the break-in.
      module Papers
        # What the routes need.
        module Helpers
          # lines of the letterhead
          def head_lines =
            [told_by.name, [told_by.address || told_by.place, told_by.phone].compact.join(", ")]

          def pdf(made, name)
            content_type "application/pdf"
            headers "Content-Disposition" => %(inline; filename="#{name}.pdf"),
                    "Cache-Control" => "private, no-store"
            made.bytes
          end

          def record_paper(visit) = RecordPaper.new(visit, head_lines).make
          def locator!
            clinical!
            visit = visit!
            halt 404 unless visit.family.locator
            LocatorPage.new(visit)
          end

          def size_of_paper = params["size"] == "letter" ? "LETTER" : "A4"

          # keeps the record with its digest; what keeps nothing new is passed over
          def keep_record(visit)
            command =
              Store::Commands::KeepPaper.new({ "kind" => "record" }, paper: record_paper(visit))
            Store::Ledger.new(visit.row, account).run(command)
          end
        end

        def self.registered(app)
          app.helpers(Helpers)
          measuring(app)
          sheets(app)
          records(app)
          locators(app)
        end

        # to be filled in with a pen, where there is no screen
        def self.measuring(app)
          app.get("/:id/measuring-sheet") do
            clinical!
            visit = visit!
            page = MeasuringSheet.new(visit, account)
            erb :"visits/measuring_sheet", layout: :print, locals: { page: page, visit: visit }
          end
        end
        private_class_method :measuring

        # in large type, for the wearer
        def self.sheets(app)
          app.get("/:id/sheet") do
            clinical!
            visit = visit!
            page = SheetPage.new(visit, language: text("in"))
            erb :"visits/sheet", layout: :print, locals: { page: page, visit: visit }
          end

          # one step as large as the screen, held up to the wearer while they are shown
          app.get("/:id/sheet/:list/:step") do
            clinical!
            visit = visit!
            page = SheetPage.new(visit, language: text("in"))
            shown = found(page.shown(text("list"), text("step")))
            erb :"visits/sheet_step",
                layout: :print,
                locals: {
                  page: page,
                  visit: visit,
                  shown: shown
                }
          end

          app.get("/:id/sheet.pdf") do
            clinical!
            page = SheetPage.new(visit!, language: text("in"))
            pdf(
              SheetPaper.new(page, head_lines, size: size_of_paper).make,
              "sheet-#{id}-#{page.language.key}"
            )
          end

          app.get("/:id/calendar.ics") do
            clinical!
            page = SheetPage.new(visit!, language: text("in"))
            content_type "text/calendar"
            headers "Content-Disposition" => %(attachment; filename="handrail-#{id}.ics")
            SheetCalendar.new(page).to_ical
          end
        end

        def self.records(app)
          app.get("/:id/record.pdf") do
            clinical!
            pdf(record_paper(visit!), "record-#{id}")
          end

          app.post("/:id/papers") do
            clinical!
            keep_record(visit!)
            go("/visits/#{id}/record")
          end

          app.get("/:id/papers/:paper.pdf") do
            clinical!
            row = found(visit!.rows(:papers).find { |one| one[:id].to_s == params["paper"] })
            bytes = Store.db[:files].where(clinic_id: clinic.id, sha256: row[:sha256]).get(:bytes)
            pdf(Exchange::Paper::Made[bytes: bytes.to_s, pages: row[:pages]], "#{row[:kind]}-#{id}")
          end
        end

        # where electrodes go, at its own size
        def self.locators(app)
          app.get("/:id/locator") do
            page = locator!
            erb :"visits/locator", layout: :print, locals: { page: page, visit: page.visit }
          end

          app.get("/:id/locator.pdf") do
            pdf(locator!.paper(head_lines, size: size_of_paper), "locator-#{id}")
          end

          # every strap with its mark: a worn one is replaced by it without measuring again
          app.get("/:id/straps") do
            clinical!
            visit = visit!
            erb :"visits/straps",
                layout: :print,
                locals: {
                  page: StrapMap.new(visit),
                  visit: visit
                }
          end
        end
        private_class_method :sheets, :records, :locators
      end
    end
  end
end
