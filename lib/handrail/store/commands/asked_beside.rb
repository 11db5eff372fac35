# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Whether identity and cautions that were asked for another device of a wearer at one sitting may stand for this
      # one too, see Source#asked_beside.
      module AskedBeside
        class << self
          # Not where a stop sign was seen, nor where the wearer has another name, or another caution stands, since.
          def stands?(row, visit)
            row[:identity] && row[:stops].to_a.empty? &&
              Handrail::Fitting::Basis.gone(
                row[:rests_on].to_h.slice("wearer", "standing"),
                visit
              ).empty?
          end

          # Keys of what that device's family asks.
          def prompts(row, visit)
            family = visit.clinic.device_families.fetch(row[:family])
            (family.stop_signs + family.care_prompts).map(&:key)
          end
        end
      end
    end
  end
end
