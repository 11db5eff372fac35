# frozen_string_literal: true

require "web_helper"

RSpec.describe "The handbook", :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  before { sign_in(fitter) }

  it "has a page for every site and every family, without a gap and without a name left in braces" do
    book = Handrail::Handbook.default
    paths =
      book.sites.values.flatten.map { |site| "/handbook/sites/#{site.key}" } +
        book.families.map { |family| "/handbook/families/#{family.key}" }
    paths.each do |path|
      get path
      expect([path, last_response.status]).to eq [path, 200]
      expect([path, text[/\{\w+(\.says)?\}/]]).to eq [path, nil]
    end
  end

  it "shows a site with landmark, posture, tape, range, what it is taken for and who asks for it" do
    get "/handbook/sites/calf_15_below_mid_patella"
    expect(text).to include(
      "Mark mid patella",
      "sitting, or standing",
      "snug",
      "Easily taken for",
      "Calf, widest part",
      "Knee unloader",
      "common practice, no source"
    )
    expect(last_response.body).to include("<svg xmlns")
  end

  it "shows a family from its stop signs to the recheck" do
    get "/handbook/families/compression_wrap"
    expect(text).to include(
      "Before anything else",
      "Take care with",
      "Measure",
      "Fit",
      "Look at",
      "When something is wrong",
      "Shown by the wearer",
      "Looked at again"
    )
  end

  it "says where practitioners differ and which way is followed" do
    get "/handbook/sources"
    expect(text).to include("Followed here:", "Hip girth of a back support", "ISO 8559-1")
  end

  it "is searched, and says so where nothing has all the words" do
    get "/handbook?q=iliac+crest"
    expect(last_response.body).to include('href="/handbook/sites/hip_mid_crest_trochanter"')
    get "/handbook/found?q=no+such+thing"
    expect(text).to include("Nothing in the handbook has all of these words")
    get "/handbook?q=%3Cscript%3E"
    expect(last_response.body).not_to include("<script>alert", "value=\"<script")
  end

  it "comes without its surroundings to lie beside the work, with ids of its own" do
    get "/handbook/families/knee_unloader?at=check-slip", {}, "HTTP_HX_REQUEST" => "true"
    expect(last_response.body).not_to include("<html", "<main")
    expect(html).to include('id="leaf-check-slip" class="is-sought"')
    get "/handbook/families/knee_unloader"
    expect(last_response.body).to include('id="check-slip"')
  end

  it "is read by the front desk too, and by nobody who is not signed in" do
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    get "/handbook"
    expect(last_response.status).to eq 200
    sign_out
    get "/handbook/sites/calf_widest"
    expect([last_response.status, last_response.headers["location"]]).to eq [302, "/login"]
  end

  it "knows nothing of what is not in it" do
    %w[
      /handbook/sites/nowhere
      /handbook/families/nothing
      /handbook/sites/..%2Fetc
      /handbook/elsewhere
    ].each do |path|
      get path
      expect([path, last_response.status]).to eq [path, 404]
    end
  end

  it "is linked from the site, the checks and the problems of the bench" do
    visit = fitted_visit(clinic, fitter)
    get "/visits/#{visit.id}/measure?at=calf_15_below_mid_patella:left"
    expect(last_response.body).to include('href="/handbook/sites/calf_15_below_mid_patella"')
    get "/visits/#{visit.id}/fit"
    record(visit)
      .fit
      .checks
      .map(&:first)
      .uniq
      .each do |check|
        expect(last_response.body).to include(
          "/handbook/families/knee_unloader?at=check-#{check.key}"
        )
      end
    expect(last_response.body).to include("/handbook/families/knee_unloader?at=problem-")
  end
end
