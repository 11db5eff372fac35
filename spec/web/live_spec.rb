# frozen_string_literal: true

require "web_helper"

RSpec.describe "What is told to open pages" do
  live = Handrail::Web::Live
  written = Handrail::Store::Written

  describe "its crowd" do
    # its thread is not begun, and the database is said to listen
    let(:crowd) { live::Crowd.new.tap { |one| allow(one).to receive(:start) { one.send(:hears) } } }

    # a socket, as [ours, the browser's]
    def pair = UNIXSocket.pair

    it "tells an entry to the pages of its clinic alone, by number and page, nothing else" do
      ours, theirs = pair
      other, stranger = pair
      crowd.add(ours, clinic: 3, account: 1)
      crowd.add(other, clinic: 4, account: 2)
      crowd.tell(written::Entry.read("3:17:0f0f"))
      expect(theirs.readpartial(4096)).to end_with(
        %(event: written\ndata: {"visit":17,"page":"0f0f"}\n\n)
      )
      expect(stranger.readpartial(4096)).not_to include("written")
      crowd.tell(written::Entry[unsure: true])
      expect(stranger.readpartial(4096)).to include("event: written\ndata: {}\n\n")
    end

    it "tells each page a time of its own at which to come back when the line is lost" do
      soon =
        Array.new(12) do
          ours, theirs = pair
          crowd.add(ours, clinic: 3, account: 1)
          theirs.readpartial(4096)[/\Aretry: (\d+)\n/, 1].to_i
        end
      expect(soon).to all(be_between(2000, 8000))
      expect(soon.uniq.size).to be > 6
    end

    it "lets go of who is gone, who takes nothing more, and whose account was closed" do
      ours, theirs = pair
      crowd.add(ours, clinic: 3, account: 1)
      theirs.close
      crowd.tell(written::Entry.read("3:0:"))
      crowd.tell(written::Entry.read("3:0:"))
      expect(crowd.size).to eq 0

      full, = @kept = pair
      crowd.add(full, clinic: 3, account: 1)
      3000.times { crowd.tell(written::Entry.read("3:17:#{"0" * 200}")) }
      expect(crowd.size).to eq 0

      closed, = @other = pair
      crowd.add(closed, clinic: 3, account: 0)
      crowd.tell(nil)
      expect(crowd.size).to eq 0
    end

    it "holds no more pages of one account than it may" do
      live::MOST.times { crowd.add(pair.first, clinic: 3, account: 1) }
      expect([crowd.room_for?(1), crowd.room_for?(2)]).to eq [false, true]
    end
  end

  it "reads what the database says, with and without a visit and a page" do
    read = written::Entry.method(:read)
    expect(read["3:17:0f"].to_h).to eq(clinic: 3, visit: 17, page: "0f", unsure: nil)
    expect(read["3:0"].to_h).to eq(clinic: 3, visit: nil, page: nil, unsure: nil)
  end

  it "hears every entry that is kept, and none that is not" do
    heard = Queue.new
    thread = Thread.new { written.hear { |entry| heard << entry if entry } }
    clinic = make_clinic
    fitter = make_account(clinic)
    visit = make_visit(clinic, fitter)
    # until the thread listens
    50.times do
      break if heard.size.positive?

      run(visit, fitter, :AddNote, text: "so")
      sleep 0.1
    end
    sleep 0.3
    heard.clear
    expect { run(visit, fitter, :StrikeReading, row: "99", reason: "no") }.to raise_error(
      Handrail::Store::NotKept
    )
    run(visit, fitter, :AddNote, text: "there")
    found = Timeout.timeout(10) { heard.pop }
    expect([found.clinic, found.visit, heard.size]).to eq [clinic.id, visit.id, 0]
  ensure
    thread.kill
  end

  describe "as pages ask", :rolled_back do
    let(:clinic) { make_clinic }
    let(:fitter) { make_account(clinic) }

    it "says the newest entry to who can not wait, and is refused to who is not signed in" do
      get "/live/state"
      expect(last_response.status).to eq 302
      sign_in(fitter)
      get "/live/state"
      before = JSON.parse(last_response.body)["newest"]
      run(make_visit(clinic, fitter), fitter, :AddNote, text: "so")
      get "/live/state"
      expect(JSON.parse(last_response.body)["newest"]).to be > before
      get "/live"
      expect(last_response.status).to eq 503
      get "/live/elsewhere"
      expect(last_response.status).to eq 404
      post "/live", "authenticity_token" => token
      expect(last_response.status).to be_between(403, 405)
    end
  end
end
