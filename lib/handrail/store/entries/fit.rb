# frozen_string_literal: true

module Handrail
  module Store
    module Entries
      # Steps, checks, changes and settings while the device is fitted.
      module Fit
        class << self
          # Ticks a step. The first strap is enforced; another order of the rest is noted.
          def step(ledger, record, key)
            Entries.pass(record, :fit) unless record.recheck?
            step = record.applying.steps.find { |s| s.key == key } or raise Unacceptable.new("step", "There is no such step here.")
            refusal = record.applying.refusal(step)
            raise Unacceptable.new("step", refusal) if refusal

            ledger.write("step:#{key}") do |owner|
              next if record.applying.done?(step)

              note = record.applying.swap_note(step)
              Store.db[:steps_done].insert(**owner, step: key, note: note)
              "#{record.fill(step.title)}#{" (#{note})" if note}"
            end
          rescue Sequel::UniqueConstraintViolation
            nil # ticked by someone else in the same moment: it is done
          end

          # Records what was seen. typed - a length for a measured check, else nil; outcome - "good" or "bad" for the others.
          def check(ledger, record, key, outcome: nil, typed: nil, note: nil, entry_key: nil, corrects: nil, why: nil)
            Entries.pass(record, :fit) unless record.recheck?
            check = record.family.checks(record.config).find { |c| c.key == key } or raise Unacceptable.new("check", "There is no such check here.")
            length = check.measured? ? length(check, typed) : nil
            outcome = check.good?(length) ? "good" : "bad" if length
            raise Unacceptable.new("outcome", "Say whether it is good or not.") unless %w[good bad].include?(outcome)

            write_check(ledger, record, check, corrects, why, outcome: outcome, value_mm: length && Store.numeric(length.mm),
                                                              typed: length && typed.to_s.strip, note: Entries.optional(note), entry_key: Entries.uuid(entry_key))
          end

          # Changes one thing for a problem; the checks that the remedy names open again.
          def change(ledger, record, problem_key, remedy_key, note: nil)
            problem = record.family.problem(problem_key) or raise Unacceptable.new("problem", "Name what is wrong first.")
            remedy = problem.remedies.find do |r|
              r.key == remedy_key && r.applies?(record.config)
            end or raise Unacceptable.new("remedy", "Choose what to change.")
            ledger.write("change") do |owner|
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

          def length(check, typed)
            Quantity::Length.parse(typed, unit: "mm")
          rescue Quantity::Length::Unreadable => e
            raise Unacceptable.new("typed", "#{check.ask || check.title}: #{e.message}")
          end

          def write_check(ledger, record, check, corrects, why, **values)
            return if Store.db[:check_results].where(clinic_id: record.clinic.id, entry_key: values[:entry_key]).any?

            old = corrects && (record.rows(:check_results).find do |row|
              row[:id] == corrects.to_i
            end or raise Unacceptable.new("check", "There is no such check."))
            extra = old ? { corrects_id: old[:id], correction_reason: Entries.said(why, "why", "Say why it is corrected.") } : {}
            ledger.write("check:#{check.key}", watch: [/\Acheck:#{check.key}\z/, /\Achange\z/], correction: !old.nil?) do |owner|
              Store.db[:check_results].insert(**owner, check_key: check.key, **values, **extra)
              said = if values[:value_mm]
                       Quantity::Length.mm(values[:value_mm].to_r).plain("mm")
                     else
                       { "good" => "yes",
                         "bad" => "no" }[values[:outcome]]
                     end
              "#{record.fill(check.title)}: #{said}#{', failed' if values[:outcome] == 'bad' && values[:value_mm]}#{' (a correction)' if old}"
            end
          end
        end
      end
    end
  end
end
