# frozen_string_literal: true

require "web_helper"
require "support/whole_jobs"

# Two devices of one wearer at one sitting: identity and cautions are asked once, what is new is marked.
RSpec.describe "Two devices in one visit", :rolled_back do
  include WholeJobs

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:patient) { make_patient(clinic, fitter) }
  let(:knee) { make_visit(clinic, fitter, patient: patient) }
  let(:store) { Handrail::Store }

  let(:second) { order_of("ankle_lace_up") }

  def order_of(family)
    made = demo_product(family)
    fields =
      made
        .device_family
        .fields
        .select { |f| f.required || f.same_as }
        .to_h do |f|
          value =
            made.options[f.same_as] || made.device_family.option(f.same_as).default if f.same_as
          [f.key, value || (f.type == "choice" ? f.choices.first.key : "60")]
        end
    make_visit(
      clinic,
      fitter,
      patient: patient,
      product: made,
      side: made.device_family.sides.first,
      fields: fields
    )
  end

  before { sign_in(fitter) }

  it "offers what was asked at this sitting, marks what the other device did not ask, and says so in the record" do
    ask(knee, fitter, care: %w[diabetes])
    get "/visits/#{second.id}/order"
    expect(text).to match(/You asked at \d\d:\d\d for the left knee unloader/)
    expect(html).to match(/name="identity" value="yes"\s+checked/)
    beside = html[/name="beside" value="(\d+)"/, 1]
    run(second, fitter, :AskCautions, identity: "yes", stops: [], care: [], beside: beside)
    expect(record(second).events.last[:said]).to match(
      /as asked at \d\d:\d\d for the left knee unloader/
    )
    expect(record(second).gates).to be_open(:measure)
  end

  it "links the wearer's other visit of today" do
    ask(knee, fitter)
    get "/visits/#{second.id}/order"
    expect(text).to include "Also today: left knee unloader"
    expect(html).to include "/visits/#{knee.id}/measure"
  end

  it "takes over nothing of another fitter, of a stop sign, of two hours ago, or of another wearer" do
    colleague = make_account(clinic)
    ask(knee, colleague)
    get "/visits/#{second.id}/order"
    expect(text).not_to include "You asked at"
    ask(knee, fitter)
    stranger = make_visit(clinic, fitter)
    get "/visits/#{stranger.id}/order"
    expect(text).not_to include "You asked at"
    allow(store).to receive(:now).and_return(Time.now + (3 * 3600))
    get "/visits/#{second.id}/order"
    expect(text).not_to include "You asked at"
  end

  it "is refused where the wearer's record has another name since, or a stop sign was seen there" do
    ask(knee, fitter)
    beside = store.db[:safety_questions].order(:id).last[:id]
    patient.refresh.update(given_name: "Another")
    take_over = -> do
      run(second, fitter, :AskCautions, identity: "yes", stops: [], care: [], beside: beside)
    end
    expect(&take_over).to raise_error(store::Unacceptable, /stands no longer/)
    patient.refresh.update(given_name: "Wilma")
    ask(knee, fitter, stops: %w[severe_pain])
    expect do
      run(
        second,
        fitter,
        :AskCautions,
        identity: "yes",
        beside: store.db[:safety_questions].max(:id)
      )
    end.to(raise_error(store::NotKept))
  end

  it "is asked in full, where it is not at one sitting with another" do
    get "/visits/#{second.id}/order"
    expect(html).not_to match(/name="identity" value="yes"\s+checked/)
    expect(html).not_to include 'class="is-new"'
  end
end
