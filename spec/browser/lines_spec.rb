# frozen_string_literal: true

require "browser_helper"
require_relative "../support/line_walk"

RSpec.configure { |config| config.after(:suite) { LineWalk.end } }

# A model of the queue explored by random acts in real browsers: what is typed, faulty lines, reloads, tabs, people,
# browsers and a server that are killed.
# HANDRAIL_LINES=3000 walks so many times, see `bin/handrail lines`.
RSpec.describe "Random walks over faulty lines" do
  seed = ENV.fetch("HANDRAIL_LINES_SEED", Time.now.to_i / 60).to_i
  count = ENV.fetch("HANDRAIL_LINES", 20).to_i

  def walk(seed, acts)
    clinic = make_clinic
    people = [make_account(clinic), make_account(clinic)]
    visits =
      Array.new(3) { make_visit(clinic, people.first).tap { |made| ask(made, people.first) } }
    Handrail::Web::Slowing.guard.reset!
    LineWalk
      .new(people, visits, seed: seed)
      .tap do |walk|
        walk.go(acts)
        walk.end_well
      end
  end

  count.times do |number|
    it "keeps what was seen as kept, once, at its own place (seed #{seed + number})" do
      walk = walk(seed + number, 12)
      expect(walk.faults).to(
        be_empty,
        -> { "#{walk.faults.join("\n")}\nafter: #{walk.told.join(", ")}" }
      )
    ensure
      walk&.close
    end
  end
end
