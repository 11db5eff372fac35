# frozen_string_literal: true

require "spec_helper"
require "prop_check"

RSpec.describe Handrail::Followup::Openings do
  opening = described_class::Opening
  taken = described_class::Taken
  monday = Date.new(2026, 11, 30)
  week = (monday..(monday + 4)).to_a
  nine_to_five = ->(_day) { [540, 1020] }

  def free(count = 2, **how)
    with = how.slice(:with, :after)
    days = how.fetch(:days)
    described_class.new(**how.except(:with, :after, :days)).first(count, days: days, **with)
  end

  it "proposes two times a day, two hours apart, within the hours" do
    found = free(4, minutes: 30, open: nine_to_five, days: week)
    expect(found.map { |one| [one.day, one.minute] }).to eq [
         [monday, 540],
         [monday, 660],
         [monday + 1, 540],
         [monday + 1, 660]
       ]
  end

  it "ends with the clinic's day, not after it" do
    short = ->(_day) { [540, 600] }
    expect(free(1, minutes: 60, open: short, days: [monday])).to eq [
         opening[day: monday, minute: 540]
       ]
    expect(free(1, minutes: 61, open: short, days: [monday])).to be_empty
  end

  it "passes over a day on which the clinic is shut" do
    shut = ->(day) { day == monday ? nil : [540, 1020] }
    expect(free(1, minutes: 30, open: shut, days: week).first.day).to eq monday + 1
  end

  it "begins after now on the first day, at a quarter" do
    found = free(3, minutes: 30, open: nine_to_five, days: week, after: 1000 - 9)
    expect(found.map { |one| [one.day, one.minute] }.first(2)).to eq [
         [monday + 1, 540],
         [monday + 1, 660]
       ]
    expect(free(1, minutes: 30, open: nine_to_five, days: week, after: 601).first.minute).to eq 615
  end

  it "puts nobody in two places and fills no room twice" do
    people = { 1 => nine_to_five, 2 => ->(_day) { [600, 720] } }
    busy = [taken[day: monday, from: 540, to: 600, who: 1, room: "Blue"]]
    how = {
      minutes: 30,
      open: nine_to_five,
      people: people,
      rooms: %w[Blue],
      taken: busy,
      days: [monday]
    }
    expect(free(1, **how)).to eq [opening[day: monday, minute: 600, who: 1, room: "Blue"]]
    expect(free(1, **how, rooms: %w[Blue Red], with: 2)).to eq [
         opening[day: monday, minute: 600, who: 2, room: "Blue"]
       ]
    # the first is busy, the second does not work yet
    expect(free(1, **how, rooms: %w[Blue Red]).first.minute).to eq 600
  end

  it "proposes nothing that meets what is taken, whatever is taken" do
    from = PropCheck::Generators
    one =
      from.tuple(from.choose(0..4), from.choose(540..1000), from.choose(5..120), from.choose(1..2))
    PropCheck.forall(from.array(one), from.choose(5..180)) do |booked, minutes|
      busy =
        booked.map do |day, from, lasting, who|
          taken[day: monday + day, from: from, to: from + lasting, who: who, room: "Room #{who}"]
        end
      people = { 1 => nine_to_five, 2 => nine_to_five }
      found =
        free(
          6,
          minutes: minutes,
          open: nine_to_five,
          people: people,
          rooms: ["Room 1", "Room 2"],
          taken: busy,
          days: week
        )
      met =
        found.any? do |one|
          busy.any? do |other|
            other.meets?(one.day, one.minute, one.minute + minutes) &&
              (other.who == one.who || other.room == one.room)
          end
        end
      expect(met).to be false
      expect(found.map(&:minute)).to all(be_between(540, 1020 - minutes))
    end
  end
end
