# frozen_string_literal: true

module Handrail
  module Families
    module Laws
      # Where the trade gives a number, the check asks for one; what the readings already answer is not asked.
      class Quantities < Law
        law "quantities", "A yes to “5 cm below the armpit” says nothing of where it was."

        NUMBER = /\d+(?:[.,]\d+)? ?(mm|cm|kg|mmHg)\b/
        LIMITS = Fitting::Criterion::LIMITS

        def look
          family.all_checks.each do |check|
            path = "checks.#{check.key}"
            check.criterion.measured? ? limited(path, check) : asked(path, check)
            next unless check.each_strap

            falls(check)
          end
        end

        private

        def limited(path, check)
          if check.criterion.limits.empty? && !check.within
            breach(path, "it is measured, and nothing says what is good")
          end
          breach(path, "it does not say what is measured") unless check.ask
        end

        def asked(path, check)
          number = check.title[NUMBER] or return
          breach(path, "“#{number}” is asked with yes or no")
        end

        # read at every strap: whether it falls from one to the next is answered by that
        def falls(check)
          family.all_checks.each do |other|
            next if other == check || other.answered_by == check.key
            next unless other.title.match?(/\b(above the one below|falls from)\b/i)

            breach("checks.#{other.key}", "every strap was read: it follows from that")
          end
        end
      end
    end
  end
end
