# frozen_string_literal: true

module Handrail
  module Store
    module Entries
      # Orders and the questions asked before anything is measured.
      module Orders
        class << self
          # Writes a prescription, opens a fitting for it and plans its first visit.
          # form - Hash: "side", "prescriber", "prescribed_on", "product_id", "fields" => { key => text }; planned_for - a Time or nil.
          # Returns the first Visit. Raises Faults with every field that can not be taken.
          def create(clinic, account, patient, form, planned_for: nil)
            family = Families::Shelf.fetch(form["family"])
            product = Product.where(clinic_id: clinic.id, id: form["product_id"].to_i, family: family.key, offered: true).first
            faults = faults(clinic, family, product, patient, form)
            raise Faults, faults if faults.any?

            Store.as(account.id) { write(clinic, account, patient, family, product, form, planned_for) }
          end

          # Identity and cautions, asked at the start of a visit. stops, care - keys ticked; pressures - the systolic pressures as typed,
          # where the family asks for the index; specialist - true when a specialist has agreed to compression below 0.8.
          def ask(ledger, record, identity:, stops: [], care: [], note: nil, pressures: {}, specialist: false)
            raise Unacceptable.new("identity", "Ask for name and date of birth, and compare them with this record.") unless identity

            found = record.family.index ? index(record, pressures, specialist) : {}

            stops &= record.family.stop_signs.map(&:key)
            care &= record.family.care_prompts.map(&:key)
            ledger.write("safety") do |owner|
              Store.db[:safety_questions].insert(**owner, identity: true, stops: Store.json(stops), care: Store.json(care),
                                                          note: Entries.optional(note), **found.transform_values { |value| Store.json(value) })
              stops.empty? ? "identity confirmed, cautions asked#{", #{care.size} to take care of" if care.any?}" : "stop sign: do not fit, refer"
            end
          end

          private

          # the index of each side, kept as typed and as found
          def index(record, pressures, specialist)
            typed = pressures.transform_values { |text| text.to_s.strip }.reject { |_, text| text.empty? }
            read, faults = Compression::AnkleBrachial.read(typed)
            raise(Faults, faults.transform_keys { |key| "pressures[#{key}]" }) if faults.any?

            findings = read.findings(record.sides.compact)
            low = findings.find { |f| f.index && f.state == :look_again && f.index < Compression::AnkleBrachial::LIMITS[:plain] }
            raise Unacceptable.new("specialist", "#{low.sentence} Ask the specialist, then tick that they agreed.") if low && !specialist

            { pressures: typed.merge("specialist" => specialist), findings: findings.map do |f|
              { "side" => f.side, "index" => f.index&.to_f, "state" => f.state, "sentence" => f.sentence }
            end }
          end

          def faults(clinic, family, product, patient, form)
            faults = {}
            faults["product_id"] = "Choose a product." unless product
            faults["side"] = "Choose a side." if family.sides.any? && !family.sides.include?(form["side"])
            faults["patient"] = "A #{family.name.downcase} is for #{family.species.join(' or ')}." unless family.species.include?(patient.species)
            faults["prescriber"] = "Write who prescribed it." if form["prescriber"].to_s.strip.empty?
            faults["prescribed_on"] = prescribed(form["prescribed_on"], clinic.today)
            family.fields.each do |field|
              fault = field.fault(form.dig("fields", field.key)) || (product && unlike(family, field, product, form))
              faults["fields[#{field.key}]"] = fault if fault
            end
            faults.compact
          end

          # the order and the product must say the same where a field asks for it
          def unlike(family, field, product, form)
            option = field.same_as && family.option(field.same_as) or return
            made = product.options[option.key] || option.default
            typed = form.dig("fields", field.key).to_s
            return if typed.empty? || typed == made

            "#{field.label}: #{product.full_name} is made for #{option.print(made).downcase}. Choose that, or another product."
          end

          def prescribed(text, today)
            "A prescription can not be dated after today." if Quantity::Day.read(text) > today
          rescue Quantity::Day::Unreadable => e
            e.message
          end

          def write(clinic, account, patient, family, product, form, planned_for)
            owner = { clinic_id: clinic.id, patient_id: patient.id, by: account.id, at: Store.now }
            fields = family.fields.to_h { |field| [field.key, form.dig("fields", field.key).to_s.strip] }.reject { |_, text| text.empty? }
            prescription = Prescription.create(**owner, family: family.key, side: form["side"], fields: Store.json(fields),
                                                        prescriber: form["prescriber"].strip, prescribed_on: Quantity::Day.read(form["prescribed_on"]))
            fitting = Fitting.create(**owner, prescription_id: prescription.id, product_id: product.id)
            Visit.create(clinic_id: clinic.id, fitting_id: fitting.id, purpose: "first", planned_for: planned_for)
          end
        end
      end
    end
  end
end
