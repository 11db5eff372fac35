# frozen_string_literal: true

module Handrail
  module Store
    module Entries
      # Readings of the tape. Every one is kept; a wrong one is struck out with a reason.
      module Readings
        TAPES = { "in" => "in 1/8", "ft" => "in 1/8" }.freeze

        class << self
          # Takes one reading. typed - as the fitter wrote it; unit - the unit meant when none is typed; how - posture: and tension: as
          # taken (default the site's own); entry_key - the page's key for this entry, so that one sent twice is kept once; corrects,
          # why - the row that it corrects, and the reason.
          # Returns the row (a Hash). Raises Unacceptable.
          def take(ledger, record, site:, side:, typed:, unit:, entry_key: nil, corrects: nil, why: nil, **how)
            values = values(record, site, side, typed, unit, how)
            key = Entries.uuid(entry_key)
            sent_before(ledger, key) || write(ledger, values.merge(entry_key: key), corrects, why)
          end

          # Answers the question that an unlikely reading raised. answer - "right" (it is as typed), or "other" (the other unit was
          # meant: the row is struck out and the reading kept in that unit).
          def answer(ledger, record, row_id, answer)
            row = live(record, row_id)
            return meant(ledger, record, row) if answer == "other"

            ledger.write(topic(row)) do |owner|
              Store.db[:readings].where(id: row[:id]).update(answered_at: owner[:at], answered_by: owner[:by])
              "#{name(row)}: #{row[:typed]} #{row[:unit]} looked at again and kept"
            end
          end

          # Strikes a reading out. It stays in the record, with the reason.
          def strike(ledger, record, row_id, reason)
            row = live(record, row_id)
            reason = Entries.said(reason, "reason", "Say why it is struck out, for example: tape slipped.")
            ledger.write(topic(row)) do |owner|
              strike_out(row, owner, reason)
              "#{name(row)}: #{row[:typed]} #{row[:unit]} struck out, #{reason}"
            end
          end

          private

          def values(record, site_key, side, typed, unit, how)
            site = Anatomy::Vocabulary.default[site_key] or raise Unacceptable.new("site", "There is no such site.")
            raise Unacceptable.new("side", "Choose left or right.") if site.paired && !%w[left right].include?(side)

            length = parse(typed, unit)
            said = typed_unit(typed) || unit
            { site: site.key, side: site.paired ? side : nil, posture: one_of(how[:posture], site.postures, "posture"),
              tension: one_of(how[:tension], %w[resting snug firm hard], "tension", site.tension), typed: typed.to_s.strip, unit: said,
              value_mm: Store.numeric(length.mm), tape: TAPES[said] || metric_tape(record),
              question: Measuring::Plausibility.judge(site, length, typed_unit: said, species: record.patient.species).question }
          end

          def parse(typed, unit)
            Quantity::Length.parse(typed, unit: unit).tap do |length|
              raise Unacceptable.new("value", "A reading is more than nothing.") unless length.mm.positive?
            end
          rescue Quantity::Length::Unreadable => e
            raise Unacceptable.new("value", e.message)
          end

          def one_of(value, allowed, field, default = allowed.first)
            return default if value.to_s.empty?

            allowed.include?(value) ? value : raise(Unacceptable.new(field, "Choose one of #{allowed.join(', ')}."))
          end

          def typed_unit(typed) = Quantity::Length.unit(typed.to_s[/[[:alpha:]"'″”]+\.?\z/].to_s.tr("″”", '""'))

          def metric_tape(record) = record.clinic.tape_kind.unit == "cm" ? record.clinic.tape : "cm 1 mm"

          def sent_before(ledger, key) = Store.db[:readings].where(clinic_id: ledger.clinic_id, entry_key: key).first

          def write(ledger, values, corrects, why)
            id = nil
            ledger.write(topic(values), correction: !corrects.nil?) do |owner, record|
              old = correction(record, corrects, why)
              id = Store.db[:readings].insert(**owner, **values, **old.slice(:corrects_id, :correction_reason))
              "#{name(values)}: #{values[:typed]}#{" #{values[:unit]}" unless typed_unit(values[:typed])}#{" (corrects #{old[:was]})" if corrects}"
            end
            Store.db[:readings][id: id]
          rescue Sequel::UniqueConstraintViolation
            sent_before(ledger, values[:entry_key]) # the same entry came twice at once
          end

          def correction(record, id, why)
            return {} unless id

            old = record.rows(:readings).find { |row| row[:id] == id.to_i } or raise Unacceptable.new("reading", "There is no such reading.")
            { corrects_id: old[:id], correction_reason: Entries.said(why, "why", "Say why it is corrected."), was: old[:typed] }
          end

          # the same figure in the unit in which it is likely, the first row struck out
          def meant(ledger, record, row)
            judged = Measuring::Plausibility.judge(Anatomy::Vocabulary.default.fetch(row[:site]), Quantity::Length.mm(row[:value_mm].to_r),
                                                   typed_unit: row[:unit], species: record.patient.species)
            raise Unacceptable.new("answer", "No other unit makes this reading likely. Strike it out and read again.") unless judged.meant

            figure = judged.meant.plain(judged.unit).delete_suffix(" #{judged.unit}")
            again = { **row.slice(:site, :side, :posture, :tension), typed: figure, unit: judged.unit, value_mm: Store.numeric(judged.meant.mm),
                                                                     tape: TAPES[judged.unit] || metric_tape(record), entry_key: SecureRandom.uuid }
            ledger.write(topic(row)) do |owner|
              strike_out(row, owner, "typed in #{row[:unit]}, meant #{judged.unit}")
              Store.db[:readings].insert(**owner, **again)
              "#{name(row)}: #{row[:typed]} #{row[:unit]} was #{figure} #{judged.unit}"
            end
          end

          def strike_out(row, owner, reason)
            Store.db[:readings].where(id: row[:id]).update(struck_at: owner[:at], struck_by: owner[:by], strike_reason: reason)
          end

          def live(record, row_id)
            record.live_readings.find { |row| row[:id] == row_id.to_i } or raise Unacceptable.new("reading", "That reading is struck out already.")
          end

          def topic(row) = "reading:#{row[:site]}:#{row[:side]}"
          def name(row) = [row[:side], Anatomy::Vocabulary.default.fetch(row[:site]).short].compact.join(" ")
        end
      end
    end
  end
end
