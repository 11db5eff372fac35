# frozen_string_literal: true

module Handrail
  module Store
    # What a clinic has settled for itself, beside its name and address: texts on papers, how often
    # a site is read, what no senior's word lets pass, the windows of rechecks, hours and closed
    # days, its own notes to a family.
    #
    # Kept as texts by field, as typed. What a fitting needs of it is pinned with the fitting
    # (`pinned`), so that a change reaches no fitting that runs.
    class Choices
      # whose word counts for a stage: e-mails, one a line; every senior's where it is empty
      WORDS = %w[word_fit word_teach word_recheck].freeze
      # field => the most characters, or what may be chosen
      TEXTS = {
        "letterhead" => 200,
        "statements" => 2000,
        "warranty" => 1000,
        "closed_days" => 2000,
        "rooms" => 400,
        "referrers" => 4000,
        "identifier_system" => 300,
        **WORDS.to_h { |name| [name, 1000] }
      }.freeze
      DAYS = %w[mon tue wed thu fri sat sun].freeze
      # stages whose blocks a clinic may hold against a senior's word
      FIRM = %w[fit teach recheck].freeze
      REPEATS = (1..3)
      LIKE_YEARS = (0..10)
      # how long a visit may be booked for, in minutes
      MINUTES = (5..240)
      NOTE = 600
      HOURS = /\A([01]?\d|2[0-3]):([0-5]\d)\s*(?:-|–|to)\s*([01]?\d|2[0-3]):([0-5]\d)\z/
      WINDOW = /\A(\d{1,3})\s*(?:-|–|to)\s*(\d{1,3})\z/
      # what stands in a form before anybody has chosen
      DEFAULTS = {
        "sheet_language" => "en",
        "repeats" => "1",
        "like_years" => "0",
        "minutes_first" => "60",
        "minutes_recheck" => "30",
        **DAYS.first(5).to_h { |day| ["hours_#{day}", "09:00-17:00"] }
      }.freeze

      class << self
        # The fields that are known, as texts, from a form or from what is kept.
        def read(form)
          fields
            .to_h { |name, _| [name, form[name].to_s.gsub("\r\n", "\n").strip] }
            .merge("firm" => Array(form["firm"]).grep(String) & FIRM)
            .reject { |_, value| value.empty? }
        end

        # field => words
        def faults(values)
          {
            "repeats" => number_fault(values["repeats"], REPEATS),
            "like_years" => number_fault(values["like_years"], LIKE_YEARS),
            "minutes_first" => number_fault(values["minutes_first"], MINUTES),
            "minutes_recheck" => number_fault(values["minutes_recheck"], MINUTES),
            "sheet_language" => language_fault(values["sheet_language"]),
            "closed_days" => closed_fault(values["closed_days"]),
            **DAYS.to_h { |day| ["hours_#{day}", hours_fault(values["hours_#{day}"])] },
            **windows.to_h { |name, planned| [name, window_fault(values[name], planned)] }
          }.compact.merge(too_long(values))
        end

        def language_fault(key)
          return if key.nil? || Language::ALL.key?(key)

          "Choose one of #{Language::ALL.values.join(", ")}."
        end

        # Why a day's hours can not be taken, or nil
        def hours_fault(text)
          return if text.nil? || minutes_of(text)

          if text.match?(HOURS)
            "It closes before it opens."
          else
            "Write them like 09:00-17:00, or leave it empty for closed."
          end
        end

        # name of the field => Families::PlannedRecheck, of every fixed recheck that a family plans
        def windows
          @windows ||=
            Memory.freeze(
              Families::Registry
                .all
                .each_value
                .flat_map do |family|
                  family.recheck_plan.reject(&:every_days).map { |one| [family, one] }
                end
                .to_h { |family, planned| ["window.#{family.key}.#{planned.key}", planned] }
            )
        end

        # name => the most characters, of every field that is a text
        def fields
          @fields ||= {
            **TEXTS,
            "repeats" => 1,
            "like_years" => 2,
            "minutes_first" => 3,
            "minutes_recheck" => 3,
            "sheet_language" => 2,
            **DAYS.to_h { |day| ["hours_#{day}", 20] },
            **windows.transform_values { 12 },
            **Families::Registry.all.keys.to_h { |key| ["note.#{key}", NOTE] }
          }.freeze
        end

        # E-mails of a text, as they are compared.
        def names(text) = text.to_s.downcase.split(/[\s,;]+/).reject(&:empty?)

        # "09:00-17:00" as [from, to] in minutes of the day; nil where it is neither hours nor in order.
        def minutes_of(text)
          found = text.match(HOURS)&.captures&.map(&:to_i) or return
          from = (found[0] * 60) + found[1]
          to = (found[2] * 60) + found[3]
          [from, to] if from < to
        end

        # Days of a text, one a line: "25 Dec 2026" or "25 Dec 2026 to 1 Jan 2027".
        def days(text)
          text
            .to_s
            .lines
            .map(&:strip)
            .reject(&:empty?)
            .flat_map do |line|
              first, last = line.split(/\s+(?:to|-|–)\s+/, 2).map { |one| Quantity::Day.read(one) }
              last && last < first ? [] : (first..(last || first)).first(400)
            end
            .uniq
            .sort
        end

        private

        # nothing is cut off behind somebody's back
        def too_long(values)
          fields
            .select { |name, most| values[name].to_s.size > most }
            .transform_values { |most| "Shorten it to at most #{most} characters." }
        end

        def number_fault(text, range)
          return if text.nil? || (text.match?(/\A\d+\z/) && range.cover?(text.to_i))

          "Write a number from #{range.first} to #{range.last}."
        end

        def closed_fault(text)
          days(text) && nil
        rescue Quantity::Day::Unreadable => e
          e.message
        end

        # earlier than the trade asks for is the clinic's own matter, later is not
        def window_fault(text, planned)
          return if text.nil?

          from, to = text.match(WINDOW)&.captures&.map(&:to_i)
          unless from && from <= to
            return "Write it in days, like #{planned.from_days}-#{planned.to_days}."
          end

          if to > planned.to_days
            "Not later than day #{planned.to_days}: the trade looks again by then."
          end
        end
      end

      attr_reader :values

      # values - what is kept: field => text
      def initialize(values) = @values = values

      # A field as it stands in the form.
      def [](name) = values[name] || DEFAULTS[name].to_s
      def text(name) = values[name].to_s
      def letterhead = text("letterhead")
      def warranty = text("warranty")
      def statements = text("statements").lines.map(&:strip).reject(&:empty?)
      def sheet_language =
        Language::ALL.key?(values["sheet_language"]) ? values["sheet_language"] : "en"
      def like_years = text("like_years").to_i
      def firm = Array(values["firm"])

      # Whether a senior's word counts for a stage: for every one where nobody was named.
      def word_of?(account, stage)
        named = Choices.names(values["word_#{stage}"])
        named.empty? || named.include?(account.email.downcase)
      end

      def repeats = values["repeats"] ? values["repeats"].to_i : 1
      def note(family) = values["note.#{family}"]
      def closed_days = @closed_days ||= Choices.days(values["closed_days"]).freeze

      # Opening hours of a weekday as [from, to] in minutes of the day, or nil where it is closed.
      # day - "mon" ... "sun"
      def hours(day) = Choices.minutes_of(text("hours_#{day}"))
      def any_hours? = values.keys.any? { |name| name.start_with?("hours_") }

      # Who sends wearers here, as they are listed: name, and what else stands in the line.
      def referrers = text("referrers").lines.map(&:strip).reject(&:empty?).uniq

      # Names of the rooms that visits are booked into, as they are listed.
      def rooms = text("rooms").lines.map(&:strip).reject(&:empty?).uniq

      # How long a visit is booked for. purpose - "first" or "recheck"
      def minutes(purpose) = values["minutes_#{purpose}"]&.to_i

      # Why the clinic is shut at a time of a day, in words, or nil. Where no hours were ever
      # settled it is open. lasting - minutes; the clinic is open until they are over
      def shut(day, hour, minute, lasting: 1)
        return "The clinic is closed on that day." if closed_days.include?(day)
        return unless any_hours?

        from, to = hours(DAYS[(day.wday - 1) % 7])
        return "The clinic is closed on that day of the week." unless from

        at = (hour * 60) + minute
        unless at >= from && at + lasting <= to
          "The clinic is open from #{said(from)} to #{said(to)} on that day."
        end
      end

      # What is pinned with a fitting of a family.
      def pinned(family)
        {
          "repeats" => (repeats if repeats > 1),
          "firm" => (firm if firm.any?),
          "windows" => own_windows(family)
        }.compact
      end

      private

      def said(minutes) = format("%02d:%02d", *minutes.divmod(60))

      def own_windows(family)
        own =
          Choices.windows.filter_map do |name, planned|
            next unless name.start_with?("window.#{family}.") && values[name]

            [planned.key, values[name].match(WINDOW).captures.map(&:to_i)]
          end
        own.to_h if own.any?
      end
    end
  end
end
