# frozen_string_literal: true

module Handrail
  class Visit
    # Identity, cautions and stop signs of a fitting, as they stand at one visit.
    #
    # A stop is raised by a caution that was ticked, a pressure index, a recheck's answer, what is seen
    # on the skin, a wearer who is sent back to the prescriber, or a limit of the product that the
    # order passes. It stays open over all visits until an entry says what was done about it (a stop
    # action); raised again after that, it is open again. A passed limit stands until the order is
    # another one. A stop follows the wearer: what is open at another of their fittings holds here too,
    # where it is about the same part of the body or about the whole of them.
    class SafetyWork
      def initialize(visit)
        @visit = visit
      end

      # The newest answers to identity and cautions at this visit, or nil.
      def questions = @visit.rows(:safety_questions).last

      # The answers at the visit of this fitting before this one, or nil.
      def answered_before
        @visit.rows_so_far(:safety_questions).reverse.find { |row| row[:visit_id] != @visit.id }
      end

      # Pressures that were measured before and still hold, as they were typed and with the Date: [typed, Date]; nil
      # where there are none, or where the family's time has passed.
      def pressures_before
        typed = answered_before && answered_before[:pressures].to_h.except("agreed_by")
        return if typed.nil? || typed.except("measured_on").empty? || @visit.family.index_days.nil?

        on =
          (
            if typed["measured_on"]
              Date.iso8601(typed["measured_on"])
            else
              @visit.clinic.today(answered_before[:at])
            end
          )
        [typed.except("measured_on"), on] if on + @visit.family.index_days >= @visit.clinic.today
      end

      # Whether identity was confirmed, of the wearer as the record has them now.
      def identity? = questions ? questions[:identity] && !identity_gone? : false

      # Whether it was confirmed of a record that has since another name, day of birth or species.
      def identity_gone? = questions ? gone.include?(:wearer) : false

      # Whether the cautions were asked, those of the protocol that holds now, and none was added since that
      # stands whatever is ordered.
      def cautions_asked? = !questions.nil? && !gone.include?(:pin) && (standing - asked_of).empty?

      # What is to be taken care of of this wearer whatever is ordered, as texts; of a closed visit what stood when
      # its cautions were asked, whatever came or was joined since.
      def standing
        return asked_of if @visit.closed?

        @visit.source.standing.filter_map { |row| row["text"] if row["ended_at"].nil? }
      end

      # Where a pressure index asks for less than is usual: { "index" => "reduced" }, else {}. No strap is
      # pulled up to what is usual then, unless a pressure was ordered.
      def low_index
        found =
          @visit.rows_so_far(:safety_questions).reverse.find { |row| row[:findings].to_a.any? } or
          return {}
        low =
          found[:findings].any? do |one|
            one["index"] && one["index"].to_f < Compression::AnkleBrachial::LIMITS[:plain]
          end
        low ? { "index" => "reduced" } : {}
      end

      # What to take care of, as Families::Prompts.
      def care =
        if questions
          @visit.family.care_prompts.select { |prompt| questions[:care].include?(prompt.key) }
        else
          []
        end

      # Rows that say what was done about a stop, oldest first.
      def stop_actions = @visit.rows_so_far(:stop_actions)

      # Open stops, the most urgent first, as Fitting::Stops: those of this fitting, and those of the
      # wearer's others that hold it.
      def stops
        @stops ||=
          (own_stops + passed_limits + elsewhere).sort_by.with_index do |stop, i|
            [URGENCIES.index(stop.urgency), i]
          end
      end

      # Open stops that were raised at this fitting.
      def own_stops = @own_stops ||= raised.reject { |stop| settled?(stop) }

      # in the order of what comes first
      URGENCIES = %i[emergency today prescriber].freeze

      private

      # what stood when the cautions were asked; nothing where that was before cautions could stand
      def asked_of = questions ? questions[:rests_on].to_h.fetch("standing", []) : []

      def gone = @gone ||= @visit.gone(questions)

      # what is open at the wearer's other fittings, and holds this one
      def elsewhere
        return [] if @visit.closed?

        @visit
          .source
          .stops_elsewhere
          .select { |row| holds_here?(row) }
          .map do |row|
            Fitting::Stop[
              key: "elsewhere:#{row["fitting_id"]}:#{row["key"]}",
              text: row["text"],
              urgency: row["urgency"].to_sym,
              side: row["side"],
              figures: row["figures"].to_h.transform_keys(&:to_sym),
              seq: row["version"],
              from: {
                visit: row["visit_id"],
                title: row["title"]
              }
            ]
          end
      end

      def holds_here?(row)
        return true if row["holds"] == "wearer"
        return false unless row["body"] == @visit.sizing.figure.body

        row["side"].nil? || @visit.sides.include?(row["side"]) || @visit.sides == [nil]
      end

      # each sign once, as it was raised last
      def raised
        (asked + found + answered + seen_on_skin + sent_back + timed)
          .group_by(&:key)
          .values
          .map { |same| same.max_by(&:seq) }
      end

      def settled?(stop)
        # what was written before the sides of a pair were told apart is of both
        names = [stop.key, stop.key.delete_suffix(":#{stop.side}")]
        stop_actions.any? { |row| names.include?(row[:stop]) && row[:version] > stop.seq }
      end

      def asked
        @visit
          .rows_so_far(:safety_questions)
          .flat_map do |row|
            row[:stops].to_a.map do |key|
              prompt = @visit.family.stop_signs.find { |sign| sign.key == key }
              stop(
                key,
                row,
                text: prompt&.text || key,
                urgency: prompt&.urgency,
                holds: prompt&.holds
              )
            end
          end
      end

      # what the pressures say
      def found
        @visit
          .rows_so_far(:safety_questions)
          .flat_map do |row|
            row[:findings]
              .to_a
              .select { |finding| finding["state"] == "stop" }
              .map do |finding|
                stop(
                  "index:#{finding["side"]}",
                  row,
                  side: finding["side"],
                  urgency: "today",
                  figures: {
                    index: finding["index"]
                  }
                )
              end
          end
      end

      def answered
        @visit
          .rows_so_far(:recheck_answers)
          .select { |row| row[:stop] }
          .map do |row|
            ask = @visit.family.recheck_asks.find { |field| field.key == row[:field] }
            choice = ask&.choice(row[:answer])
            side = row[:side] if @visit.pair? && !ask&.once
            stop(
              ["ask", row[:field], side].compact.join(":"),
              row,
              side: side,
              text: choice&.says || "#{ask&.label}: #{choice&.label}",
              urgency: choice&.urgency
            )
          end
      end

      # skin that is open, blistered, or marked for longer than it should be
      def seen_on_skin
        @visit
          .body
          .skin
          .select(&:alarming?)
          .map do |place|
            stop(
              "skin:#{place.first[:version]}",
              place.last,
              side: place.last[:side],
              urgency: BodyWork::ALARMS.fetch(place.kind),
              figures: {
                skin: place.kind
              }
            )
          end
      end

      # who is sent back to the prescriber with it: until somebody writes what was arranged; and what
      # did not come back with the device off, which is a stop sign of its own
      def sent_back
        @visit
          .rows_so_far(:changes)
          .filter_map do |row|
            sign = sign_of(row)
            next distress(row, sign) if sign
            next unless row[:goes_to] == "prescriber"

            stop(
              sided("sent:#{row[:problem]}", row),
              row,
              side: row[:side],
              figures: {
                sent: row[:title]
              },
              holds: "order"
            )
          end
      end

      # the stop sign that a remedy raises, or nil
      def sign_of(row)
        key =
          @visit
            .family
            .problem(row[:problem])
            &.remedies
            .to_a
            .find { |one| one.key == row[:remedy] }
            &.stop
        key && @visit.family.sign(key)
      end

      def distress(row, sign)
        stop(
          sided("distress:#{row[:problem]}", row),
          row,
          side: row[:side],
          text: sign.text,
          urgency: sign.urgency,
          holds: sign.holds
        )
      end

      # of a pair each side is a stop of its own
      def sided(key, row) = [key, *(row[:side] if @visit.pair?)].join(":")

      # a timed look that was not well, told by the entry that answered it
      def timed
        @visit
          .rows_so_far(:visit_timers)
          .select { |row| row[:answer] == "bad" }
          .filter_map do |row|
            entry = @visit.fitting_events.find { |one| one[:topic] == "timer-row:#{row[:id]}" } or
              next
            stop(
              ["timer", row[:timer], *row[:side]].join(":"),
              entry,
              side: row[:side],
              urgency: "today",
              figures: {
                timer: row[:label]
              }
            )
          end
      end

      def stop(key, row, text: nil, urgency: nil, side: nil, figures: nil, holds: nil)
        Fitting::Stop[
          key: key,
          text: text,
          urgency: (urgency || "prescriber").to_sym,
          side: side,
          figures: figures,
          holds: holds || "part",
          seq: row[:version]
        ]
      end

      # the load limits of the product, and the sums of what was ordered and found on each side
      def passed_limits
        @visit.sides.flat_map { |side| passed_on(side) }.uniq(&:key)
      end

      def passed_on(side)
        found = @visit.fit.settings(side).to_h { |field, row| [field.key, row && row[:typed]] }
        @visit
          .family
          .passed_limits(@visit.config, found, side)
          .map do |limit, most|
            Fitting::Stop[
              key: ["limit:#{limit.key}", *(side if limit.settings)].join(":"),
              urgency: :prescriber,
              seq: 0,
              text: limit.says.gsub("{limit}", most),
              side: limit.settings && side,
              standing: true
            ]
          end
      end
    end
  end
end
