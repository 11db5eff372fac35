# frozen_string_literal: true

module Handrail
  module Store
    module Entries
      # Steps, checks, changes and settings while the device is fitted.
      module Fit
        class << self
          # Ticks a step. The first strap is enforced; another order of the rest is noted.
          def step(ledger, key)
            ledger.write("step:#{key}") do |owner, record|
              Entries.pass(record, :fit) unless record.recheck?
              step = record.applying.steps.find { |s| s.key == key } or raise Unacceptable.new("step", "There is no such step here.")
              refusal = record.applying.refusal(step)
              raise Unacceptable.new("step", refusal) if refusal
              next if record.applying.done?(step)

              note = record.applying.swap_note(step)
              Store.db[:steps_done].insert(**owner, step: key, note: note)
              "#{record.fill(step.title)}#{" (#{note})" if note}"
            end
          end

          # Records what was seen. typed - a length for a measured check, else nil; outcome - "good" or "bad" for the others.
          def check(ledger, key, outcome: nil, typed: nil, note: nil, entry_key: nil, corrects: nil, why: nil)
            entry_key = Entries.uuid(entry_key)
            return if Store.db[:check_results].where(clinic_id: ledger.clinic_id, entry_key: entry_key).any?

            ledger.write("check:#{key}", watch: [/\Acheck:#{Regexp.escape(key.to_s)}\z/, /\Achange\z/], correction: !corrects.nil?) do |owner, record|
              Entries.pass(record, :fit) unless record.recheck? || corrects
              check = record.family.checks(record.config).find { |c| c.key == key } or raise Unacceptable.new("check", "There is no such check here.")
              seen = seen(check, outcome, typed)
              Store.db[:check_results].insert(**owner, **seen, **correction(record, corrects, why), check_key: key, note: Entries.optional(note),
                                                                                                    entry_key: entry_key)
              "#{record.fill(check.title)}: #{in_words(seen)}#{' (a correction)' if corrects}"
            end
          end

          # Changes one thing for a problem; the checks that the remedy names open again.
          def change(ledger, problem_key, remedy_key, note: nil)
            ledger.write("change") do |owner, record|
              problem = record.family.problem(problem_key) or raise Unacceptable.new("problem", "Name what is wrong first.")
              remedy = problem.remedies.find do |r|
                r.key == remedy_key && r.applies?(record.config)
              end or raise Unacceptable.new("remedy", "Choose what to change.")
              Store.db[:changes].insert(**owner, problem: problem.key, remedy: remedy.key, title: remedy.title, opens: Store.json(remedy.opens),
                                                 goes_to: remedy.goes_to, note: Entries.optional(note))
              "#{problem.title} → #{remedy.title}#{": #{note.strip}" unless note.to_s.strip.empty?}"
            end
          end

          # Writes a strap's mark or a setting.
          def setting(ledger, record, key, typed)
            field = record.family.settings.find do |f|
              f.key == key && f.applies?(record.config)
            end or raise Unacceptable.new(key, "There is no such setting.")
            text = Entries.said(typed, key, "#{field.label}: write the setting, or leave the field as it was.")
            fault = field.fault(text)
            raise Unacceptable.new(key, fault) if fault

            value = field.type == "length" ? Quantity::Length.parse(text, unit: field.unit).mm : nil
            ledger.write("setting:#{key}") do |owner|
              Store.db[:strap_settings].insert(**owner, setting: key, typed: text, value_mm: value && Store.numeric(value),
                                                        kind: record.family.marks["kind"])
              "#{field.label}: #{value ? Quantity::Length.mm(value).plain('mm') : field.print(text)}"
            end
          end

          private

          # what was seen as columns: a measured check is judged by its criterion
          def seen(check, outcome, typed)
            if check.measured?
              length = length(check, typed)
              return { outcome: check.good?(length) ? "good" : "bad", value_mm: Store.numeric(length.mm), typed: typed.to_s.strip }
            end

            raise Unacceptable.new("outcome", "Say whether it is good or not.") unless %w[good bad].include?(outcome)

            { outcome: outcome }
          end

          def in_words(seen)
            return { "good" => "yes", "bad" => "no" }[seen[:outcome]] unless seen[:value_mm]

            "#{Quantity::Length.mm(seen[:value_mm].to_r).plain('mm')}#{', failed' if seen[:outcome] == 'bad'}"
          end

          def length(check, typed)
            Quantity::Length.parse(typed, unit: "mm")
          rescue Quantity::Length::Unreadable => e
            raise Unacceptable.new("typed", "#{check.ask || check.title}: #{e.message}")
          end

          def correction(record, id, why)
            return {} unless id

            old = record.rows(:check_results).find { |row| row[:id] == id.to_i } or raise Unacceptable.new("check", "There is no such check.")
            { corrects_id: old[:id], correction_reason: Entries.said(why, "why", "Say why it is corrected.") }
          end
        end
      end
    end
  end
end
