# frozen_string_literal: true

require "browser_helper"
require "support/whole_jobs"

# No page is wider than the screen it is read on: a phone that is held for a photo, a tablet, the
# bench's monitor; with the longest name, note and number that are taken, without a blank in them.
RSpec.describe "Every page within its screen" do
  include WholeJobs

  let(:clinic) { make_clinic("Orthopaedietechnikermeisterbetrieb#{"x" * 80}") }
  let(:fitter) { make_account(clinic, "senior") }
  let(:long) { "W" * 100 }

  before do
    fitter.update(name: "Q" * 100)
    sign_in(fitter)
  end

  after { page.driver.resize(1280, 800) }

  def pages(visits, patient, product)
    benches =
      visits.flat_map do |made|
        %w[order measure size fit teach hand-over recheck skin record sheet book].map do |stage|
          "/visits/#{made.id}/#{stage}"
        end
      end
    %W[
      /
      /week
      /week/day
      /patients
      /patients/#{patient.id}
      /patients/new
      /catalogue/
      /catalogue/#{product.id}
      /catalogue/#{product.id}/coverage
      /people
      /settings
      /me
      /report
      /tapes
      /handbook
      /handbook/sources
    ] + benches
  end

  def story
    patient = make_patient(clinic, fitter, family_name: long, given_name: "I" * 100)
    product = make_product(clinic)
    product.update(name: "p" * 60)
    first = make_visit(clinic, fitter, patient: patient, product: product, prescriber: "D" * 80)
    ask(first, fitter)
    2.times { take(first, fitter, "36.5") }
    run(first, fitter, :ChooseSize, size: "M")
    run(first, fitter, :IssueDevice, serial: "S" * 80)
    run(first, fitter, :AddNote, text: "n" * 300)
    fresh = order(demo_product("compression_wrap"))
    [[first, fresh], patient, product]
  end

  # how many px of a page lie beyond the screen's edge, and what reaches furthest
  def beyond
    page.evaluate_script(<<~JS)
      (() => {
        const over = document.documentElement.scrollWidth - innerWidth;
        if (over <= 0) return null;
        const all = [...document.querySelectorAll("body *")].map((one) => [one.getBoundingClientRect().right, one]);
        const [right, far] = all.sort((a, b) => b[0] - a[0])[0];
        return `+${over} px, ${far.tagName.toLowerCase()}.${far.className} at ${Math.round(right)}`;
      })()
    JS
  end

  it "at 390, 820 and 1280 px, with the longest of everything" do
    visits, patient, product = story
    all = pages(visits, patient, product)
    found =
      [[390, 844], [820, 1180], [1280, 800]].flat_map do |width, height|
        page.driver.resize(width, height)
        all.filter_map do |path|
          visit path
          over = beyond
          "#{width}: #{path.sub(/\d+/, "N")} #{over}" if over
        end
      end
    expect(found).to be_empty, found.join("\n")
  end
end
