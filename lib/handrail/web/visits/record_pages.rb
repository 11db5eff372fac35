# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # The visit as it was written, corrections, notes, booking and the trail.
      module RecordPages
        # What the record prints.
        class Page
          # A row as it is printed. row; title; value; words - when, who, what became of it; struck;
          # correctable.
          Line = Value.new(:row, :title, :value, :words, :struck, :correctable, :measured)

          attr_reader :visit, :trouble

          def initialize(visit, params: {}, trouble: nil)
            @visit = visit
            @params = params
            @trouble = trouble
          end

          def fault(name) = trouble.is_a?(Store::Faults) ? trouble.fields[name] : nil
          def typed(name) = trouble && @params[name].is_a?(String) ? @params[name] : nil

          # Whether this row's correction was sent and not kept.
          def correcting?(kind, row)
            !trouble.nil? && @params["kind"] == kind && @params["corrects"].to_s == row[:id].to_s
          end

          # Pieces that were written down here: [row, the row that corrects it or nil].
          def pieces
            rows = visit.rows(:issued_devices)
            rows.map { |row| [row, correction_of(rows, row)] }
          end

          # "left, size M, lot A12, to be used by 30 Nov 2027"
          def piece_words(row)
            [
              visit.said_side(row[:side]),
              Wording.t("web.size", size: row[:size]),
              (row[:lot] && Wording.t("device.lot", number: row[:lot]) if row[:serial]),
              row[:gtin] && Wording.t("web.gtin", gtin: row[:gtin]),
              row[:use_by] &&
                Wording.t("web.to_be_used_by", use_by: Quantity::Day.write(row[:use_by]))
            ].compact.join(", ")
          end

          def readings = visit.rows(:readings)
          def results = visit.rows(:check_results)
          def correction_of(rows, row) = rows.find { |other| other[:corrects_id] == row[:id] }

          # "left calf, widest, sitting, snug"
          def reading_words(row)
            site = Anatomy::Vocabulary.default[row[:site]]&.short || row[:site]
            [[row[:side], site].compact.join(" "), row[:posture], row[:tension]].join(", ")
          end

          # The check with its side and place, and what was seen.
          def result_words(row)
            check = visit.family.check(row[:check_key])
            seen = row[:value] ? ": #{check.criterion.print(row[:value].to_r)}" : ""
            "#{[*on_side(row[:side]), visit.fill(check.title), *at_place(row[:side], row[:place])].join(", ")}#{seen}"
          end

          # A side as it is said, or nothing where there is one; the strap of a place by its name, or nothing.
          def on_side(side) = [*visit.said_side(side)]
          def at_place(side, place) =
            [*visit.sizing.straps(side).find { |strap| strap.key == place }&.label]

          # What became of a row by a correction, in words: of the one that was put right, and of the one that
          # stands in its place. rows - those among which both are; nil where nothing did
          def corrected_words(rows, row)
            by = correction_of(rows, row)
            [
              by && Wording.t("web.corrected_because", why: by[:correction_reason]),
              row[:corrects_id] &&
                Wording.t(
                  "web.a_correction",
                  day: Quantity::Day.write(visit.clinic.today(row[:at]))
                )
            ].compact.join("; ")[
              /.+/
            ]
          end

          def measured?(row) = visit.family.check(row[:check_key]).measured?

          # What was asked before anything was read, each time it was: [[when, who, [sentence, ...]], ...].
          def asked =
            visit
              .rows(:safety_questions)
              .map { |row| [row[:at], visit.name_of(row[:by]), asked_words(row)] }

          # Senior's words: [who, when, reason].
          def words =
            visit.overrides.map { |row| [visit.name_of(row[:by]), row[:at], row[:reason]] }

          # What was done about stop signs: [when, who, what]. One that was tapped by mistake was no talk with anybody.
          def stop_actions
            visit
              .rows(:stop_actions)
              .map { |row| [row[:at], visit.name_of(row[:by]), stop_words(row)] }
          end

          def stop_words(row)
            action = Store::Commands::RecordStopAction::ACTIONS[row[:action]]
            return Wording.t("web.stop_by_mistake", advice: row[:advice]) unless action

            Wording.t("web.stop_dealt", action: action, who: row[:who], advice: row[:advice])
          end
          private :stop_words

          # What can be ended: [side, or "" for all there is; words].
          def ends
            sides = visit.newest.id == visit.id ? visit.sides : []
            return [["", Wording.t("web.whole_fitting")]] if sides.size < 2

            [["", Wording.t("web.both_sides")]] +
              sides.map { |side| [side, Wording.t("web.the_only", side: side)] }
          end

          # Sides of a pair that have ended: [words, when, why].
          def sides_ended
            visit
              .rows_of_fitting(:side_ends)
              .map { |row| [row[:side].capitalize, row[:at], row[:why]] }
          end

          def asked_words(row)
            [
              Wording.t(row[:identity] ? "asked.identity" : "asked.no_identity"),
              Wording.t("asked.stops", signs: listed(visit.family.stop_signs, row[:stops])),
              Wording.t("asked.care", signs: listed(visit.family.care_prompts, row[:care])),
              row[:note],
              *index_words(row[:pressures].to_h)
            ].compact
          end

          # the prompts that were ticked, in words
          def listed(prompts, keys)
            said = prompts.select { |prompt| keys.to_a.include?(prompt.key) }.map(&:text)
            said.empty? ? Wording.t("asked.none") : said.join("; ")
          end

          # the pressures as they were typed, what follows from them, and who agreed to it
          def index_words(typed)
            own = typed.except("agreed_by", "measured_on").reject { |_, text| text.to_s.empty? }
            return [] if own.empty?

            read, = visit.method_of("ankle_brachial").read(own)
            pressures =
              own.map do |key, text|
                "#{Compression::AnkleBrachial::LABELS.fetch(key).downcase} #{text}"
              end
            found =
              read ? read.findings(visit.sides.compact).map { |one| Wording.ankle_index(one) } : []
            agreed = typed["agreed_by"].to_s
            [
              Wording.t("asked.pressures", pressures: pressures.join(", ")),
              typed["measured_on"] &&
                Wording.t(
                  "asked.measured_on",
                  on: Quantity::Day.write(Date.iso8601(typed["measured_on"]))
                ),
              *found,
              (Wording.t("asked.agreed", who: agreed) unless agreed.empty?)
            ].compact
          end
          private :asked_words, :listed, :index_words

          def worn? = visit.closed? && visit.handed_over? && visit.fitting.ended_at.nil?
        end

        CORRECTIONS = {
          "reading" => Store::Commands::CorrectReading,
          "check" => Store::Commands::CorrectCheck,
          "device" => Store::Commands::CorrectDevice
        }.freeze

        # How its routes answer.
        module Helpers
          def record(visit, trouble: nil)
            by_pin(visit)
            page = Page.new(visit, params: params, trouble: trouble)
            erb :"visits/record", locals: { page: page, visit: visit }
          end

          # an entry that is answered with the record
          def recorded(command) = kept(command, :record) { "/visits/#{id}/record" }

          # An entry of a page beside the stages. page - the method that shows it, with what was not kept; the block
          # gets the visit and says where it goes on.
          def kept(command, page)
            clinical!
            taken = ledger.run(command.new(params))
            answers(Base::KEPT)
            go(yield(taken.visit))
          rescue Store::NotKept => e
            raise if e.is_a?(Store::NotAllowed)

            answers(Base::REFUSED)
            status Visits::STATUS.find { |kind, _| e.is_a?(kind) }.last
            send(page, e.visit || visit!, trouble: e)
          end

          # Where what comes after a closed visit is put: it is fetched for itself, since it goes on changing
          # and a closed visit does not. Nothing where nothing can come any more: no room is held for it then.
          def next_visit(visit, back)
            return unless visit.closed? && planned_after(visit)

            from = "/visits/#{visit.id}/next?#{query("back" => back)}"
            %(<div class="next-visit" data-hx-get="#{from}" data-hx-trigger="load" data-hx-swap="outerHTML"></div>)
          end

          # The recheck that comes after a visit that was closed, with times to tap; nothing where none is
          # planned, or another visit came meanwhile.
          def what_comes_next(visit, back)
            row = planned_after(visit) or return
            booked = Store::Visits.find(clinic, row.id)
            page = BookingPage.new(booked, params: { "back" => back })
            part(:"visits/next_visit", booked: booked, page: page, back: page.back)
          end

          # the row of the visit that was planned after this one and has not begun, or nil
          def planned_after(visit)
            row = visit.visits.find { |one| one.number == visit.number + 1 }
            row unless visit.ended? || row.nil? || row.opened_at || row.called_off_at
          end

          def booking(visit, trouble: nil)
            by_pin(visit)
            page = BookingPage.new(visit, params: params, trouble: trouble)
            erb :"visits/book", locals: { visit: visit, page: page }
          end

          # back to where it was booked from; what was not kept is shown as it was typed
          def booked(command)
            ledger.run(command.new(params))
            back = text("back")
            go(SignedIn.inside?(back) ? back : "/")
          rescue Store::NotKept => e
            raise if e.is_a?(Store::NotAllowed)

            status Visits::STATUS.find { |kind, _| e.is_a?(kind) }.last
            booking(e.visit || visit!, trouble: e)
          end
        end

        def self.registered(app)
          app.helpers(Helpers)
          record_of(app)
          booking_of(app)
        end

        class << self
          private

          def record_of(app)
            app.get("/:id/record") do
              clinical!
              record(visit!)
            end

            app.post("/:id/notes") { recorded(Store::Commands::AddNote) }
            app.post("/:id/parts") { recorded(Store::Commands::RenewPart) }
            app.post("/:id/end") { recorded(Store::Commands::EndFitting) }
            app.post("/:id/corrections") { recorded(found(CORRECTIONS[params["kind"]])) }

            app.get("/:id/trail") do
              senior!
              visit = visit!
              erb :"visits/trail", locals: { visit: visit, rows: Store::Trail.of_visit(visit) }
            end
          end

          # the front desk books too
          def booking_of(app)
            app.get("/:id/book") { booking(visit!) }
            app.get("/:id/next") { what_comes_next(visit!, text("back")).to_s }
            app.post("/:id/book") { booked(Store::Commands::BookVisit) }
            app.post("/:id/miss") { booked(Store::Commands::MissVisit) }
            app.post("/:id/arrival") { booked(Store::Commands::NoteArrival) }
          end
        end
      end
    end
  end
end
