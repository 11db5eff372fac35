# frozen_string_literal: true

require "browser_helper"
require "support/whole_jobs"

# One thing changed, of each kind of device in which the change leaves the room: a shell that goes to the
# workshop and comes back, a belt whose panel is cut open, stays that are bent, a plate that is trimmed.
RSpec.describe "One thing changed, in a browser" do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  before { sign_in(fitter) }

  def bench(made, stage, query = "") = visit("/visits/#{made.id}/#{stage}#{query}")
  def check(made, key) = record(made).fit.checklist.items.find { |item| item.check.key == key }

  # sized, every step done and every check seen to be good, one found bad by hand
  def fitted_but(made, key, no: "No")
    finish_steps(made, fitter)
    look_at_all(made, fitter)
    bench(made, "fit", "?check=#{key}")
    item = check(made, key)
    if item.check.criterion.measured?
      fill_in "check-value", with: yield
      find(".ways .chip", text: no).click
      click_button "Take"
    else
      click_button no
    end
    expect(page).to have_css(".offer.is-next")
  end

  def write_marks(**marks)
    visit "#{page.current_path.sub(%r{/\w+\z}, "/fit")}?marks=1"
    marks.each { |key, text| find("[name='settings[#{key}]']", visible: :all).set(text) }
    click_button "Write marks"
    expect(page).to have_css(".zone-verdict", text: marks.values.last).or have_css("#bench")
  end

  # what is open again after a change
  def open_again(made) = record(made).fit.checklist.open_again.map { |item| item.check.key }

  it "kyphosis arm: it presses, a lower hole is ordered; out with its marks, back, and looked at again" do
    made = sized_job("kyphosis_arm")
    fitted_but(made, "below_clavicle", no: "too high") { "18 mm" }
    # what can be undone stands first
    expect(page).to have_css(".is-next", text: "A new hole, lower").or have_css(
           ".is-next",
           text: "A shorter arm"
         )
    choose "A new hole, lower"
    expect(page).to have_css(".offer em", text: "Can not be undone: A new hole stays")
    expect(page).to have_css(".offer em", text: "For the workshop.")
    fill_in "Before", with: "hole 40 mm below the edge"
    fill_in "after", with: "hole 58 mm below the edge"
    done_look_again
    # it is asked once more
    expect(page).to have_css("[role=alert]", text: "can not be undone")
    choose "A new hole, lower"
    page.check "sure"
    done_look_again
    # the slip is open, with what the change asks for
    expect(find("#slip-what").value).to include "A new hole, lower"
    fill_in "Measures and marks for it", with: "18 mm lower, both arms; the old hole is closed"
    fill_in "Back by", with: Handrail::Quantity::Day.write(clinic.today + 4)
    click_button "Send it there"
    expect(page).to have_css(".job-slips .slips li", count: 1)
    expect(record(made).gates.blocks(:teach).map(&:code)).to include :slip_out
    # on paper, with measures, marks and the piece
    click_link "Print"
    expect(page).to have_content("18 mm lower, both arms").and have_content("A new hole, lower")
    # on the board for whoever is there in the meantime, and the fit resumes where it stopped
    visit "/"
    expect(page).to have_css(".slips li", text: /A new hole, lower.*workshop, due/)
    expect(page).to have_link("Look", href: "/visits/#{made.id}/fit")
    bench(made, "fit")
    click_button "It is back"
    expect(page).to have_no_button("It is back")
    expect(open_again(made)).to include("below_clavicle", "holds", "flush", "final_look")
    expect(record(made).gates.blocks(:teach).map(&:code)).not_to include :slip_out
    look_at_all(made, fitter)
    expect(record(made).gates.open?(:teach)).to be true
    expect(axe).to be_empty
  end

  it "support belt: it digs at the groin, the lower panel is released, and how far is kept as a mark" do
    made = sized_job("abdominal_support_belt")
    fitted_but(made, "groin")
    expect(page).to have_css(".offer em", text: "Can not be undone: Stitches once opened")
    # nothing is cut before it is known how far it may be
    cut = "Cut the joining seam of the lower panel, on the side that digs"
    choose cut
    page.check "sure"
    done_look_again
    expect(page).to have_css("[role=alert]", text: "First: Free end to the side of the bulge")
    write_marks(free_end: "90 mm")
    choose cut
    page.check "sure"
    fill_in "Before", with: "closed"
    fill_in "after", with: "60 mm"
    done_look_again
    expect(page).to have_css(".history", text: /cut the joining seam.*closed to 60 mm/i)
    expect(open_again(made)).to include "groin"
    # never past the bulge
    bench(made, "fit", "?marks=1")
    find("[name='settings[released]']", visible: :all).set("95 mm")
    click_button "Write marks"
    expect(page).to have_css(
      "[role=alert]",
      text: "95 mm passes Free end to the side of the bulge (90 mm)"
    )
    write_marks(released: "60 mm")
    wait_until { record(made).rows(:strap_settings).size == 2 }
    look_at_all(made, fitter)
    expect(record(made).gates.open?(:teach)).to be true
    # what was cut stands in the record; the wearer's sheet has nothing that only the clinic sets
    visit "/visits/#{made.id}/record"
    expect(page).to have_content(/Lower panel released.*60 mm/)
    visit "/visits/#{made.id}/sheet"
    expect(page).to have_content("Putting it on").and have_no_content("Lower panel released")
    expect(axe).to be_empty
  end

  it "rigid stays: the middle casings, marked; one digs, its end is bent, and only that is looked at again" do
    product = demo_product("lumbosacral_support")
    made = stays_ordered(product)
    cautions(made)
    measure(made)
    bench(made, "size")
    expect(page).to have_content(/2 rigid/).and have_content("3, 4").and have_content("L, R")
    size(made)
    visit "/visits/#{made.id}/computed"
    expect(page).to have_content(/the middle pair of \d/)
    expect(page).to have_css(".to-scale svg text", text: /\AL\z/)
    fitted_but(made, "stays_free")
    expect(page).to have_css(".is-next", text: "Reshape its end")
    expect(page).to have_css(".offer em", text: "A stay bent often breaks.")
    done_look_again
    expect(page).to have_css(".history", text: /reshape its end/i)
    expect(open_again(made)).to eq %w[stays_free final_look] & check_keys(made)
    look_at_all(made, fitter)
    expect(record(made).fit.checklist.good?).to be true
  end

  def check_keys(made) = record(made).fit.checklist.open_again.map { |item| item.check.key }

  def stays_ordered(product)
    patient = make_patient(clinic, fitter)
    fields =
      product
        .device_family
        .fields
        .select(&:required)
        .to_h { |f| [f.key, f.choices.to_a.first&.key || "60"] }
    make_visit(
      clinic,
      fitter,
      patient: patient,
      product: product,
      side: product.device_family.sides.last,
      fields: fields.merge("stays" => "rigid", "stay_count" => "2")
    )
  end

  it "dog: old sores first, the powder print shows the plate too long, it is trimmed and printed again" do
    made = sized_job("canine_hock_brace", side: "left")
    # before the first wear: sores of another brace are the baseline, and stop nothing
    bench(made, "skin")
    page.execute_script(
      "document.querySelector('[data-tap] svg.figure').scrollIntoView({ block: 'center' })"
    )
    box =
      page.evaluate_script(
        "(({ x, y, width, height }) => [x, y, width, height])" \
          "(document.querySelector('[data-tap] svg.figure').getBoundingClientRect())"
      )
    page.driver.browser.mouse.click(x: box[0] + (box[2] * 0.5), y: box[1] + (box[3] * 0.5))
    find("label", text: "Old sore of an earlier device").click
    fill_in "How large, across", with: "9"
    click_button "Write it down"
    expect(page).to have_css(".skin-places", text: "Old sore of an earlier device, 9 mm")
    expect(record(made).safety.stops).to be_empty
    fitted_but(made, "plate")
    expect(page).to have_css(".offer", text: "Trim the plate to the print")
    expect(page).to have_css(".offer em", text: "Can not be undone: What is cut off is gone.")
    choose "Trim the plate to the print"
    page.check "sure"
    fill_in "Before", with: "104 mm"
    fill_in "after", with: "98 mm"
    done_look_again
    expect(page).to have_css(".history", text: /trim the plate to the print, 104 mm to 98 mm/i)
    # the foot is printed anew, and the dog walks: standing and from behind
    expect(open_again(made)).to include("plate", "landing")
    look_at_all(made, fitter)
    expect(record(made).gates.open?(:teach)).to be true
    expect(axe).to be_empty
  end
end
