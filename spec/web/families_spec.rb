# frozen_string_literal: true

require "web_helper"

RSpec.describe "Pages of every kind of device", :rolled_back do
  let(:demo) { DEMO }
  let(:fitter) { Handrail::Store::Account.first(email: "maren@heronquay.example") }

  before { sign_in(fitter) }

  def of(name, purpose = "first")
    patient =
      Handrail::Store::Patient
        .where(clinic_id: demo.id)
        .where(Sequel.|({ family_name: name }, { given_name: name }))
        .first
    Handrail::Store::Visit
      .where(purpose: purpose, fitting_id: patient.fittings_dataset.select(:id))
      .order(:id)
      .last
  end

  def page(path)
    get path
    expect(last_response.status).to eq(200), "#{path}: #{last_response.status}"
    text
  end

  %w[
    Lindhoff
    Doyle
    Hale
    Noor
    Finch
    Remer
    Oduya
    Ruiz
    Tal
    Pym
    Ferrier
    Marlow
    Pilot
    Biscuit
  ].each do |name|
    it "shows order, bench, size and fit of #{name} without a stumble" do
      id = of(name).id
      unless record(of(name)).safety.questions || record(of(name)).safety.stops.any?
        ask(of(name), fitter)
      end
      next page("/visits/#{id}/order") if record(of(name)).safety.stops.any?

      %w[order measure size fit teach hand-over].each { |stage| page("/visits/#{id}/#{stage}") }
      page("/visits/#{id}/computed")
      page("/visits/#{id}/fits")
      expect(last_response.body).not_to match(/\{\w+(\.says)?\}/)
    end
  end

  it "asks which device was ordered, those of the patient's species, and shows only its own products" do
    patient = make_patient(demo, fitter)
    expect(page("/patients/#{patient.id}/orders/new")).to include(
      "Which device was ordered?",
      "Knee frame"
    ).and not_include("Hock brace")
    expect(page("/patients/#{patient.id}/orders/new?family=foot_insole")).to include(
      "Pellow shaped insole"
    ).and not_include("Marram")
    dog = Handrail::Store::Patient.first(given_name: "Biscuit")
    expect(page("/patients/#{dog.id}/orders/new?pick=1")).to include("Limb splint")
    expect(page("/patients/#{dog.id}/orders/new")).to include("New order: limb splint")
  end

  RSpec::Matchers.define_negated_matcher :not_include, :include

  it "keeps every field of an order that can not be taken" do
    patient = make_patient(demo, fitter)
    product = Handrail::Store::Product.first(clinic_id: demo.id, name: "day stocking to the thigh")
    send_form(
      "/patients/#{patient.id}/orders",
      from: "/patients/#{patient.id}/orders/new?family=graduated_stocking",
      family: "graduated_stocking",
      side: "both",
      product_id: product.id,
      prescriber: "Dr Spec",
      prescribed_on: "31 Feb 2026",
      "fields[indication]": "veins <both>",
      "fields[class]": "ral3",
      "fields[length]": "knee"
    )
    expect([last_response.status, text]).to match [
            422,
            /is made for thigh length. Choose that, or another product.*no day of the calendar/
          ]
    expect(html).to include('value="ral3" selected', "veins &lt;both&gt;", 'value="31 Feb 2026"')
    %w[both knee].each { |value| expect(last_response.body).to match(/value="#{value}"\s+checked/) }
  end

  it "keeps the pressures of a rejected index in their fields" do
    id = of("Oduya").id
    send_form(
      "/visits/#{id}/order",
      from: "/visits/#{id}/order",
      identity: "yes",
      "pressures[arm_left]": "140",
      "pressures[ankle_left_front]": "9",
      "care[]": "pulses",
      note: "cold feet"
    )
    expect([last_response.status, text]).to match [422, /no systolic pressure/]
    expect(html).to include(
      'name="pressures[ankle_left_front]" value="9"',
      'value="pulses" checked',
      'value="cold feet"'
    )
  end

  it "refuses a load that the harness may not carry, on the order page and on the note for the prescriber" do
    id = of("Pym").id
    expect(page("/visits/#{id}/order")).to include(
      "Do not fit. Tell the prescriber.",
      "heavier than this harness may carry (136 kg)"
    )
    expect(page("/visits/#{id}/referral")).to include("heavier than this harness may carry")
  end

  it "says on the board what each visit needs, whatever the device" do
    board = page("/")
    expect(board).to include(
      "Still to read: Hip, midway iliac crest to greater trochanter",
      "left M regular, right L regular"
    ).or include(
           "Still to read: Hip, midway iliac " \
             "crest to greater trochanter"
         )
    expect(board).to match(/Low on the shelf.*M regular Seacombe ward stocking/)
  end

  it "shows the pair's difference, judged, and both limbs in one picture" do
    get "/visits/#{of("Doyle").id}/measure?at=calf_widest:right"
    expect(text).to include(
      "Right reads 34 mm more than left: more than is usual between two sides"
    )
    expect(last_response.body[/<svg[^>]*class="figure"[^>]*>/]).to include(
      "Right leg from the front: calf, " \
        "widest 39.5 cm; Left leg from the " \
        "front: calf, widest 36.1 cm"
    )
  end

  it "goes on where a paused sheet stopped" do
    get "/visits/#{of("Lindhoff").id}/measure"
    expect(last_response.body).to include(">Hip, midway")
  end

  it "offers a trial size by the lengths, and takes what is seen" do
    visit = of("Remer")
    expect(page("/visits/#{visit.id}/size?side=right")).to include(
      "The trial decided: 42 (the lengths alone " \
        "said 41)",
      "41: too small"
    )
    send_form(
      "/visits/#{visit.id}/trials",
      from: "/visits/#{visit.id}/size?side=right",
      side: "right",
      size: "43",
      outcome: "large"
    )
    expect(page("/visits/#{visit.id}/size?side=right")).to include("43: too large")
    send_form(
      "/visits/#{visit.id}/trials",
      from: "/visits/#{visit.id}/size",
      side: "left",
      size: "99",
      outcome: "good"
    )
    expect([last_response.status, text]).to match [422, /Choose the trial size that is on/]
  end

  it "asks for a reason when another size than the advised is taken, and keeps what was chosen" do
    visit = of("Finch")
    send_form("/visits/#{visit.id}/size", from: "/visits/#{visit.id}/size", size: "L")
    expect([last_response.status, text]).to match [422, /M is advised. Say why you take L/]
    expect(last_response.body).to match(/value="L"\s+checked/)
    send_form(
      "/visits/#{visit.id}/size",
      from: "/visits/#{visit.id}/size",
      size: "made to measure",
      why: "steep calf"
    )
    expect(page("/visits/#{visit.id}/size")).to include("M was advised. steep calf")
  end

  # bad readings by the dozen: each is kept in the field, said how to write it, and nothing is
  # written
  [
    "",
    "  ",
    "tight",
    "-4",
    "0",
    "16 to 17",
    "14 9/8",
    "14/0",
    "1,250",
    "12 span",
    "4 ft 15 in",
    "٣٦",
    "36..5",
    "3 6",
    "=1+1",
    "<b>36</b>",
    "36 cm 2 mm",
    "1e3"
  ].each do |typed|
    it "keeps “#{typed}” in the field and takes nothing" do
      visit = of("Lindhoff")
      before = record(visit).rows(:readings).size
      send_form(
        "/visits/#{visit.id}/readings",
        from: "/visits/#{visit.id}/measure",
        site: "hip_mid_crest_trochanter",
        posture: "standing",
        tension: "firm",
        unit: "cm",
        value: typed
      )
      expect([last_response.status, record(visit).rows(:readings).size]).to eq [422, before]
      expect(last_response.body).to include(
        %(value="#{Rack::Utils.escape_html(typed)}")
      ).and include('role="alert"')
    end
  end

  it "does not take a posture or a tension that the site does not know" do
    visit = of("Lindhoff")
    send_form(
      "/visits/#{visit.id}/readings",
      from: "/visits/#{visit.id}/measure",
      site: "hip_mid_crest_trochanter",
      posture: "lying",
      unit: "cm",
      value: "99"
    )
    expect([last_response.status, text]).to match [422, /Choose one of standing/]
    send_form(
      "/visits/#{visit.id}/readings",
      from: "/visits/#{visit.id}/measure",
      site: "hip_mid_crest_trochanter",
      posture: "standing",
      tension: "crushing",
      unit: "cm",
      value: "99"
    )
    expect([last_response.status, text]).to match [422, /Choose one of resting, snug, firm, hard/]
  end

  it "does not take a reading for a rival of one that it never stands in for" do
    visit = of("Biscuit")
    ask(visit, fitter)
    send_form(
      "/visits/#{visit.id}/readings",
      from: "/visits/#{visit.id}/measure",
      site: "carpus_below",
      side: "right",
      posture: "lying",
      unit: "cm",
      value: "9.6"
    )
    expect(page("/visits/#{visit.id}/measure")).to not_include("can not stand in")
  end

  it "reads a hip at the wrong tension, and says that it can not stand in" do
    visit = of("Lindhoff")
    send_form(
      "/visits/#{visit.id}/readings",
      from: "/visits/#{visit.id}/measure",
      site: "hip_mid_crest_trochanter",
      posture: "standing",
      tension: "resting",
      unit: "cm",
      value: "99"
    )
    expect(page("/visits/#{visit.id}/measure")).to include(
      "The chart wants hip midway iliac crest to greater " \
        "trochanter standing, firm; the reading there is " \
        "standing, resting, and can not stand in for it."
    )
  end
end
