# frozen_string_literal: true

module Handrail
  module Web
    module Helpers
      # How things are written: dates, times, lengths, counts.
      module Format
        NUMBERS = %w[no one two three four five six seven eight nine ten eleven twelve].freeze

        # 24 Nov 2026
        def date(value) = local(value).strftime("%-d %b %Y")

        # Tuesday 24 Nov 2026
        def long_date(value) = local(value).strftime("%A %-d %b %Y")

        # 09:05, where the clinic is
        def clock(time) = local(time).strftime("%H:%M")
        def date_and_time(time) = "#{date(time)}, #{clock(time)}"

        def local(value) = value.is_a?(Time) ? told_by.local(value) : value

        def mm(number) = Quantity::Length.mm(number.to_r)

        # The clinic whose clocks and words a page tells: a closed visit's is as it was.
        def told_by = @told_by || clinic

        # A stored row's length on the tape it was read from.
        def reading(row) = mm(row[:value_mm]).to_s(Quantity::Tape[row[:tape]])

        # A reading from before, as it was typed: "36.5 cm on 14 Mar 2025".
        def earlier_words(row) = "#{row[:typed]} #{row[:unit]} on #{date(row[:read_on])}"

        # Small distances in mm.
        def small(number) = "#{format("%g", number.to_f.round(1))} mm"

        # The clinic as it stands on papers: name, address, telephone.
        def letterhead
          [
            told_by.name,
            told_by.choices_made.letterhead,
            told_by.address,
            told_by.phone
          ].reject { |text| text.to_s.empty? }.join(", ")
        end

        # The way to the rest of a list that is cut: "All 23, 7 more".
        def rest_of(cut)
          if cut.count.nil?
            Wording.t("web.all_them")
          elsif cut.uncounted?
            Wording.t("web.all_them_more_than", counted: Store::Day::COUNTED)
          else
            Wording.t("web.all_more", count: cut.count, more: cut.more)
          end
        end

        def count(number, one, many = "#{one}s") =
          "#{NUMBERS[number] || number} #{number == 1 ? one : many}"

        # 1st, 2nd, 3rd, 4th
        def ordinal(number)
          "#{number}#{{ 1 => "st", 2 => "nd", 3 => "rd" }.fetch(number % 100 / 10 == 1 ? 0 : number % 10, "th")}"
        end

        def capital(text) = text.empty? ? text : "#{text[0].upcase}#{text[1..]}"

        def percent(probability)
          return Wording.t("web.over_99") if probability > 0.995

          hundredths = (probability * 100).round
          hundredths < 1 ? Wording.t("web.under_1") : hundredths.to_s
        end
      end
    end
  end
end
