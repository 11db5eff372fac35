# frozen_string_literal: true

module Handrail
  module Followup
    # What a wearer is told about a visit, in their language, see Language::LETTERS. Nothing that was
    # found at a visit is ever in it.
    #
    #   Letters.say("booked", "de", clinic: "Heron Quay", phone: "", name: "R. Quill",
    #               day: Date.new(2026, 12, 3), time: "09:40")
    module Letters
      class << self
        # occasion - "booked", "moved", "cancelled" or "no_show"; with "_first" where there is no device yet that could
        # be brought or taken off; language - a key of Language::ALL, else English; day - a Date; time - "09:40";
        # phone - of the clinic, may be empty; animal - whether the wearer is one
        def say(occasion, language, clinic:, phone:, name:, day:, time:, animal: false)
          words = all.fetch(language) { all.fetch("en") }
          letters = words.fetch("letters")
          format(
            kinds(occasion, animal).filter_map { |kind| letters[kind] }.first,
            clinic: clinic,
            name: name,
            day: day_in(words, day),
            time: time,
            phone: phone.to_s.empty? ? "" : format(words.fetch("phone"), number: phone)
          )
        end

        private

        def all = Language::LETTERS

        # the keys that a letter may stand under, the one that fits best first
        def kinds(occasion, animal)
          [occasion, occasion.delete_suffix("_first")].flat_map do |kind|
            animal ? ["#{kind}_animal", kind] : [kind]
          end
        end

        def day_in(words, day)
          format(
            words.fetch("day"),
            weekday: words.fetch("weekdays")[day.wday],
            date: day.day,
            month: words.fetch("months")[day.month - 1],
            year: day.year
          )
        end
      end
    end
  end
end
