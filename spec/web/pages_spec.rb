# frozen_string_literal: true

require "web_helper"
require "nokogiri"

RSpec.describe "Pages", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }
  let(:measure) { "/visits/#{visit.id}/measure" }

  before { sign_in(fitter) }

  def reading(value, from: measure, **fields)
    send_form(
      "/visits/#{visit.id}/readings",
      from: from,
      site: CoreHelpers::CALF,
      side: "left",
      unit: "cm",
      value: value,
      **fields
    )
  end

  it "says of a list that is cut how much more there is" do
    words = Object.new.extend(Handrail::Web::Helpers::Format)
    cut = ->(shown, count) { Handrail::Store::Day::Cut[lines: Array.new(shown), count: count] }
    expect(
      [cut[6, 23], cut[40, 41], cut[6, nil], cut[6, 40]].map { |one| words.rest_of(one) }
    ).to eq ["All 23, 17 more", "All of them, more than 40", "All of them", "All 40, 34 more"]
  end

  it "keeps every typed value of a rejected form and says what each field wants" do
    send_form(
      "/patients",
      from: "/patients/new",
      given_name: "Wilma",
      family_name: "",
      born_on: "31 Feb 1961",
      record_number: "W 1",
      species: "human",
      note: "hard <of> hearing"
    )
    expect(last_response.status).to eq 422
    expect(last_response.body).to include(
      'value="Wilma"',
      'value="31 Feb 1961"',
      'value="W 1"',
      "hard &lt;of&gt; hearing"
    )
    expect(text).to include("Write the family name", "no day of the calendar")
  end

  it "keeps a rejected order, and names the field" do
    patient = make_patient(clinic, fitter)
    product = make_product(clinic)
    send_form(
      "/patients/#{patient.id}/orders",
      from: "/patients/#{patient.id}/orders/new",
      family: "knee_unloader",
      side: "left",
      product_id: product.id,
      prescriber: "Dr Spec",
      prescribed_on: "24 Nov 2999",
      "fields[compartment]": "medial",
      "fields[indication]": ""
    )
    expect([last_response.status, text]).to match [
            422,
            /What for: this is needed.*can not be dated after today/
          ]
    expect(last_response.body).to match(/value="medial"\s+checked/).and include('value="Dr Spec"')
  end

  it "keeps a reading that can not be read in the field, and writes nothing" do
    reading("16 to 17")
    expect([last_response.status, last_response.body]).to match [422, /value="16 to 17"/]
    expect(text).to include("is two readings")
    expect(record(visit).rows(:readings)).to be_empty
  end

  it "shows the verdict as soon as a reading is taken" do
    reading("37.3")
    get measure
    expect(text).to match(/M, but only just.*2 mm inside the nearest edge/)
    expect(last_response.body).to include(
      'aria-label="calf 15 cm below mid patella 37.3 cm on the sizes ' \
        'S 32 to 35.4 cm, M 35.5 to 37.5 cm, L 37.6 to 41 cm"'
    )
  end

  it "asks about the other unit at once, and takes the answer" do
    reading("14")
    follow_redirect!
    expect(text).to include("Was it 14 in?", "kept, and not used until you say")
    row = record(visit).rows(:readings).last
    send_form("/visits/#{visit.id}/readings/#{row[:id]}/answer", from: measure, answer: "other")
    expect(record(visit).repeats(CoreHelpers::CALF, "left").length).to eq length("14 in")
  end

  it "shows the second saver what changed, with their reading still in the field, and takes it when sent again" do
    get measure
    hidden =
      last_response
        .body
        .scan(/<input type="hidden" name="(seen|page|entry_key)" value="([^"]*)"/)
        .to_h
        .merge("authenticity_token" => token)
    take(visit, make_account(clinic), "36.2")
    form = { "site" => CoreHelpers::CALF, "side" => "left", "unit" => "cm", "value" => "36.9" }
    post "/visits/#{visit.id}/readings", hidden.merge(form)
    expect([last_response.status, last_response.body]).to match [409, /value="36.9"/]
    expect(text).to match(/changed while your page was open.*36.2 cm/)
    again =
      last_response
        .body
        .scan(/<input type="hidden" name="(seen|page|entry_key)" value="([^"]*)"/)
        .to_h
        .merge("authenticity_token" => token)
    post "/visits/#{visit.id}/readings", again.merge(form)
    expect(record(visit).rows(:readings).map { |r| r[:typed] }).to eq %w[36.2 36.9]
  end

  it "answers htmx with the bench alone" do
    get measure, {}, "HTTP_HX_REQUEST" => "true"
    expect(last_response.body.strip).to start_with('<div id="bench"')
  end

  it "stops at a stop sign and prints a note for the prescriber" do
    send_form(
      "/visits/#{visit.id}/order",
      from: "/visits/#{visit.id}/order",
      identity: "yes",
      "stops[]": "cold_toes"
    )
    get "/visits/#{visit.id}/order"
    expect(text).to include(
      "Do not fit. A doctor must see it today.",
      "Cold, blue, white or numb toes"
    )
    get "/visits/#{visit.id}/referral"
    expect(text).to include("was not fitted", "not a diagnosis")
  end

  it "opens a recheck whose fitting ended while a reading of it was asked about" do
    worn = fitted_visit(clinic, fitter)
    teach(worn, fitter)
    hand_over(worn, fitter)
    later = Handrail::Store::Visit.first(fitting_id: worn.fitting_id, purpose: "recheck")
    ask(later, fitter)
    take(later, fitter, "63.5")
    expect(record(later).doubts.size).to eq 1
    run(later, fitter, :EndFitting, why: "healed, no device needed")
    get "/visits/#{later.id}/recheck"
    expect(last_response.status).to eq 200
  end

  it "says on that note of each sign when it was seen and by whom, and who sends it" do
    senior = make_account(clinic, "senior")
    clock = ->(time) { clinic.local(time).strftime("%H:%M") }
    early = Handrail::Store.now - 7200
    late = Handrail::Store.now - 60
    Handrail::Store.at(early) { ask(visit, senior, stops: %w[cold_toes]) }
    Handrail::Store.at(late) do
      run(visit, fitter, :RecordSkin, x: "190", y: "333", side: "left", kind: "open")
    end
    get "/visits/#{visit.id}/referral"
    expect(text).to match(
      /Cold, blue.*at #{clock[early]} by #{senior.name}\..*skin.*at #{clock[late]} by #{fitter.name}\./i
    )
    expect(text).to match(/order stands\. #{fitter.name}, /)
    record(visit)
      .safety
      .stops
      .map(&:key)
      .each do |stop|
        act = { stop: stop, action: "referred", who: "Dr Spec", advice: "seen today, go on" }
        run(visit, fitter, :RecordStopAction, **act)
      end
    get "/visits/#{visit.id}/referral"
    expect(text).to include("No stop sign stands now")
    expect(text).not_to include("was not fitted")
  end

  it "offers remedies for the check that failed, in order, and opens checks again after one" do
    fitted = fitted_visit(clinic, fitter)
    look(fitted, fitter, "slip", value: "16 mm")
    get "/visits/#{fitted.id}/fit"
    expect(text).to match(/It slides down when walking.*Seat strap 1 higher.*Wash off lotion/)
    send_form(
      "/visits/#{fitted.id}/changes",
      from: "/visits/#{fitted.id}/fit",
      problem: "slides_down",
      remedy: "reseat_calf_strap",
      note: "up 20 mm"
    )
    get "/visits/#{fitted.id}/fit"
    expect(text).to include("Look again at seven checks", "up 20 mm")
  end

  it "keeps a setting that can not be read, and writes the ones that can on the next try" do
    fitted = fitted_visit(clinic, fitter)
    send_form(
      "/visits/#{fitted.id}/settings",
      from: "/visits/#{fitted.id}/fit",
      "settings[calf]": "sixty",
      "settings[thigh]": "70"
    )
    expect([last_response.status, last_response.body]).to match [422, /value="sixty"/]
    send_form(
      "/visits/#{fitted.id}/settings",
      from: "/visits/#{fitted.id}/fit",
      "settings[calf]": "60",
      "settings[thigh]": "70"
    )
    expect(
      record(fitted).fit.settings.to_h { |field, row| [field.key, row && row[:value_mm]&.to_i] }
    ).to include("calf" => 60, "thigh" => 70)
  end

  it "prints the wearer's sheet with what was agreed" do
    fitted = fitted_visit(clinic, fitter)
    teach(fitted, fitter)
    hand_over(fitted, fitter, start_hours: "1 hour")
    get "/visits/#{fitted.id}/sheet"
    expect(text).to include(
      "Start with 1 hour a day",
      "Get out of it as above and call us if",
      "Size M",
      "S-1"
    )
  end

  it "books and moves a visit, in the clinic's time, and keeps what can not be read" do
    send_form(
      "/visits/#{visit.id}/book",
      from: "/visits/#{visit.id}/book",
      day: "3 Jul 2027",
      time: "25:00"
    )
    expect([last_response.status, last_response.body]).to match [422, /value="3 Jul 2027"/]
    send_form(
      "/visits/#{visit.id}/book",
      from: "/visits/#{visit.id}/book",
      day: "3 Jul 2027",
      time: "9:40"
    )
    # summer time: 09:40 at the clinic is 08:40 UTC
    expect(Handrail::Store::Visit[visit.id].planned_for).to eq Time.utc(2027, 7, 3, 8, 40)
  end

  it "tells the board what each visit needs next, and what slips away" do
    Handrail::Store::Visit.where(id: visit.id).update(planned_for: Time.now)
    late = handed_over_visit(clinic, fitter)
    Handrail::Store::Visit.where(fitting_id: late.fitting_id, purpose: "recheck").update(
      due_from: clinic.today - 20,
      due_to: clinic.today - 13
    )
    get "/"
    expect(text).to match(/Today, one visit.*Still to read.*Slipping away.*recheck overdue since/)
  end

  it "has pages of its own for what is not there and for what breaks" do
    get "/visits/999999999"
    expect([last_response.status, text]).to match [404, /nothing here.*another clinic/]
    allow(Handrail::Store::Day).to receive(:new).and_raise(Sequel::DatabaseConnectionError)
    get "/"
    expect([last_response.status, text]).to match [
            503,
            /database does not answer.*saved before is safe/
          ]
    allow(Handrail::Store::Day).to receive(:new).and_raise("broken")
    get "/"
    expect([last_response.status, text]).to match [500, /broke on our side/]
  end

  # what the checker of pages (bin/handrail html-check) would find only where Java is
  it "points at nothing that is not there, and escapes no attribute" do
    product = make_product(clinic)
    sized = sized_visit(clinic, fitter)
    paths = [
      "/",
      "/patients/new",
      measure,
      "#{measure}?at=#{CoreHelpers::CALF}:left",
      *%w[order size fit skin record].map { |stage| "/visits/#{sized.id}/#{stage}" },
      "/catalogue/#{product.id}",
      "/week"
    ]
    paths.each do |path|
      get path
      page = Nokogiri.HTML5(last_response.body)
      expect(last_response.status).to eq(200), path
      named = %w[list for aria-describedby aria-labelledby form]
      gone =
        named.flat_map do |name|
          page
            .css("[#{name}]")
            .flat_map { |node| node[name].split }
            .uniq
            .reject { |id| page.at_css("[id='#{id}']") }
            .map { |id| "#{name}=#{id}" }
        end
      quoted = page.xpath("//@*[starts-with(., '\"')]").map(&:to_s)
      expect([path, gone, quoted]).to eq [path, [], []]
    end
  end
end
