# frozen_string_literal: true

require "store_helper"
require "support/whole_jobs"

# Steps that are ticked together: by whom, and which.
RSpec.describe "Steps in one go", :rolled_back do
  include WholeJobs

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:job) { sized_job("knee_unloader", make_product(clinic)) }
  let(:applying) { record(job).fit.applying }

  def go(from, through) = run(job, fitter, :FinishStep, step: from, through: through)

  it "is refused to who has not switched it on" do
    expect { go(applying.open.first.key, applying.open[1].key) }.to raise_error(
      Handrail::Store::Unacceptable,
      /switch on in your own settings/
    )
  end

  context "when it is switched on" do
    before { Handrail::Store::Ways.change(fitter, %w[one_go nonsense]) }

    it "keeps a row for each, in one entry, and stops before what hangs on a grave hazard" do
      expect(fitter.refresh.own_ways.to_a).to eq %w[one_go]
      first = applying.open.first
      expect(Handrail::Families::Hazards.steps_apart(record(job).family)).to include first.key
      expect { go(first.key, applying.open[1].key) }.to raise_error(Handrail::Store::Unacceptable)
      run(job, fitter, :FinishStep, step: first.key)
      run_of =
        record(job).fit.applying.together(
          Handrail::Families::Hazards.steps_apart(record(job).family)
        )
      expect(run_of.size).to be > 1
      before = record(job).version
      go(run_of.first.key, run_of.last.key)
      expect(record(job).version).to eq before + 1
      expect(record(job).fit.applying.done).to eq [first.key, *run_of.map(&:key)]
    end

    it "takes no step out of turn, and none beyond the one that can not be undone" do
      run(job, fitter, :FinishStep, step: applying.open.first.key)
      open = record(job).fit.applying.open
      expect { go(open[1].key, open[2].key) }.to raise_error(Handrail::Store::Unacceptable)
      final = open.find(&:for_good)
      expect { go(open.first.key, final.key) }.to raise_error(Handrail::Store::Unacceptable)
      expect(record(job).fit.applying.done.size).to eq 1
    end
  end
end
