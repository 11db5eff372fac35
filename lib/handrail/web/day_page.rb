# frozen_string_literal: true

module Handrail
  module Web
    # What the board prints. The front desk sees when, with whom and which kind of visit, never what
    # was found.
    class DayPage
      attr_reader :low, :timers, :slips, :dues, :records_coming

      # the first steps of a new clinic: where each is done, in words, and who may
      FIRST = {
        product: ["/catalogue/new", Wording.t("web.add_first_product").freeze, :senior],
        chart: ["/catalogue", Wording.t("web.give_it_a_chart").freeze, :senior],
        people: ["/people", Wording.t("web.invite_people").freeze, :senior],
        patient: ["/patients/new", Wording.t("web.add_first_patient").freeze, :anyone]
      }.freeze

      # lists - name => Store::Day::Cut; low, timers, slips, dues, newcomers, records_coming - of Store::Day, those
      # for fitters empty for others; first - Store::Day#first_steps
      def initialize(account, lists, first: {}, **beside)
        @account = account
        @clinical = account.clinical?
        @lists = lists
        @first = first
        %i[low timers slips records_coming].each do |name|
          instance_variable_set(:"@#{name}", beside.fetch(name, []))
        end
        @dues = beside.fetch(:dues, {})
        @newcomers = beside.fetch(:newcomers) { [[], []] }
      end

      # What a new clinic does first: [[path, words, done], ...]; nothing in one that has begun.
      def first_steps
        return [] if @first.empty?

        FIRST.filter_map do |key, (path, words, who)|
          [path, words, @first[key]] if who == :anyone || @account.senior?
        end
      end

      # Rows of first appointments without an order: today's, and those of earlier days that are open still.
      def newcomers = @newcomers.first
      def newcomers_missed = @newcomers.last

      # Whether their time has come, and nobody has noted that they are here.
      def late?(line) =
        expected?(line) && !here?(line) && !line.row.planned_for.nil? &&
          line.row.planned_for < Store.now

      # Visits that are open come first; those that are closed are folded away.
      def open_lines = visits.lines.reject { |line| line.row.closed? }
      def closed_lines = visits.lines.select { |line| line.row.closed? }

      def clinical? = @clinical

      # Parts that are due, and sizes that end soon: rows, each with the wearer's names.
      def parts_due = @dues.fetch("part", [])
      def sizes_ending = @dues.fetch("size", [])

      # What stands and should not wait, the oldest first: [row, words, what to do in words, its path].
      def concerns
        rows = @dues.values_at(*Store::Day::CONCERNS.keys).compact.flatten
        rows
          .sort_by { |row| [row[:due_on], row[:fitting_id]] }
          .map { |row| [row, concern_words(row), *concern_act(row)] }
      end
      Store::Day::LISTS.each { |name| define_method(name) { @lists.fetch(name) } }

      # The visit that comes next today stands out: of those that are here, else of all.
      def lead?(line) = line.id == lead_id
      def lead_id
        @lead_id ||=
          begin
            open = visits.lines.reject { |line| line.row.closed? }
            (open.find { |line| line.row.arrived_at || begun?(line.row) } || open.first)&.id
          end
      end

      # Whether somebody may note that they have come; how many wait to be seen.
      def expected?(line) = !line.row.closed? && !begun?(line.row)

      # what began on an earlier day, and waited for its device, has not begun today
      def begun?(row)
        return false unless row.opened_at

        (@begun ||= {}).fetch(row.id) do |id|
          clinic = @account.clinic
          @begun[id] = row.planned_for.nil? ||
            row.opened_at >= clinic.midnight(clinic.today(row.planned_for))
        end
      end
      private :begun?

      def here?(line) = expected?(line) && !line.row.arrived_at.nil?
      def waiting = visits.lines.count { |line| here?(line) }

      def state(line)
        return line.row.closed? ? :good : :not_done unless clinical?

        line.state
      end

      # The device, with side and place for those who fit it.
      def title(line) =
        clinical? ? line.title : @account.clinic.device_families[line.family]&.name.to_s.downcase

      def next_words(line)
        return Wording.next_step(line.finding, line.figures) if clinical?

        line.row.first? ? Wording.t("web.first_fitting") : Wording.t("stages.recheck")
      end

      def label(line)
        Wording.t("next_label.#{line.row.opened_at.nil? && line.row.first? ? "fresh" : line.stage}")
      end

      # CSS classes of the stages' beads.
      def beads(line)
        Fitting::STAGES.map do |stage|
          next "is-here" if stage == line.stage && !line.row.closed?

          line.done.include?(stage) || !line.row.first? ? "is-done" : ""
        end
      end

      # What this person does with a visit next: [words, path]; nil where nothing is left for them.
      def act(line)
        row = line.row
        if row.closed?
          clinical? ? ["Record", on_stage(line, :record)] : nil
        elsif clinical? && (row.opened_at || today?(row))
          [label(line), on_stage(line, line.stage)]
        else
          booking(line.id, row.planned_for)
        end
      end

      # Why a visit that nobody has booked is shown.
      def waits(line)
        return Wording.t("web.first_fitting_not_booked") if line.row.first?

        Wording.t("web.recheck_not_booked", due: Quantity::Day.write(line.row.due_to))
      end

      # "due 3 Nov 2026 to 9 Nov 2026"
      def due(line)
        return "" unless line.row.due_to

        Wording.t(
          "web.due_to",
          from: Quantity::Day.write(line.row.due_from),
          to: Quantity::Day.write(line.row.due_to)
        )
      end

      private

      def on_stage(line, stage) = "/visits/#{line.id}/#{Helpers::States::STAGE_PATHS.fetch(stage)}"

      # booked or brought forward, where a visit comes; else the last one's record
      def concern_act(row)
        return "Look", "/visits/#{row[:visit_id]}/record" unless row[:next_visit]

        booking(row[:next_visit], row[:planned_for])
      end

      def booking(id, planned) = [planned ? "Move" : "Book", "/visits/#{id}/book"]

      # what stands, and for when the visit is or was booked that would come to it
      def concern_words(row)
        planned = row[:planned_for] or return Wording.concern(row)

        "#{Wording.concern(row)} #{booked_for(@account.clinic.today(planned))}"
      end

      def booked_for(day)
        said = Quantity::Day.write(day)
        return Wording.t("web.was_booked_for", day: said) if day < @account.clinic.today

        Wording.t("web.booked_for", day: said)
      end

      # whether it is booked for today
      def today?(row) =
        !row.planned_for.nil? && @account.clinic.today(row.planned_for) == @account.clinic.today
    end
  end
end
