# frozen_string_literal: true

require "i18n"

module Handrail
  # What was found, in words: blocks, next steps, questions and stop signs come from core and
  # store as codes with figures, and are said here in the reader's language. A code without words
  # is an error, never a key on the screen.
  #
  #   Wording.block(block, visit) # => "Left: “Slipped after 10 m walk” has failed. Change one thing, then look
  #   again."
  module Wording
    # the program's own words, and those of the wearer's sheet in every language
    WORDS = [
      *Dir[File.join(__dir__, "wording", "*.yml")],
      *Dir[File.join(Language::FOLDER, "*", "sheet.yml")]
    ].freeze
    I18n.load_path.concat(WORDS)
    # a text is looked up once, and then filled
    I18n::Backend::Simple.include(I18n::Backend::Memoize)
    # somebody else may have had the words loaded before ours were on the path
    I18n.backend.load_translations(*WORDS)
    I18n.available_locales = Language::ALL.keys.map(&:to_sym)
    I18n.default_locale = :en

    class << self
      include OfBody
      include OfDues
      include OfReadings
      include OfSteps
      include OfSizes
      include OfTables
      include Texts

      # Why something may not go on. block - a Fitting::Block; visit - the Handrail::Visit it was
      # found at.
      def block(block, visit)
        own = "blocks.#{block.code}_animal"
        key = visit.patient.animal? && I18n.exists?(own) ? own : "blocks.#{block.code}"
        said = t(key, **block_figures(block, visit))
        return said unless block.side && visit.sides.size > 1 && !SIGNS.include?(block.code)

        "#{block.side.capitalize}: #{said}"
      end

      # Who is called, and how soon. urgency - of a stop; animal - whether the wearer is one
      def urgent(urgency, animal: false) = t("#{animal ? "urgency_animal" : "urgency"}.#{urgency}")

      # What a visit needs next. finding, figures - of a Fitting::NextStep, or as a summary keeps
      # them.
      def next_step(finding, figures)
        figures = figures.to_h.transform_keys(&:to_sym)
        case finding.to_sym
        when :stop, :limit_passed
          t("next.#{finding}", sign: sign(figures))
        when :doubt
          t("next.doubt", question: question(figures))
        when :check_failed
          t(figures[:value] ? "next.check_failed_value" : "next.check_failed", **figures)
        when :unread
          t("next.unread", sites: figures.fetch(:sites).join("; "))
        when :size_doubt
          # a summary that was kept by an earlier version holds the text itself
          t("next.size_doubt", text: figures[:text] || remark(figures.fetch(:about)))
        when :size_clear
          t("next.size_clear", sizes: figures.fetch(:sizes).join(", "))
        when :piece_awaited
          t("next.piece_awaited", doer: figures[:doer], due: day(Date.iso8601(figures[:due])))
        when :recheck
          t("next.recheck", label: figures[:label] || t("stages.recheck"))
        else
          t("next.#{finding}", **figures)
        end
      end

      # The question that a reading raised. finding - see Measuring::Plausibility.
      def question(finding)
        figures = finding.to_h.transform_keys(&:to_sym)
        site = Anatomy::Vocabulary.default[figures[:site]]
        return together(site, figures) unless figures[:code].nil? || figures[:code] == "unlikely"

        key = figures[:meant] ? "questions.unlikely" : "questions.unlikely_plain"
        t(key, **figures.except(:code, :site), where: site ? site.where : "there")
      end

      # A reading that does not go together with others, with what it may have been.
      def together(site, figures)
        said =
          t(
            "questions.#{figures[:code]}",
            what: site.short.then { |text| "#{text[0].upcase}#{text[1..]}" },
            than: t("questions.#{figures[:high] ? "larger" : "smaller"}"),
            **figures.slice(:read, :expected, :unit, :days, :from, :to),
            beside: beside(figures[:beside]),
            one_in: grouped(figures[:one_in])
          )
        meant = figures[:meant] && t("questions.was_meant", meant: figures[:meant])
        other =
          figures[:other] &&
            t("questions.was_site", other: Anatomy::Vocabulary.default[figures[:other]].short)
        side = figures[:side] && t("questions.was_side", side: figures[:side])
        [said, meant || other || side].compact.join(" ")
      end

      # "knee 36 cm and ankle, narrowest 22 cm"
      def beside(pairs)
        said =
          pairs
            .to_a
            .first(4)
            .map { |site, text| "#{Anatomy::Vocabulary.default[site].short} #{text}" }
        said.size < 2 ? said.join : "#{said[0..-2].join(", ")} #{t("questions.and")} #{said.last}"
      end

      # 10,000
      def grouped(number) = number.to_s.gsub(/(\d)(?=(\d{3})+\z)/, '\1,')

      # how far up is said: beyond it other parts of the device decide
      UP = 60

      # Whether the limb holds a strap. seat - a Fitting::StrapSeat
      def seat(strap, seat)
        figures = { strap: strap.label, friction: Kernel.format("%.2f", seat.friction) }
        return t("seats.held", **figures, highest: [seat.highest, UP].min) if seat.held?
        return t("seats.grip", **figures) if seat.lift.nil?

        t("seats.widest", **figures, below: seat.below_widest.round, lift: seat.lift)
      end

      # mm a week that a limb may still change and be called steady (common practice, no source)
      CALM = 1.0

      # How a girth has changed over the visits: sentences. course - Visit::TrendWork::Course;
      # name - of the site; last - the day of the last reading; following - the day of the next
      # visit, or nil; steady - what the family does once it stays
      def course(course, name, last:, following:, steady: nil)
        low, high = course.trend.interval.map { |daily| daily * 7 }
        verdict = course.trend.verdict
        low, high = [low, high].map(&:abs).sort unless verdict == :steady
        by = (course.trend.slope * 7).abs
        said =
          t(
            "courses.#{verdict}",
            site: name,
            visits: course.trend.count,
            by: tenths(by),
            low: tenths(low),
            high: tenths(high)
          )
        calm = verdict == :steady && [low, high].map(&:abs).max < CALM
        [said, (calm_said(steady) if calm), *edge(course, last, following)].compact
      end

      def calm_said(steady) = steady ? "#{t("courses.calm_for")} #{steady}" : t("courses.calm")

      # A girth then and now, with the length on a tape. change - Followup::ChangeOfGirth
      def change_of_girth(change, tape)
        return t("changes_of_girth.none") if change.mm.zero?

        size = Quantity::Length.mm(change.mm.abs)
        t(
          "changes_of_girth.#{change.real? ? "real" : "within"}",
          by: tape.unit == "in" ? size.to_s(tape) : size.plain("mm"),
          way: t("changes_of_girth.#{change.mm.negative? ? "less" : "more"}"),
          error: change.error.round
        )
      end

      # How something else has changed over the visits. series - Visit::TrendWork::Series
      def series(series)
        low, high = series.trend.interval.map { |daily| daily * 7 }
        verdict = series.trend.verdict
        low, high = [low, high].map(&:abs).sort unless verdict == :steady
        t(
          "series.#{verdict}",
          what: t("series.what.#{series.key}", place: series.place.to_s),
          visits: series.trend.count,
          by: tenths((series.trend.slope * 7).abs),
          low: tenths(low),
          high: tenths(high),
          unit: series.unit.delete_suffix(" of 10").sub("of 10", "points")
        )
      end

      # when it comes to an edge of the size
      def edge(course, last, following)
        on = course.crossing.on or return []
        return [t("courses.there", size: course.size)] if on == last

        early = course.crossing.earliest&.then { |date| t("courses.earliest", date: day(date)) }
        [
          t(
            "courses.crosses",
            size: course.size,
            on: day(on),
            earliest: early.to_s,
            edge: t("courses.#{course.crossing.edge == :lower ? "ends" : "outgrown"}")
          ),
          (t("courses.before_next") if course.before?(following))
        ]
      end

      def tenths(number) = Kernel.format("%.1f", number)
      def day(date) = Quantity::Day.write(date)

      # A strap of a wrap that is to be eased or pulled: a Compression::FewestChanges::Strap.
      def strap_change(strap)
        t(
          "pressures.change",
          number: strap.number,
          what: t("pressures.#{strap.state}"),
          now: strap.pressure.round,
          to: strap.set_to.round
        )
      end

      # What is said of a remedy beside its reason: an Array of texts. limit - figures of the limit
      # that it is at; record - [ended, tries] of this clinic.
      def offer(remedy, limit: nil, record: nil)
        used = limit && { **limit, used: plain(limit[:used]), most: plain(limit[:most]) }
        [
          (t("offers.by", doer: remedy.doer) unless remedy.doer == "fitter"),
          (t("offers.costs", text: remedy.costs) if remedy.costs),
          (t("offers.for_good", text: remedy.for_good) if remedy.for_good),
          (t(limit[:setting] ? "offers.at_setting" : "offers.at_limit", **used) if limit),
          (t("offers.record", ended: record[0], tries: record[1]) if record)
        ].compact
      end

      def plain(number) = number && Families::Number.print(number)

      # A stop sign, as the protocol words it or as its figures say it, with the side that it was seen on.
      def sign(figures)
        side = figures[:side]&.capitalize
        said = seen_or_told(figures) and return [side, said].compact.join(": ")
        t("signs.index", side: side, index: figures[:index] ? format("%.2f", figures[:index]) : "?")
      end

      # The same of a Fitting::Stop.
      def stop(stop) = sign({ text: stop.text, side: stop.side, **stop.figures.to_h })

      # The limits of a check's criterion: "within 5 mm", "at least 28 mmHg, under 50 mmHg";
      # nothing for yes and no.
      def limits(criterion)
        criterion
          .limits
          .map { |name, limit| "#{t("limits.#{name}")} #{criterion.print(limit)}" }
          .join(", ")
      end

      private

      SIGNS = %i[stop limit_passed].freeze

      # a sign without its side; nil for an index, which is always of one
      def seen_or_told(figures)
        return figures[:text].chomp(".") if figures[:text]
        return t("signs.skin.#{figures[:skin]}") if figures[:skin]
        return t("signs.sent", remedy: figures[:sent]) if figures[:sent]

        t("signs.timer", label: figures[:timer]) if figures[:timer]
      end

      def block_figures(block, visit)
        figures = block.figures.to_h
        case block.code
        when :stop
          {
            sign: sign(figures.merge(side: block.side)),
            urgency: urgent(figures[:urgency], animal: visit.patient.animal?)
          }
        when :limit_passed
          { sign: "#{sign(figures.merge(side: block.side))}." }
        when :unread
          { site: Anatomy::Vocabulary.default.fetch(block.subject).name }
        when :doubt
          { question: doubt(block, visit) }
        when :step_open
          { step: title(visit, visit.family.step(block.subject)) }
        when :check_failed, :check_changed, :check_open, :check_not_possible, :check_distress,
             :check_firm
          check_figures(block, visit)
        when :skin_unseen
          { kind: t("skin.#{figures[:kind]}").downcase }
        when :slip_out, :piece_awaited
          { **figures, due: day(figures[:due]) }
        when :teach_back_poor
          { who: visit.family.teach_who, tasks: open_tasks(figures, visit) }
        when :teach_back_open, :teach_back_old
          { who: visit.family.teach_who }
        else
          figures
        end
      end

      # which tasks are still open, in words
      def open_tasks(figures, visit)
        tasks = figures[:tasks].to_a.map { |text| "“#{visit.fill(text)}”" }
        return t("teaching.mistakes", count: figures[:mistakes]) if tasks.empty?

        t("teaching.open", tasks: tasks.join(", "))
      end

      def doubt(block, visit)
        row = visit.doubts.find { |one| one[:version] == block.rests_on }
        question(row[:question])
      end

      def check_figures(block, visit)
        name = title(visit, visit.family.check(block.subject))
        place = visit.sizing.straps(block.side).find { |strap| strap.key == block.place }&.label
        {
          check: [name, place].compact.join(", "),
          after: opened_by({ title: block.figures.to_h[:after], **block.figures.to_h }),
          reason: block.figures.to_h[:reason]&.chomp(".")
        }
      end

      def title(visit, item) = visit.fill(item.title)
    end
  end
end
