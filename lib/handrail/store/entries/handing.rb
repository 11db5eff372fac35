# frozen_string_literal: true

module Handrail
  module Store
    module Entries
      # Handing over, and what follows it.
      module Handing
        class << self
          # Hands the device over, closes the visit and plans the first recheck.
          # signature - the drawn strokes as an SVG path ("M 1 2 L 3 4"), or nil when a name stands for it.
          # Raises Refused with every reason while something stands in the way.
          def hand_over(ledger, start_hours:, signed_name:, signature: nil)
            name = Entries.said(signed_name, "signed_name", "Write the name of the person who signs.")
            hours = Entries.said(start_hours, "start_hours", "Write how long it is worn at first, for example 2 to 3 hours.")
            path = signature_path(signature)
            ledger.write("hand_over", watch: [//]) do |owner, record|
              raise Refused, blocks(record) if blocks(record).any?

              Store.db[:hand_overs].insert(**owner, fitting_id: record.fitting.id, issued_device_id: record.device[:id], start_hours: hours,
                                                    signed_name: name, signature: path)
              Stock.take(record)
              plan(record, Followup::Plan.next(record.family.recheck_plan, handed_over: record.clinic.today))
              close(owner)
              "handed over, signed by #{name}"
            end
          end

          # Everything that holds a hand-over back. The device must be named even where a senior lets the rest go on.
          def blocks(record)
            return [block("done", "It was handed over already.")] if record.hand_over

            blocks = record.progress.blocks(:hand_over)
            record.progress.issued ? blocks : blocks + [block("no_device", "The serial number or lot of the device is not written down.", :fit)]
          end

          # A senior lets a hand-over go on. The reason is shown for ever.
          def override(ledger, reason:)
            raise Refused, block("role", "Only a senior can let this go on.") unless ledger.account.senior?

            reason = Entries.said(reason, "reason", "Write the reason; it is shown for ever.")
            raise Unacceptable.new("reason", "Write the reason in a few words; it is shown for ever.") if reason.length < 5

            ledger.write("override", watch: [//]) do |owner, record|
              Store.db[:overrides].insert(**owner, gate: "hand_over", blocks: Store.json(passable(record).map(&:sentence)), reason: reason)
              "senior's word: #{reason}"
            end
          end

          # An answer to one of the recheck's questions.
          def answer(ledger, record, key, text)
            ask = record.family.recheck_asks.find { |field| field.key == key } or raise Unacceptable.new(key, "There is no such question.")
            text = Entries.said(text, key, "#{ask.label}: write or choose an answer.")
            fault = ask.fault(text)
            raise Unacceptable.new(key, fault) if fault

            ledger.write("ask:#{key}") do |owner|
              Store.db[:recheck_answers].insert(**owner, field: key, answer: text, stop: ask.choices ? ask.choice(text).stop || false : false)
              "#{ask.label}: #{ask.print(text)}"
            end
          end

          # Closes a recheck and plans the next. Raises Refused.
          def close_recheck(ledger)
            ledger.write("close", watch: [//]) do |owner, record|
              blocks = record.closing_blocks
              raise Refused, blocks if blocks.any?

              close(owner)
              plan(record, next_after(record))
              "recheck closed"
            end
          end

          # Books a planned visit, or moves it. day, time - as typed, where the clinic is.
          def book(ledger, record, day:, time:)
            raise Closed if record.visit.closed?

            on = moment(record.clinic, day, time)
            ledger.write("booking", opens: false) do |owner|
              Visit.where(id: owner[:visit_id]).update(planned_for: on)
              "booked for #{record.clinic.zone.to_local(on.getutc).strftime('%-d %b %Y, %H:%M')}"
            end
          end

          # Adds a note, also after the visit was closed.
          def note(ledger, text)
            text = Entries.said(text, "text", "Write the note first.")
            ledger.write("note", correction: true, opens: false) do |owner|
              Store.db[:visit_notes].insert(**owner, text: text)
              "note: #{text[0, 80]}"
            end
          end

          private

          # what a senior's word would let pass; a stop sign never passes
          def passable(record)
            standing = record.progress.blocks(:hand_over)
            raise Unacceptable.new("reason", "Nothing stands in the way; there is nothing to let pass.") if standing.empty?
            return standing if standing.none? { |b| b.key == "stop" }

            raise Refused, block("stop", "A stop sign can not be overridden: do not fit, refer to the prescriber.", :order)
          end

          def moment(clinic, day, time)
            date = Quantity::Day.read(day)
            hour, minute = time.to_s.strip.match(/\A([01]?\d|2[0-3])[:.]([0-5]\d)\z/)&.captures&.map(&:to_i)
            raise Unacceptable.new("time", "“#{time}” is no time of day. Write it like 09:40.") unless hour

            clinic.zone.local_to_utc(Time.utc(date.year, date.month, date.day, hour, minute))
          rescue Quantity::Day::Unreadable => e
            raise Unacceptable.new("day", e.message)
          rescue TZInfo::PeriodNotFound
            raise Unacceptable.new("time", "The clocks go forward over that hour: choose another time.")
          end

          def signature_path(path)
            path = path.to_s.strip
            return if path.empty?
            unless path.match?(/\A[ML0-9. ]{1,20000}\z/)
              raise Unacceptable.new("signature",
                                     "The signature could not be read. Clear it and sign again.")
            end

            path
          end

          def close(owner) = Visit.where(id: owner[:visit_id]).update(closed_at: owner[:at], closed_by: owner[:by])

          def plan(record, window)
            return unless window

            Visit.create(clinic_id: record.clinic.id, fitting_id: record.fitting.id, purpose: "recheck", plan_key: window.key, due_from: window.from,
                         due_to: window.to)
          end

          def next_after(record)
            held = record.visits.select { |v| !v.first? && v.closed? }.map { |v| record.clinic.today(v.closed_at) } + [record.clinic.today]
            Followup::Plan.next(record.family.recheck_plan, handed_over: record.clinic.today(record.hand_over[:at]), done: held)
          end

          def block(key, sentence, stage = :hand_over) = Handrail::Fitting::Block[key: key, stage: stage, sentence: sentence]
        end
      end
    end
  end
end
