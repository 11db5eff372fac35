# frozen_string_literal: true

require_relative "faulty_line"
require_relative "line_hands"
require_relative "own_browser"
require_relative "server_to_kill"

# A random walk over faulty lines in real browsers: two profiles, each with a line of its own and up to two
# tabs, two people, three fittings; browsers and the server are killed in the middle. Values that are told
# apart are typed; what became of each is held against what its person saw.
#
#   walk = LineWalk.new(people, visits, seed: 7)
#   walk.go(12)
#   walk.end_well        # the lines are good again, everybody signs in where they left something
#   walk.faults          # [] where every value that was seen as kept is a row once, at its own place, or in view
class LineWalk
  include LineHands

  # what was typed. seen - whether its person saw it as kept: here, or by the server
  Typed = Struct.new(:value, :kind, :visit, :place, :who, :profile, :seen, keyword_init: true)
  Profile = Struct.new(:browser, :line, :who, keyword_init: true) { def session = browser.session }

  ACTS = {
    read: 6,
    note: 2,
    word: 2,
    line: 5,
    reload: 2,
    elsewhere: 2,
    tab: 2,
    take_back: 1,
    end_session: 1,
    change_person: 1,
    kill_browser: 1,
    kill_server: 2,
    other_profile: 3
  }.freeze
  LINES = {
    good: 6,
    down: 5,
    drops_requests: 2,
    drops_answers: 3,
    cuts: 2,
    delays: 1,
    foreign: 2
  }.freeze

  # Two profiles, each a browser, and the server; kept over the walks, since they take their time to start.
  # Every walk has lines of its own, and so addresses of its own: what an earlier one left is not seen.
  def self.browsers = @browsers ||= Array.new(2) { OwnBrowser.new }
  def self.server = @server ||= ServerToKill.new

  def self.end
    @browsers&.each(&:forget)
    @server&.kill
    @browsers = @server = nil
  end

  attr_reader :typed, :told

  # people - two Accounts; visits - rows of three fittings' visits, ready to be measured
  def initialize(people, visits, seed:)
    @dice = Random.new(seed)
    @people = people
    @visits = visits
    @typed = []
    @told = []
    @number = 0
    server.start
    @profiles =
      self
        .class
        .browsers
        .zip(people)
        .map do |browser, who|
          empty(browser)
          Profile.new(browser: browser, line: FaultyLine.new(server.port), who: who)
        end
    @here = @profiles.first
    @used = []
  end

  def go(acts)
    sign_in_here
    acts.times do
      act = pick(ACTS)
      @told << act.to_s
      send(act)
    end
  end

  # Every line is good; who left something where they were signs in there, and what can be sent is.
  def end_well
    server.start
    @profiles.each do |profile|
      @here = profile
      profile.line.is(:good)
      close_other_tabs
      whose = @typed.select { |one| one.profile == profile && one.seen }.map(&:who).uniq
      whose.each do |who|
        sign_out
        sign_in(who)
        mine = @typed.select { |one| one.seen && one.who == who && one.profile == profile }
        wait { mine.all? { |one| one.seen == :taken_back || rows_of(one).any? || shown?(one) } }
        wait { open_here.zero? }
        @typed.each { |one| one.seen = :shown if one.seen && shown?(one) }
      end
    end
  end

  # What is wrong, in words.
  def faults
    @typed
      .select(&:seen)
      .filter_map do |one|
        rows = rows_of(one)
        next if one.seen == :shown && rows.size <= 1
        next if one.seen == :taken_back && rows.empty?

        right = rows.size == 1 && rows.first[:visit_id] == one.visit.id && placed?(one, rows.first)
        unless right
          "#{one.kind} #{one.value}: #{rows.size} rows (#{rows.map { |row| row[:visit_id] }})"
        end
      end
  end

  def close = @profiles.each { |profile| profile.line.close }

  private

  def page = @here.session
  def server = self.class.server

  # as after an earlier walk: one tab, nobody signed in; a browser that an earlier walk left broken is begun anew
  def empty(browser)
    session = browser.session
    (session.windows - [session.current_window]).each(&:close)
    session.driver.clear_cookies
    session.visit("about:blank")
  rescue Ferrum::Error
    browser.kill
  end
  def db = Handrail::Store.db

  # at the first time that somebody sits at this profile
  def sign_in_here
    return if @used.include?(@here)

    how = @here.line.how
    @here.line.is(:good)
    server.start
    sign_in(@here.who)
    @here.line.is(how)
    @used << @here
  end

  def pick(weights)
    at = @dice.rand(weights.values.sum)
    weights.each { |name, weight| (at -= weight).negative? and return name }
  end

  def wait(patience = PATIENCE)
    ends = Time.now + patience
    until (found = yield)
      return if Time.now > ends

      sleep 0.05
    end
    found
  end

  # a page that does not come leaves the browser where it is, or on a page of its own
  def to(path)
    page.visit("#{@here.line.url}#{path}")
  rescue Ferrum::Error
    nil
  end

  # --- acts ---

  def read
    visit, = at_a_bench("measure")
    return unless visit && page.has_css?("#value", wait: 0)

    # a page that has not gone on yet from the last one: what is typed now would belong to the next place
    held =
      page.evaluate_script("((f) => f.dataset.walk && f.value)(document.querySelector('#value'))")
    return unless held.to_s.empty?

    value = format("%.1f", 30 + ((@number += 1) * 0.1))
    type("#value", value, visit, :reading) { page.driver.browser.keyboard.type(:enter) }
  end

  def word
    visit, = at_a_bench("skin")
    return unless visit && page.has_css?("#word-wants", wait: 0)

    type("#word-wants", "to walk #{@number += 1} steps", visit, :word) do
      page.click_button("Write what they say")
    end
  end

  def note
    visit, = at_a_bench("record")
    return unless visit && page.has_css?("#note-form", wait: 0)

    type("#text", "Note number #{@number += 1}.", visit, :note) do
      page.click_button("Add the note")
    end
  end

  def line
    how = pick(LINES)
    @told << how.to_s
    @here.line.is(how, seconds: 1)
  end

  def reload
    page.refresh
  rescue Ferrum::Error
    nil
  end
  def elsewhere =
    to(["/", "/visits/#{@visits.sample(random: @dice).id}/measure"].sample(random: @dice))

  def tab
    if page.windows.size < 2
      window = blank_window or return kill_browser
      page.switch_to_window(window)
      at_a_bench("measure")
    else
      page.switch_to_window((page.windows - [page.current_window]).first)
    end
  end

  # nil where the browser lost it while it opened: no page of ours is in it yet
  def blank_window
    page.open_new_window
  rescue Ferrum::JavaScriptError, Ferrum::NoExecutionContextError
    nil
  end

  def take_back
    button = page.all("#unsaved button", text: "Take it back", wait: 0).first or return
    key = button.ancestor("li")["data-key"]
    said = button.ancestor("li").text
    button.click
    wait do
      page.has_no_css?("#unsaved li[data-key='#{key}'] button", text: "Take it back", wait: 0)
    end
    one = @typed.reverse.find { |typed| said.include?(typed.value) } or return
    one.seen = :taken_back
  rescue Capybara::ElementNotFound, Capybara::Cuprite::ObsoleteNode, Ferrum::Error
    nil
  end

  def end_session = db[:account_active_session_keys].where(account_id: @here.who.id).delete

  def change_person
    return if @here.line.how != :good

    server.start
    sign_out
    @here.who = (@people - [@here.who]).first
    sign_in(@here.who)
  end

  # the power fails; its person sits down again
  def kill_browser
    @here.browser.kill
    @used.delete(@here)
    sign_in_here
  end

  # in the middle of what is typed now, and it stays away for a while or not
  def kill_server
    moment = @dice.rand(0.3)
    killer =
      Thread.new do
        sleep moment
        server.kill
      end
    send(%i[read note word].sample(random: @dice))
    killer.join
    server.start if @dice.rand < 0.6
  end

  def other_profile
    @here = (@profiles - [@here]).first
    sign_in_here
  end
end
