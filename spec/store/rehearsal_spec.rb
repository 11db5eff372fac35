# frozen_string_literal: true

require "store_helper"
require_relative "../support/whole_jobs"
require_relative "../../bin/support/rehearsals"

# A rehearsal on rows in memory, and the same commands on the database, come to the same.
RSpec.describe Handrail::Store::Rehearsal, :rolled_back do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  # where a visit stands: what holds it back, each check, each step, what is still to be read
  def standing(visit)
    visit.by_edition do
      [
        visit.gates.blocks(:hand_over).map(&:name),
        visit.sides.map do |side|
          visit.fit.checklist(side).items.map { |item| [item.key, item.state] }
        end,
        visit.sides.map { |side| visit.fit.applying(side).open.map(&:key) },
        visit.unread.map(&:key),
        visit.sides.map { |side| visit.sizing.choice(side)&.fetch(:chosen) }
      ]
    end
  end

  def without_basis(standing) =
    [standing[0].map { |name| name.except("rests_on") }, *standing.drop(1)]

  # the events of the plain walk up to the piece
  def rehearsed(family)
    events = CSV.read(File.join(Handrail::GoldenWalk::FOLDER, family.key, "plain.csv")).drop(1)
    last = events.rindex { |name, _| name == "issue" }
    Handrail::Exchange::RehearseCommand
      .rehearsal(family)
      .tap { |played| events[..last].each { |event| played.play(*event) } }
      .visit
  end

  Handrail::Families::Registry.all.each_value do |family|
    it "#{family.key}: stands where the database's own visit stands" do
      kept = record(sized_job(family.key))
      expect(without_basis(standing(rehearsed(family)))).to eq without_basis(standing(kept))
    end
  end
end
