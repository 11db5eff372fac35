# frozen_string_literal: true

require "web_helper"

# Reading from the tape and the sensor on the bench.
RSpec.describe "Instruments on the bench", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }
  let(:tape) { make_stand_in("tape", seed: 3) }
  let(:base) { "/visits/#{visit.id}" }

  before do
    sign_in(fitter)
    ENV["HANDRAIL_TAPE"] = "127.0.0.1:#{tape.port}"
  end

  after do
    %w[HANDRAIL_TAPE HANDRAIL_SENSOR HANDRAIL_STAND_INS].each { |name| ENV.delete(name) }
    tape.stop
  end

  # pressed while the page is open
  def press(truth, *lines)
    wire = Handrail::Instruments.at("tape")
    [*lines, "PRESS #{truth}"].each { |line| wire.command(line) }
  end

  # from a page that was opened so many seconds ago
  def ask_tape(opened: 30, from: base)
    send_form(
      "#{from}/tape",
      from: "#{from}/measure",
      at: "calf_15_below_mid_patella:left",
      opened: Time.now.to_i - opened
    )
  end
  def origin = html.scan(/name="(source|message|sent)" value="([^"]*)"/).to_h

  def take_it(value = origin["sent"])
    send_form(
      "#{base}/readings",
      from: "#{base}/measure",
      site: CoreHelpers::CALF,
      side: "left",
      unit: "cm",
      value: value,
      **origin.transform_keys(&:to_sym)
    )
  end

  it "puts what was sent into the strip, and keeps it with the tape's name once it is taken" do
    press(365)
    ask_tape
    expect(text).to match(/Tape: 36\.\d cm\. Take it, or press again/)
    expect(html).to match(/id="value"[^>]*value="36\.\d"/)
    expect(record(visit).rows(:readings)).to eq []
    sent = origin
    take_it
    row = record(visit).rows(:readings).last
    expect(row.slice(:source, :message)).to eq(source: "tape", message: sent["message"])
    ask_tape
    expect(text).to include "Nothing was sent from the tape yet"
  end

  it "never brings one wearer's reading to the next: what was pressed before the bench opened is not taken" do
    press(700)
    press(800)
    ask_tape
    take_it
    other = make_visit(clinic, fitter).tap { |made| ask(made, fitter) }
    ask_tape(from: "/visits/#{other.id}")
    expect(text).to include "Nothing was sent from the tape yet"
    # pressed for the wearer before, never taken, and another bench opens
    press(690, "LATE 20")
    ask_tape(from: "/visits/#{other.id}", opened: 5)
    expect([html[/id="value"[^>]*value="[^"]+"/], text]).to match [
            nil,
            /was read before this page was opened/
          ]
    # a page that does not say when it was opened takes nothing
    press(690, "LATE 20")
    send_form("/visits/#{other.id}/tape", from: "/visits/#{other.id}/measure", opened: "")
    expect(text).to include "was read before this page was opened"
  end

  it "does not take the same message twice, though the tape sends it twice" do
    press(365)
    ask_tape
    first = origin
    take_it
    Handrail::Instruments.at("tape").command("REPEAT")
    ask_tape
    # the second of a press is told a second apart: it is the same press
    expect(origin["message"][/\A[^@]+/]).to eq first["message"][/\A[^@]+/]
    take_it
    expect([last_response.status, text]).to match [422, /taken already/]
    expect(record(visit).rows(:readings).size).to eq 1
  end

  it "takes from a tape that was restarted, and says so; and nothing of one press at two moments" do
    2.times { press(365, "LATE 20") }
    ask_tape(opened: 60)
    name = origin["message"][/\A[^:]+/]
    take_it
    restarted = make_stand_in("tape", seed: 4, name: name)
    ENV["HANDRAIL_TAPE"] = "127.0.0.1:#{restarted.port}"
    press(366)
    ask_tape
    expect(text).to include("It counts from the beginning again")
    take_it
    expect(record(visit).rows(:readings).size).to eq 2
    # another process of the server was told of the same press at another moment
    press(365)
    name, number, moment = Handrail::Instruments.at("tape").newest.press
    Handrail::Store::DevicePresses.swap(name, [number, moment - 90])
    ask_tape
    expect(text).to include("its clock is off").and include("Nothing was taken")
  ensure
    restarted&.stop
  end

  # whether the page is told that something was pressed: the status
  def arrived(kind = "tape", opened: Time.now.to_i - 30)
    get "#{base}/arrived", "kind" => kind, "opened" => opened
    last_response.status
  end

  def says(here, kind = "tape")
    get "#{base}/measure"
    post "#{base}/instrument",
         "authenticity_token" => token,
         "kind" => kind,
         "here" => here,
         "stage" => "measure"
  end

  it "is told by itself where the tape is, at one bench at a time, and only what was pressed since" do
    press(365, "LATE 20")
    expect(arrived).to eq 409
    says("yes")
    expect(last_response.status).to eq 303
    get "#{base}/measure"
    expect(html).to include('data-arrives="/visits/').and include("arrives here by itself")
    expect([arrived, arrived]).to eq [200, 200]
    # what was pressed before the page was made is another wearer's
    expect(arrived(opened: Time.now.to_i - 5)).to eq 204
    ask_tape(opened: 60)
    take_it
    expect(arrived).to eq 204
    # a colleague has it now
    colleague = make_account(clinic)
    sign_out
    sign_in(colleague)
    says("yes")
    sign_out
    sign_in(fitter)
    expect([arrived, last_response.body]).to eq [409, colleague.name]
    # what is said by who does not have it changes nothing
    says("no")
    expect(Handrail::Store::DeviceBenches.at?("tape", colleague)).to be true
    expect([arrived("kettle"), arrived("sensor")]).to eq [404, 409]
  end

  it "says nothing of the tape to another clinic, nor to the front desk" do
    says("yes")
    sign_out
    elsewhere = make_clinic
    sign_in(make_account(elsewhere))
    expect(arrived).to eq 404
    expect(Handrail::Store::DeviceBenches.whose("tape", elsewhere)).to be_nil
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    expect(arrived).to eq 403
  end

  it "takes inches as inches, and millimetres with their unit" do
    press(381, "UNIT in")
    ask_tape
    expect(html).to include('class="unit">in<')
    press(365, "UNIT mm")
    ask_tape
    expect(origin["sent"]).to match(/\A36[45]\.\d mm\z/)
  end

  it "says what is wrong, loses nothing, and lets the reading be typed" do
    { "DROP 1" => /does not answer/, "GARBLE 1" => /can not be read/ }.each do |line, words|
      press(365)
      Handrail::Instruments.at("tape").command(line)
      ask_tape
      expect([line, last_response.status, text]).to match [line, 200, words]
      expect(html).to include 'id="value"'
    end
    press(365, "BATTERY 6")
    ask_tape
    expect(text).to include "Its battery is low: 6 %."
    ENV["HANDRAIL_TAPE"] = "127.0.0.1:1"
    ask_tape
    expect(text).to include "does not answer"
    take_it("36.5")
    expect(record(visit).rows(:readings).last[:source]).to eq "typed"
  end

  it "shows no button where no tape is set up" do
    ENV.delete("HANDRAIL_TAPE")
    get "#{base}/measure"
    expect(text).not_to include "Read from the tape"
    ask_tape
    expect([last_response.status, text]).to match [200, /No tape is set up/]
  end

  it "has the stand-ins' buttons in the demo alone, for fitters" do
    ENV["HANDRAIL_STAND_INS"] = "yes"
    expect(get("/devices").status).to eq 404
    clinic.update(demo: true)
    get "/devices"
    expect(text).to include "Stand-ins of the instruments"
    send_form("/devices/tape", from: "/devices", does: "press", value: "365")
    expect(text).to include "Done."
    send_form("/devices/tape", from: "/devices", does: "explode", value: "1")
    expect(last_response.status).to eq 404
    ask_tape
    expect(origin["sent"].to_f).to be_within(0.3).of(36.5)
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    expect(get("/devices").status).to eq 403
  end
end
