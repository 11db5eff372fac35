# frozen_string_literal: true

require "forwardable"

module Handrail
  # One visit as the core sees it: the family it is pinned to and what applies of it, the readings,
  # the size, the checks, how far the fitting has come. It is asked by every page, gate and command;
  # it reads, and writes nothing.
  #
  #   visit.family.name              # the protocol as it was pinned, not as the file reads today
  #   visit.repeats("calf_widest", "left").mm
  #   visit.gates.blocks(:hand_over)
  #
  # Where its rows come from it does not know: `source` answers clinic, clinic_at(row), patient, prescription,
  # fitting, visits, rows(table, visit_id), what_worked(family, problem), pin(visit_id), stock, shelf, stocked?,
  # repeatability(account_id, site) and name_of(id).
  class Visit
    extend Forwardable

    # what is to be read follows from what was ordered and what it is pinned to: it is found once
    PLANS = Memory.new(500)
    private_constant :PLANS

    include Sides
    include Asks
    include Ordered

    attr_reader :row, :source

    def_delegators :row,
                   :id,
                   :number,
                   :purpose,
                   :closed_at,
                   :closed_by,
                   :opened_at,
                   :arrived_at,
                   :planned_for,
                   :planned_to,
                   :planned_with,
                   :planned_room,
                   :due_from,
                   :due_to,
                   :plan_key
    def_delegators :source, :patient, :fitting, :visits, :name_of
    def_delegators :pin, :family, :product, :revision, :method_of

    # row - the visit's own row: id, purpose, version, closed_at and so on; source - see above.
    def initialize(row, source)
      @row = row
      @source = source
      @pin = source.pin(row.id)
    end

    # --- what it is made on ---

    # pin - protocol, product, options, chart and methods as they were when this visit was ordered
    # or last took a change.
    attr_reader :pin

    # Reads by the edition that it is pinned to within the block: sites, figures, languages.
    def by_edition(&) = Edition.with(pin.edition, &)

    # The clinic as it is; at a closed visit as it was when that was closed, with its zone and what it
    # prints.
    def clinic = @clinic ||= closed? ? source.clinic_at(row) : source.clinic

    # --- which visit it is ---

    def first? = purpose == "first"
    def recheck? = purpose != "first"
    def closed? = !closed_at.nil?
    def open? = !opened_at.nil? && !closed?

    # Whether it began on the day for which it is booked: what began before, and waited for its device, goes on then.
    def begun_as_booked?
      return false unless opened_at

      planned_for.nil? || opened_at >= clinic.midnight(clinic.today(planned_for))
    end

    # Whether the whole fitting has ended: the device is not worn any more, or the order was taken back.
    def ended? = !fitting.ended_at.nil?

    # Whether the order was withdrawn, or moved to another record, before anything was handed over.
    def taken_back? = %w[withdrawn moved].include?(fitting.ended_as)

    # The same visit, read anew from its rows: after an entry has added to them.
    def renewed = self.class.new(row, source)

    # Another visit of the same fitting, as it stands now.
    def at(other)
      return self if other.id == id

      @at ||= {}
      @at[other.id] ||= self.class.new(other, source)
    end

    def first = at(visits.find(&:first?) || row)

    # The visit before this one at which something was read, or nil.
    def before
      earlier = visits.select { |other| other.number < number && other.closed_at }.reverse
      earlier.map { |other| at(other) }.find { |visit| visit.usable_readings.any? }
    end

    # --- its parts ---

    # Each is asked by name, reads once what it needs, and writes nothing.

    # SizeWork: the chart as read here, what size it says, what was chosen and given out, the figure and its girths.
    def sizing = @sizing ||= SizeWork.new(self)

    # FitWork: checks, steps, changes, settings and marks of straps, teach-backs, slips to the workshop.
    def fit = @fit ||= FitWork.new(self)

    # RemedyWork: problems of this device, and what to change for one, and how far.
    def remedies = @remedies ||= RemedyWork.new(self)

    # PressureWork: what the straps press, and the least pull that they need.
    def pressure = @pressure ||= PressureWork.new(self)

    # BodyWork: skin, the wearer's words, photos, lines of the limb.
    def body = @body ||= BodyWork.new(self)

    # CrossWork: what the readings expect of each other.
    def cross = @cross ||= CrossWork.new(self)

    # SafetyWork: the two identifiers, stop signs, cautions, and stops with what ends them.
    def safety = @safety ||= SafetyWork.new(self)

    # WearWork: stages and hours of wear, the recheck that comes next, parts that are due.
    def wear = @wear ||= WearWork.new(self)

    # TrendWork: how girths and other figures have changed over the visits.
    def trend = @trend ||= TrendWork.new(self)

    # VolumeWork: volumes of the limbs over the visits.
    def volumes = @volumes ||= VolumeWork.new(self)

    # ConcernWork: what of this fitting should not wait, as it stood after this visit, and what was put right since.
    def concerns = @concerns ||= ConcernWork.new(self)

    # --- rows ---

    # Rows written at this visit, oldest first.
    def rows(table) = source.rows(table, id)

    # Rows of this visit and of those before it: what comes later says nothing about it.
    def rows_so_far(table)
      so_far = @visits_so_far || visits_so_far
      return source.rows(table, id) if so_far.size == 1

      so_far.flat_map { |other| source.rows(table, other.id) }
    end

    # The visit of this fitting that was begun last.
    def newest = at(visits.reverse.find(&:opened_at) || row)

    # Rows of every visit of this fitting, also of those after this one, oldest first.
    def rows_of_fitting(table) = visits.flat_map { |other| source.rows(table, other.id) }

    # Rows of the visits of the fitting up to this one, oldest first.
    def visits_so_far = @visits_so_far ||= visits.select { |other| other.number <= number }

    # Which facts a row of evidence rested on that are no longer so, as Symbols; none at a closed
    # visit, which says what was so.
    def gone(row)
      return [] if closed?

      about = { side: row[:side], place: row[:place], subject: row[:check_key] }
      Fitting::Basis.gone(row[:rests_on], self, **about, known: @facts ||= {})
    end

    # Whether evidence still counts.
    def stands?(row) = gone(row).empty?

    # The number of the entry that set what it is made on, 0 where the order did.
    def pin_set_at = source.pin_taken_at(id)

    # The number of the fitting's newest entry: what a page has seen.
    def version = fitting.version

    def events = rows(:entries)

    # The entries of all visits of the fitting.
    def fitting_events = visits.flat_map { |other| source.rows(:entries, other.id) }
    def notes = rows(:visit_notes)

    # --- readings ---

    # Readings of today for another device of the wearer that are just what is asked here, and were not taken over
    # yet: rows, see `source`. item - a Measuring::Plan item
    def read_beside(item)
      had = rows(:readings).map { |row| row[:same_as_id] }
      source.readings_beside.select { |row| item.counts?(row) && !had.include?(row[:id]) }
    end

    # Reading rows that stand: not struck out, not corrected.
    def live_readings
      @live_readings ||=
        begin
          corrected = rows(:readings).filter_map { |reading| reading[:corrects_id] }
          rows(:readings).reject do |reading|
            reading[:struck_at] || corrected.include?(reading[:id])
          end
        end
    end

    # Those that may be used: their questions are answered.
    def usable_readings
      @usable_readings ||= live_readings.reject { |reading| doubtful?(reading) }
    end

    def doubtful?(reading) = !reading[:question].nil? && reading[:answered_at].nil?
    def doubts = @doubts ||= live_readings.select { |reading| doubtful?(reading) }

    # All readings of an item of the plan, struck-out ones and those of another posture or tension
    # too.
    def readings_of(item) = here(item).select { |reading| item.takes?(reading) }

    # Readings of an item that stand; those of them that were taken as it asks for.
    def live_readings_of(item) = readings_of(item) & live_readings
    def counted_readings_of(item) =
      (@counted ||= {})[item.key] ||= live_readings_of(item).select { |row| item.counts?(row) }

    # The repeats that count for an item of the plan, as Measuring::Repeats, or nil.
    def repeats_of(item)
      @repeats_of ||= {}
      @repeats_of.fetch(item.key) do |key|
        @repeats_of[key] = repeats_from(counted_readings_of(item) - doubts, item.site.key)
      end
    end

    # The repeats that count for a site and side, in the posture that the plan names or the one
    # given; nil where there are none.
    def repeats(site, side, posture = nil)
      item =
        needs.find do |one|
          one.site.key == site && one.side == side && (posture.nil? || one.posture == posture)
        end
      return repeats_of(item) if item

      found = usable_readings.select { |reading| reading[:site] == site && reading[:side] == side }
      known = Anatomy::Vocabulary.default[site]
      wanted = posture || known&.posture
      repeats_from(
        found.select { |r| r[:posture] == wanted && r[:tension] == known&.tension },
        site
      )
    end

    # Of reading rows of a site, as Measuring::Repeats, or nil where there are none.
    def repeats_from(used, site)
      return if used.empty?

      lengths = used.map { |reading| Quantity::Length.mm(reading[:value_mm].to_r) }
      Measuring::Repeats.new(lengths, resolution: resolution(used)[site])
    end

    # What is to be read at this visit, as Measuring::Plan::Items.
    def needs
      @needs ||=
        PLANS.remember(
          [Edition.here.digest, family.digest, config, pin.chart&.demands, recheck?]
        ) { Measuring::Plan.new(family, config: config, chart: pin.chart, recheck: recheck?).items }
    end

    # The items on which the size hangs and that have no usable or doubtful reading yet.
    def unread
      needs.select(&:decides).reject { |item| counted_readings_of(item).size >= least_repeats }
    end

    # What the clinic's own record says of a problem's remedies: key => [ended, tries].
    def what_worked(problem) = source.what_worked(family.key, problem)

    # Timers that run at this visit, the first to ring first; a closed visit has none.
    def running_timers
      return [] if closed?

      rows(:visit_timers).reject { |row| row[:answered_at] }.sort_by { |row| row[:rings_at] }
    end

    # --- what the clinic had settled when the fitting was pinned ---

    # How many readings of a site there are to be before it counts as read.
    def least_repeats = pin.settings.fetch("repeats", 1)

    # Stages whose blocks no senior's word lets pass here.
    def held_firm = pin.settings.fetch("firm", []).map(&:to_sym)

    # The family's planned rechecks, in the clinic's own windows where it has some.
    def recheck_plan
      own = pin.settings.fetch("windows", {})
      family.recheck_plan.map do |planned|
        from, to = own[planned.key]
        from ? planned.with(from_days: from, to_days: to) : planned
      end
    end

    # --- how far it has come ---

    def hand_over = rows_so_far(:hand_overs).first
    def handed_over? = !hand_over.nil?

    # The hand-over of this very visit, or nil: a recheck has one where it gives out something new.
    def hand_over_here = rows(:hand_overs).last

    # Senior's words given at this visit, as rows.
    def overrides = rows(:overrides)

    # Names of the blocks that they let pass, see Fitting::Block#name.
    def passed
      @passed ||=
        overrides
          .select { |override| stands?(override) }
          .flat_map { |override| override[:blocks].to_a.map { |block| block.except("words") } }
    end

    def tasks = family.tasks_for(config)
    def gates = @gates ||= Fitting::Gates.new(self)

    # The coarsest tape used decides; at a site whose own step is coarser, that one. Called with a
    # site, gives a Length.
    def resolution(readings)
      tapes = readings.map { |reading| reading[:tape] }.uniq
      tapes = [clinic.tape] if tapes.empty?
      step = tapes.map { |key| Quantity::Tape[key].resolution }.max
      ->(site) { [step, Anatomy::Vocabulary.default[site]&.resolution].compact.max }
    end

    private

    # readings of an item's site and side, in whichever posture
    def here(item)
      @here ||= rows(:readings).group_by { |reading| reading.values_at(:site, :side) }
      @here.fetch([item.site.key, item.side]) { [] }
    end
  end
end
