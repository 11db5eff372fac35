# frozen_string_literal: true

require "store_helper"

# Who died, moved away or wants no calls is not waited for, and is again once that is taken back.
RSpec.describe "A wearer at rest", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:worn) { handed_over_visit(clinic, fitter) }
  let(:later) { record(worn).visits.last }
  let(:wearer) { store::Patient[record(worn).patient.id] }

  def rest(kind = "moved_away", **more)
    form = {
      patient: wearer.id,
      rest: kind,
      on: clinic.today.iso8601,
      said: "the daughter",
      **more
    }
    desk(clinic, make_account(clinic, "front_desk")).run(
      Handrail::Store::Commands::RestPatient.new(form.transform_keys(&:to_s))
    )
  end

  def waits(days = 40)
    moment = clinic.moment(clinic.today + days, 12, 0)
    Handrail::Store::Day.new(clinic, now: moment).lists.values.flat_map(&:lines).map(&:id)
  end

  it "is on no list and gets no word, until it is taken back" do
    run(later, fitter, :BookVisit, day: (clinic.today + 9).iso8601, time: "10:00", anyway: "yes")
    booked = -> do
      store::Planning.new(clinic).booked((clinic.today + 9)..(clinic.today + 9)).map(&:id)
    end
    expect([waits.include?(later.id), booked.call]).to eq [true, [later.id]]
    rest
    expect([waits, booked.call]).to eq [[], []]
    written = store.db[:messages].count
    run(later, fitter, :BookVisit, day: (clinic.today + 10).iso8601, time: "10:00", anyway: "yes")
    expect(store.db[:messages].count).to eq written
    rest("")
    expect(waits).to include later.id
    expect(wearer.refresh.values.values_at(:rest, :rest_on, :rest_said)).to eq [nil, nil, nil]
  end

  it "wants to know what it is, since when and who said so" do
    expect { rest("asleep") }.to raise_error(store::Faults, /Say what it is/)
    expect { rest(said: " ") }.to raise_error(store::Faults, /who said so/)
    expect { rest(on: (clinic.today + 1).iso8601) }.to raise_error(store::Faults, /not come yet/)
    expect { rest("") }.to raise_error(store::Faults, /due already/)
  end

  it "gets no new order once they died, and orders of others wait for nobody either" do
    rest("died")
    expect { make_visit(clinic, fitter, patient: wearer) }.to raise_error(store::Faults, /died on/)
    rest("")
    rest("no_calls")
    fresh = make_visit(clinic, fitter, patient: wearer.refresh)
    expect(waits).not_to include fresh.id
  end
end
