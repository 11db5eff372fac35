# frozen_string_literal: true

require "browser_helper"
require_relative "../support/whole_jobs"

# The mirror: a live picture (Chromium's own made-up camera), frozen, with the points of the line placed on it.
RSpec.describe "The mirror" do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:job) { sized_job("knee_unloader", make_product(clinic)) }

  camera = %w[use-fake-device-for-media-stream use-fake-ui-for-media-stream]
  options = (CHROMIUM_FLAGS + camera).to_h { |flag| [flag, nil] }
  Capybara.register_driver(:with_camera) { |app| chromium(app, browser_options: options) }

  around { |example| Capybara.using_driver(:with_camera) { example.run } }

  def live
    sign_in(fitter)
    visit "/visits/#{job.id}/line"
    expect(page).to have_content("the figure of the leg ends below it")
    click_button "Live picture"
    expect(page).to have_css("[data-mirror-live] video", visible: true)
    wait_until { page.evaluate_script("document.querySelector('video').videoWidth") > 0 }
    # the key goes where the page has put it
    wait_until { page.evaluate_script("document.activeElement?.matches('[data-mirror-freeze]')") }
  end

  # taps at parts of the picture's width and height
  def tap(*points)
    points.each { |x, y| page.execute_script(<<~JS, x, y) }
        const [x, y] = arguments;
        const svg = document.querySelector("[data-picture] svg");
        const box = svg.getBoundingClientRect();
        const at = { clientX: box.left + x * box.width, clientY: box.top + y * box.height, bubbles: true };
        svg.dispatchEvent(new MouseEvent("click", at));
      JS
  end

  def alignments = record(job).body.alignments("leg", record(job).sides.first)
  def photos = record(job).body.photos

  it "freezes by the pedal's key, computes the line of three taps, and keeps no picture" do
    live
    keys(:space)
    expect(page).to have_css("[data-picture] svg image")
    expect(page).to have_no_css("[data-mirror-live]", visible: true)
    tap([0.4, 0.1], [0.45, 0.5], [0.4, 0.9])
    click_button "Compute it"
    expect(page).to have_css(".placed-line .line-of-body")
    expect(alignments.size).to eq 1
    # two lines of 288 px that lean 64 px to either side: 2 * atan(64 / 288) = 25.1 degrees
    expect(alignments.first.last.angle.abs).to be_within(0.5).of(25.1)
    expect(photos).to eq []
    expect(record(job).events.last[:said]).to include "on a live picture"
  end

  it "keeps the picture where that is ticked, once, and the line stands on it" do
    live
    click_button "Freeze"
    tap([0.4, 0.1], [0.45, 0.5], [0.4, 0.9])
    find("[data-mirror-keep]").click
    click_button "Compute it"
    expect(page).to have_css(".placed-line .line-of-body image")
    expect(photos.size).to eq 1
    expect(alignments.first.first[:photo_id]).to eq photos.first[:id]
  end

  it "shows before and after side by side, with what became of it in words" do
    live
    click_button "Freeze"
    tap([0.4, 0.1], [0.45, 0.5], [0.4, 0.9])
    click_button "Compute it"
    expect(page).to have_css(".placed-line")
    click_button "Live picture"
    wait_until { page.evaluate_script("document.querySelector('video').videoWidth") > 0 }
    click_button "Freeze"
    tap([0.4, 0.1], [0.41, 0.5], [0.4, 0.9])
    find("label", text: "after a change").click
    click_button "Compute it"
    expect(page).to have_css(".before-after figure", count: 2)
    expect(page).to have_content(/\d° nearer to straight than before/)
  end

  it "turns the live picture as a mirror does, and never the one that points are placed on" do
    live
    expect(page).to have_css("[data-mirror-frame].is-mirrored")
    keys("m")
    expect(page).to have_no_css("[data-mirror-frame].is-mirrored")
    click_button "Leave it"
    expect(page).to have_no_css("[data-mirror-live]", visible: true)
    expect(
      page.evaluate_script(
        "document.querySelector('video').srcObject?.getTracks().every((t) => t.readyState === 'ended') ?? true"
      )
    ).to be true
  end
end
