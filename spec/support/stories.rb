# frozen_string_literal: true

require_relative "moves"

# A random story at one fitting: one to three people, each with a page that may be old, send every
# command there is, three times in four what comes next by the book. Told again from its seed, or from
# a part of its steps.
#
#   story = Stories.new(clinic, people, seed: 7)
#   story.tell(90) { |step| ... }   # yields every Step that was taken
#
# A step that was taken knows the visit as it stood before and as it stands now.
class Stories
  Step = Struct.new(:number, :command, :who, :before, :after, keyword_init: true)
  # What a person looks at: the visit's number as they saw it, and the bases it showed.
  Page = Struct.new(:visit, :seen, :key, keyword_init: true)

  attr_reader :steps

  # people - { fitter: Account, colleague: Account, senior: Account }; family - key, or nil for any
  def initialize(people, visit, seed:)
    @people = people
    @dice = Random.new(seed)
    @moves = Moves.new(@dice)
    @visit = visit
    @pages = {}
    @steps = []
  end

  # Sends so many commands; only - numbers of the steps to send, all where nil.
  def tell(count, only: nil)
    (1..count).each do |number|
      now = @now ||= newest
      break if now.ended? && @dice.rand(3).zero?

      name, words, who, page = chosen(now)
      next if only && !only.include?(number)

      step = send_it(number, now, name, words, who, page) or next
      @now = nil
      @steps << step
      yield step if block_given?
    end
    self
  end

  # The newest visit of the fitting as it stands.
  def newest
    found = Handrail::Store::Visits.find(clinic, @visit.id)
    found.at(found.visits.reject(&:called_off_at).last || found.visits.last)
  end

  # What was sent, as lines that a person can read.
  def told = @steps.map { |step| "#{step.number}. #{step.who.name}: #{step.command}" }

  private

  def clinic = @people.values.first.clinic

  # [name, words, account, page]
  def chosen(now)
    book = @dice.rand(4).positive? ? @moves.by_the_book(now) : nil
    name, words = book || any(now)
    who =
      (
        if senior_only?(name) || @dice.rand(6).zero?
          @people[:senior]
        else
          @people.values_at(:fitter, :colleague).sample(random: @dice)
        end
      )
    [name, words, who, page_of(who, now)]
  end

  def any(now)
    name = Moves::ALL.sample(random: @dice)
    [name, @moves.words(name, now)]
  end

  def senior_only?(name) = Handrail::Store::Commands.const_get(name).role == :senior

  # now and then somebody still looks at the page of some steps ago
  def page_of(who, now)
    old = @pages[who.id]
    return old if old && old.visit == now.id && @dice.rand(5).zero?

    @pages[who.id] = Page.new(visit: now.id, seen: now, key: SecureRandom.hex(8))
  end

  def send_it(number, before, name, words, who, page)
    command = @moves.command(name, words)
    taken = Handrail::Store::Ledger.new(before, who, **shown(command, page)).run(command)
    Step.new(number: number, command: name, who: who, before: before, after: taken.visit)
  rescue Handrail::Store::NotKept
    nil
  end

  # what the page would send along
  def shown(command, page)
    kind, about = command.rests_on(page.seen)
    basis = kind && Handrail::Store::Basis.shown(kind, page.seen, **about.to_h)
    { seen: page.seen.version, page: page.key, entry_key: SecureRandom.uuid, rests_on: basis }
  rescue Handrail::Store::NotKept
    { seen: page.seen.version, page: page.key, entry_key: SecureRandom.uuid }
  end
end
