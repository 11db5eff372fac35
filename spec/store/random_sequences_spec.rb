# frozen_string_literal: true

require "web_helper"
require "support/whole_jobs"
require "support/stories"

# Random sequences of every command, over all families, by up to three people with pages of any age.
# Whatever order they come in: nothing is handed over and no recheck is closed past an open stop, or
# on evidence whose basis is not now; no stop vanishes without its act; what a page draws the command
# takes; kept summaries are those that would be made; and every page of the day opens.
#
# Some by the run's seed; more, and longer: bin/handrail sequences [HOW MANY]
RSpec.describe "Random sequences of commands" do
  include WholeJobs
  include WebHelpers

  many = ENV.fetch("HANDRAIL_SEQUENCES", "0").to_i

  # Of the story that is being told: each has a clinic of its own, in a transaction of its own, since
  # thousands of savepoints within one make the database slow.
  attr_reader :clinic, :people

  def fitter = people[:fitter]

  # Runs a block in a clinic that is gone afterwards.
  def in_a_clinic
    Handrail::Store
      .db
      .transaction(rollback: :always, auto_savepoint: true) do
        @clinic = make_clinic
        @people = {
          fitter: make_account(clinic),
          colleague: make_account(clinic),
          senior: make_account(clinic, "senior")
        }
        yield
      end
  end

  # a fitting of a family, ordered, measured and sized, or at its first recheck
  def beginning(family, dice)
    case dice.rand(3)
    when 0
      order(demo_product(family))
    when 1
      sized_job(family)
    else
      recheck_of(family)
    end
  end

  # what stood in the way of an end, by rules of its own: told from the rows, not by the gates
  def unlawful(step)
    return [] unless %i[HandOverDevice CloseRecheck].include?(step.command)

    before = step.before
    stops = before.safety.stops.map(&:key)
    stops + before.doubts.map { |row| row[:typed] } + (identified?(before) ? [] : ["identity"]) +
      before.sides.flat_map { |side| unseen(before, side) }
  end

  def identified?(visit)
    row = visit.rows(:safety_questions).last
    row && row[:identity] &&
      row[:rests_on].to_h["wearer"] ==
        [visit.patient.name, visit.patient.born_on.iso8601, visit.patient.species]
  end

  # checks that were not seen good on the piece in hand, and that nobody named
  def unseen(visit, side)
    return [] if visit.fit.sent_away_with(side).any? && visit.recheck?

    piece = visit.sizing.piece(side)
    results =
      visit
        .rows(:check_results)
        .select { |row| row[:side] == side }
        .group_by { |row| row.values_at(:check_key, :place) }
    named = visit.overrides.flat_map { |row| row[:blocks].map { |block| block["subject"] } }
    visit
      .fit
      .checks(side)
      .filter_map do |check, place|
        # what the straps answer rests on each of theirs, which is asked here by itself
        next if check.answered_by && results.keys.any? { |key, _| key == check.answered_by }

        last = results[[check.key, place.to_s]]&.max_by { |row| row[:version] }
        good = last && last[:outcome] == "good" && last[:rests_on].to_h["piece"] == piece
        "#{side} #{check.key} #{place}" unless good || named.include?(check.key)
      end
  end

  # stops that were open before and are not now, without an act for them
  def vanished(step)
    gone = named(step.before.safety.own_stops) - named(step.after.safety.own_stops)
    [%i[RecordStopAction RecordSkin].include?(step.command) ? gone.drop(1) : gone].flatten
  end

  # a stop has its side in its name while a pair is ordered, and is the same one when the order is put right to one side
  def named(stops) =
    stops.map { |stop| [stop.key.delete_suffix(":#{stop.side}"), stop.side].compact.join(" ") }

  # actions that the gates hold back, and that a command takes all the same, or the other way round
  def lists = Handrail::Wording.names("board").keys.map { |name| "/list/#{name}" }

  def open_pages(visit)
    stages = %w[order measure size fit teach hand-over recheck record skin]
    [
      "/",
      "/week",
      "/week/day",
      "/patients/#{visit.patient.id}",
      *lists,
      *stages.map { |stage| "/visits/#{visit.id}/#{stage}" }
    ]
  end

  def broken(paths)
    paths.filter_map do |path|
      get path
      status = last_response.status
      "#{path}: #{status}" if status >= 500 || (lists.include?(path) && status != 200)
    end
  end

  def story(seed, count)
    dice = Random.new(seed)
    family = Handrail::Families::Registry.all.keys.sample(random: dice)
    [family, Stories.new(people, beginning(family, dice), seed: seed), count]
  end

  # rows as the step left them in the memory of the process, where the tables hold others
  def held_otherwise(step)
    source = step.after.source
    ids = source.visits.map(&:id)
    left = source.instance_variable_get(:@batch).own_rows(ids)
    held = Handrail::Store::VisitRows.read(clinic.id, ids)
    ids.flat_map do |id|
      (left[id].keys | held[id].keys).reject do |table|
        left[id][table].to_s == held[id][table].to_s
      end
    end
  end

  # what is wrong with a step, as texts
  def faults_of(step)
    past = unlawful(step).map { |one| "#{step.command} past #{one}" }
    past + vanished(step).map { |key| "stop #{key} is gone after #{step.command}" } +
      held_otherwise(step).map do |table|
        "#{table} in memory and in the table differ after #{step.command}"
      end
  end

  # Tells a story and returns what went wrong, as texts; each step is yielded. only - see Stories#tell
  def wrong_in(seed, count, only: nil)
    in_a_clinic do
      clear_cookies
      sign_in(people[:senior])
      family, told, = story(seed, count)
      found = []
      told.tell(count, only: only) do |step|
        found += faults_of(step) + broken_after(step, seed)
        yield step if block_given?
        break if found.any?
      end
      found += at_the_end(told.newest) if found.empty?
      found.any? ? ["#{family}:", *told.told, *found] : []
    end
  end

  # two pages of the day, after every fourth step
  def broken_after(step, seed)
    return [] unless (step.number % 4).zero?

    broken(open_pages(step.after).sample(2, random: Random.new(seed + step.number)))
  end

  def at_the_end(visit)
    summaries = Handrail::Store::Summaries.differences(clinic)
    broken(open_pages(visit)) + summaries.map { |one| "summary #{one.inspect[0, 300]}" } +
      unsaid(visit.fitting)
  end

  # summaries that come out otherwise where the tables that they do not name are empty
  def unsaid(fitting)
    Handrail::Store::Summaries::ALL
      .select(&:tables_read)
      .filter_map do |summary|
        whole = summary.new(visits_of(fitting)).made
        said = summary.new(visits_of(fitting, only: summary.tables_read)).made
        "#{summary} reads more than it says: #{whole}, #{said}" unless whole == said
      end
  end

  def visits_of(fitting, only: nil)
    visits = Handrail::Store::Visits.of_fittings(clinic, [fitting.id]).fetch(fitting.id)
    written = visits.last.source.instance_variable_get(:@batch).written
    (written.keys - only).each { |table| written[table] = {} } if only
    visits
  end

  # the shortest story that still goes wrong, as its steps
  def shortest(seed, count)
    only = (1..count).to_a
    only.reverse_each do |number|
      less = only - [number]
      only = less if wrong_in(seed, count, only: less).any?
    end
    wrong_in(seed, count, only: only)
  end

  it "never ends past an open stop or on old evidence, and every page opens" do
    ended = Hash.new(0)
    own = Array.new(many.zero? ? 24 : many) { |i| RSpec.configuration.seed + i }
    # some are always the same, so that the ends are reached whatever comes with the others
    [*(many.zero? ? 1..6 : []), *own].each do |seed|
      wrong = wrong_in(seed, 30) { |step| ended[step.command] += 1 }
      expect(wrong).to be_empty, "seed #{seed}, #{shortest(seed, 30).join("\n")}" if wrong.any?
    end
    # a run that reaches no end proves nothing
    expect(ended.values_at(:RecordCheck, :IssueDevice, :RecordTeachBack)).to all be_positive
    expect(ended[:HandOverDevice] + ended[:CloseRecheck]).to be_positive
  end

  it "keeps the front desk's pages without a clinical word, whatever happened" do
    in_a_clinic do
      sign_in(make_account(clinic, "front_desk"))
      family, told, = story(RSpec.configuration.seed, 40)
      now = told.tell(40).newest
      words = clinical_words(now)
      paths = [
        "/",
        "/week",
        "/week/day",
        "/patients/#{now.patient.id}",
        "/visits/#{now.id}/book",
        *lists
      ]
      paths.each do |path|
        get path
        said = words.select { |word| text.include?(word) }
        expect([family, path, last_response.status < 500, said]).to eq [family, path, true, []]
      end
    end
  end

  def clinical_words(visit)
    family = visit.family
    family.stop_signs.map(&:text) + family.problems.map(&:title) +
      family.all_checks.map { |check| visit.fill(check.title) }
  end
end
