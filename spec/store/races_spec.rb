# frozen_string_literal: true

require "store_helper"
require "support/moves"

# Two people at one fitting, in the same moment, on connections of their own: every pair of commands.
# Whatever both send, each is kept once or refused in words, no entry is lost, and the summaries are
# those that would be made.
#
# A part of the pairs by the run's seed; all of them, so many times each: bin/handrail races [TIMES]
RSpec.describe "Two commands at one fitting at once" do
  store = Handrail::Store
  times = ENV.fetch("HANDRAIL_RACES", "0").to_i
  pairs = Moves::ALL.repeated_combination(2).to_a

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:senior) { make_account(clinic, "senior") }
  let(:product) { make_product(clinic) }

  def serial = "S-#{SecureRandom.hex(4)}"

  # a fitting in a state in which much can be done: measured, fitted, taught, at its recheck
  def fitting(dice)
    [
      -> { make_visit(clinic, fitter, product: product).tap { |made| ask(made, fitter) } },
      -> { sized_visit(clinic, fitter, product: product, serial: serial) },
      -> do
        fitted_visit(clinic, fitter, product: product, serial: serial).tap do |made|
          teach(made, fitter)
        end
      end,
      -> { record(recheck_to_close(clinic, fitter)).row }
    ].sample(random: dice).call
  end

  # what both came to: :kept, :again or :refused, or the fault that nobody foresaw
  def at_once(visit, commands)
    start = Queue.new
    running =
      commands.map do |command|
        Thread.new do
          start.pop
          who = command.class.role == :senior ? senior : fitter
          taken =
            Handrail::Store::Ledger.new(visit.id, who, entry_key: SecureRandom.uuid).run(command)
          taken.again ? :again : :kept
        rescue Handrail::Store::NotKept
          :refused
        rescue StandardError => e
          e
        end
      end
    commands.size.times { start << true }
    running.map(&:value)
  end

  # who races where: the newest visit of the fitting
  def newest(visit) = record(visit).visits.last

  def count(visit) = Handrail::Store.db[:entries].where(fitting_id: visit.fitting_id).count

  def race(names, visit, moves)
    here = newest(visit)
    now = record(here)
    commands = names.map { |name| moves.command(name, moves.words(name, now)) }
    before = count(here)
    found = at_once(here, commands)
    expect(found - %i[kept again refused]).to be_empty, "#{names.join(" and ")}: #{found.inspect}"
    expect([names, count(here) - before]).to eq [names, found.count(:kept)]
    versions =
      Handrail::Store.db[:entries].where(fitting_id: here.fitting_id).select_order_map(:version)
    expect(versions).to eq (1..versions.size).to_a
    found
  rescue Handrail::Store::Faults
    # words that can not be read make no command
    nil
  end

  it "keeps each once or refuses it in words, and keeps the summaries right" do
    dice = Random.new(RSpec.configuration.seed)
    moves = Moves.new(dice)
    chosen = times.zero? ? pairs.sample(60, random: dice) : pairs.flat_map { |pair| [pair] * times }
    visit = nil
    found =
      chosen.each_with_index.map do |names, i|
        visit = fitting(dice) if visit.nil? || (i % 12).zero? ||
          record(newest(visit)).fitting.ended_at
        visit = fitting(dice) if newest(visit).closed?
        race(names, visit, moves)
      end
    expect(store::Summaries.differences(clinic)).to eq []
    # a run in which nothing was kept proves nothing
    expect(found.flatten.count(:kept)).to be > chosen.size / 3
  end
end
