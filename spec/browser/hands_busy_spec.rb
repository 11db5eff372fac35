# frozen_string_literal: true

require "browser_helper"
require_relative "../support/whole_jobs"

# Hands busy: one pedal for a visit, what comes next said aloud, large figures.
RSpec.describe "With the hands busy" do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:store) { Handrail::Store }

  def ways(*names) = store::Ways.change(fitter, names)

  # what a switch under the foot sends, held down for so many milliseconds
  def pedal(held: 30)
    page.execute_script(<<~JS, held)
      const held = arguments[0];
      const to = document.activeElement || document.body;
      to.dispatchEvent(new KeyboardEvent("keydown", { key: "PageDown", bubbles: true }));
      setTimeout(() => to.dispatchEvent(new KeyboardEvent("keyup", { key: "PageDown", bubbles: true })), held);
    JS
    sleep((held / 1000.0) + 0.05)
  end

  # a browser that says what it was given to say
  def listen
    page.execute_script("window.speechSynthesis.speak = (one) => (window.said = one.text)")
  end

  def said = page.evaluate_script("window.said || ''")

  describe "the pedal" do
    let(:job) { sized_job("knee_unloader", make_product(clinic)) }

    before do
      sign_in(fitter)
      visit "/visits/#{job.id}/fit"
    end

    it "does a step each time, and never answers a check with a press alone" do
      expect(page).to have_css(".step-count", text: "step 1 of")
      pedal
      expect(page).to have_css(".step-count", text: "step 2 of")
      finish_steps(job, fitter)
      item =
        record(job).fit.checklist(record(job).sides.first).items.find { |one| !one.check.measured? }
      visit "/visits/#{job.id}/fit?check=#{item.key}"
      expect(page).to have_css(".checks .is-current [data-key=y]")
      pedal
      sleep 0.6
      expect(record(job).rows(:check_results)).to eq []
      pedal(held: 700)
      wait_until { record(job).rows(:check_results).size == 1 }
      expect(record(job).rows(:check_results).last).to include(
        check_key: item.check.key,
        outcome: "good"
      )
    end

    it "twice is no, and goes on only to where nothing is written" do
      finish_steps(job, fitter)
      visit "/visits/#{job.id}/fit?check=no_pinch"
      expect(page).to have_css(".checks .is-current [data-key=n]")
      2.times { pedal }
      wait_until { record(job).rows(:check_results).any? }
      expect(record(job).rows(:check_results).last[:outcome]).to eq "bad"
    end

    it "is not needed where nothing is left: Space goes on, once, and never past what is asked" do
      finish_steps(job, fitter)
      visit "/visits/#{job.id}/fit?check=no_pinch"
      expect(page).to have_css(".checks .is-current [data-key=y]")
      keys(:space)
      expect(page).to have_current_path(%r{/fit})
      look_at_all(job, fitter)
      visit "/visits/#{job.id}/fit"
      expect(page).to have_css(".bar a.is-primary", text: "Go on to teach")
      page.execute_script(<<~JS)
        document.body.dispatchEvent(new KeyboardEvent("keydown", { key: " ", repeat: true, bubbles: true }))
      JS
      expect(page).to have_current_path(%r{/fit})
      keys(:space)
      expect(page).to have_current_path(%r{/teach})
      keys(:space)
      expect(page).to have_current_path(%r{/teach})
      expect(record(job).rows(:teach_backs)).to eq []
    end

    it "leaves a blank in a reading that is being typed, and goes on from an empty one when all is read" do
      measured =
        make_visit(clinic, fitter, product: make_product(clinic)).tap { |made| ask(made, fitter) }
      visit "/visits/#{measured.id}/measure"
      keys(:space)
      expect(page).to have_current_path(%r{/measure})
      keys("14 3/8", :space)
      expect([page.current_path, find("#value").value]).to eq [
           "/visits/#{measured.id}/measure",
           "14 3/8 "
         ]
      visit "/visits/#{job.id}/measure"
      expect(page).to have_css("#value:focus")
      keys(:space)
      expect(page).to have_current_path(%r{/visits/#{job.id}/size})
    end

    it "reads on with Space where a page goes on below, and leaves it only from its end" do
      page.driver.resize(1280, 420)
      visit "/visits/#{job.id}/record"
      expect(page).to have_css(".bar a.is-primary")
      keys(:space)
      wait_until { page.evaluate_script("scrollY") > 0 }
      expect(page).to have_current_path("/visits/#{job.id}/record")
      page.execute_script("scrollTo(0, document.body.scrollHeight)")
      keys(:space)
      expect(page).to have_current_path("/patients/#{job.fitting.patient_id}")
    ensure
      page.driver.resize(1280, 800)
    end

    it "hands nothing over" do
      finish_steps(job, fitter)
      look_at_all(job, fitter)
      teach(job, fitter)
      visit "/visits/#{job.id}/hand-over"
      expect(page).to have_button("Hand over", disabled: false).or have_css("[form=hand]")
      4.times do
        pedal
        sleep 0.4
      end
      expect(record(job)).not_to be_handed_over
    end
  end

  describe "steps in one go" do
    let(:job) { sized_job("knee_unloader", make_product(clinic)) }
    let(:apart) { Handrail::Families::Hazards.steps_apart(record(job).family) }

    before { sign_in(fitter) }

    it "is offered to who has switched it on, and leaves out what is done for itself" do
      visit "/visits/#{job.id}/fit"
      expect(page).to have_no_css("#together")
      visit "/me"
      check "ways[]", option: "one_go", allow_label_click: true
      click_button "Keep it so"
      keys_of_first = record(job).fit.applying.open
      expect(apart).to include keys_of_first.first.key
      visit "/visits/#{job.id}/fit"
      expect(page).to have_no_css("#together")
      keys(:space)
      expect(page).to have_css("#together li", minimum: 2)
      keys("g")
      expect(page).to have_no_css("#together")
      done = record(job).fit.applying.done
      expect(done.size).to be > 2
      bound =
        record(job).fit.applying.steps.select { |step| apart.include?(step.key) || step.for_good }
      expect(done & bound.drop(1).map(&:key)).to eq []
      expect(record(job).rows(:check_results)).to eq []
    end
  end

  it "says what was read and what comes next, where it is switched on" do
    ways("aloud")
    made = make_visit(clinic, fitter).tap { |one| ask(one, fitter) }
    sign_in(fitter)
    visit "/visits/#{made.id}/measure"
    listen
    keys("36.9", :enter)
    wait_until { said != "" }
    expect(said).to match(/calf.*36\.9\. Next: .*knee/i)
  end

  it "says nothing where it is not" do
    made = make_visit(clinic, fitter).tap { |one| ask(one, fitter) }
    sign_in(fitter)
    visit "/visits/#{made.id}/measure"
    listen
    keys("36.9", :enter)
    expect(page).to have_css(".sites .is-current", text: "Knee")
    expect(said).to eq ""
    keys("h")
    expect(said).to match(/Next: .*knee/i)
  end

  it "large: what is asked stands in letters of ten millimetres" do
    ways("large")
    made = make_visit(clinic, fitter).tap { |one| ask(one, fitter) }
    sign_in(fitter)
    visit "/visits/#{made.id}/measure"
    # 10 mm of capital at 96 dots an inch, capitals being some seven tenths of a letter's height
    size = ->(one) do
      page.evaluate_script(
        "parseFloat(getComputedStyle(document.querySelector('#{one}')).fontSize)"
      )
    end
    expect(size.call("#now h1")).to be >= 46
    expect(size.call("#value")).to be >= 90
    box = page.evaluate_script("document.querySelector('#take').getBoundingClientRect().bottom")
    expect(box).to be <=
      page.evaluate_script("document.querySelector('.bar').getBoundingClientRect().top")
  end
end
