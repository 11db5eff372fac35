# frozen_string_literal: true

module Handrail
  module Followup
    # What a wearer is told about a visit, in their language: knowledge/letters.yml. Nothing that was
    # found at a visit is ever in it.
    #
    #   Letters.say("booked", "de", clinic: "Heron Quay", phone: "", name: "R. Quill",
    #               day: Date.new(2026, 12, 3), time: "09:40")
    module Letters
      class << self
        # occasion - "booked", "moved", "cancelled" or "no_show"; language - a key of Language::ALL,
        # else English; day - a Date; time - "09:40"; phone - of the clinic, may be empty; animal - whether
        # the wearer is one
        def say(occasion, language, clinic:, phone:, name:, day:, time:, animal: false)
          letters = all.fetch("letters")
          texts = (letters["#{occasion}_animal"] if animal) || letters.fetch(occasion)
          key = texts.key?(language) ? language : "en"
          format(
            texts.fetch(key),
            clinic: clinic,
            name: name,
            day: day_in(key, day),
            time: time,
            phone: phone.to_s.empty? ? "" : format(all.fetch("phone").fetch(key), number: phone)
          )
        end

        private

        def all
          @all ||= Knowledge.read(File.join(ROOT, "knowledge", "letters.yml"), schema: "letters")
        end

        def day_in(key, day)
          format(
            all.fetch("day").fetch(key),
            weekday: all.fetch("weekdays").fetch(key)[day.wday],
            date: day.day,
            month: all.fetch("months").fetch(key)[day.month - 1],
            year: day.year
          )
        end
      end
    end
  end
end
