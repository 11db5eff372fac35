# frozen_string_literal: true

require "web_helper"

# The database goes away in the middle of an entry: the connection's own server process is ended, as it is
# when the machine under it stops. The entry is not half there, is said not to be kept, and can be sent again.
RSpec.describe "A database that goes away" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  before { sign_in(fitter) }

  # ends the connection that is being written on, once, at the last thing that an entry does
  def gone_once
    left = [true]
    allow(Handrail::Store::Summaries).to receive(:keep).and_wrap_original do |keep, *given|
      if left.pop
        own = Handrail::Store.db.get(Sequel.function(:pg_backend_pid))
        Sequel.connect(ENV.fetch("DATABASE_URL")) do |other|
          other.get(Sequel.function(:pg_terminate_backend, own))
        end
      end
      keep.call(*given)
    end
  end

  def again(path, fields)
    post path, fields
    last_response.status
  end

  it "says that the disk is full, and that nothing can be kept until there is room" do
    full = Sequel::DatabaseError.new("no room")
    allow(full).to receive(:cause).and_return(PG::DiskFull.new("could not extend file"))
    visit = make_visit(clinic, fitter)
    allow(Handrail::Store::Summaries).to receive(:keep).and_raise(full)
    get "/visits/#{visit.id}/order"
    post "/visits/#{visit.id}/notes",
         "text" => "x",
         "entry_key" => SecureRandom.uuid,
         "authenticity_token" => token
    expect(last_response.status).to eq 507
    expect(text).to include("The disk is full", "The last thing you sent was not saved")
    expect(record(visit).notes).to be_empty
  end

  it "in the middle of a reading: nothing is kept, and the same entry sent again is there once" do
    visit = make_visit(clinic, fitter).tap { |made| ask(made, fitter) }
    get "/visits/#{visit.id}/measure"
    fields = {
      "site" => CoreHelpers::CALF,
      "side" => "left",
      "unit" => "cm",
      "value" => "36.5",
      "entry_key" => SecureRandom.uuid,
      "authenticity_token" => token
    }
    gone_once
    path = "/visits/#{visit.id}/readings"
    expect(again(path, fields)).to eq 503
    expect(record(visit).rows(:readings)).to be_empty
    expect([again(path, fields), again(path, fields)]).to all(be < 400)
    expect(record(visit).rows(:readings).map { |row| row[:typed] }).to eq ["36.5"]
  end

  it "in the middle of closing a recheck: it stays open, and is closed once with one recheck after it" do
    later = recheck_to_close(clinic, fitter)
    get "/visits/#{later.id}/recheck"
    fields = { "entry_key" => SecureRandom.uuid, "authenticity_token" => token }
    gone_once
    path = "/visits/#{later.id}/close"
    expect(again(path, fields)).to eq 503
    expect([later.refresh.closed_at, record(later).visits.size]).to eq [nil, 2]
    expect([again(path, fields), again(path, fields)]).to all(be < 400)
    expect([record(later).closed?, record(later).visits.size]).to eq [true, 3]
  end
end
