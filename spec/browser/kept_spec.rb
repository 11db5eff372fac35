# frozen_string_literal: true

require "browser_helper"
require_relative "../support/faulty_line"
require_relative "../support/whole_jobs"

# What a fitter typed, and a line, a sign-in or a browser's store that fails: nothing is lost, and
# nothing is said to be kept that is not.
RSpec.describe "What is typed is kept" do
  include_context "with a faulty line"
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:fitting_visit) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }

  def bench(path = "measure")
    sign_in(fitter)
    visit "/visits/#{fitting_visit.id}/#{path}"
  end

  def stored = record(fitting_visit).rows(:readings).map { |row| row[:typed] }
  def end_session =
    Handrail::Store.db[:account_active_session_keys].where(account_id: fitter.id).delete

  # how many entries lie in this browser
  def waiting
    page.evaluate_async_script(<<~JS)
      const done = arguments[0];
      const open = indexedDB.open("handrail");
      open.onsuccess = () => {
        const asked = open.result.transaction("entries").objectStore("entries").count();
        asked.onsuccess = () => { open.result.close(); done(asked.result); };
      };
    JS
  end

  # without a line a reading is not kept, and says so in its field; sent again with one, it is saved
  def expect_red_until_sent
    line.is(:down)
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /can keep nothing more. It is NOT saved/, wait: 15)
    expect(page).to have_css("#value[aria-invalid=true]")
    expect(page.find("#value").value).to eq "36.5"
    line.is(:good)
    page.execute_script("document.getElementById('value').focus()")
    keys(:enter)
    wait_until { stored == %w[36.5] }
  end

  it "does not take a page to sign in for an answer: what waits goes on waiting" do
    bench
    line.is(:down)
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    end_session
    line.is(:good)
    expect(page).to have_css("#unsaved", text: /Sign in again, then it is sent/)
    expect([stored, waiting]).to eq [[], 1]
    sign_in(fitter)
    wait_until { stored == %w[36.5] }
    expect(page).to have_no_css("#unsaved", visible: true)
  end

  it "keeps what is sent after the session has ended, and says so at the first Enter" do
    bench
    end_session
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\).*Sign in again/m)
    sign_in(fitter)
    wait_until { stored == %w[36.5] }
  end

  it "lets nothing leave the queue for a foreign page that says yes" do
    bench
    line.is(:foreign)
    keys("36.5", :enter)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\).*no answer of Handrail/m)
    expect([stored, waiting]).to eq [[], 1]
    line.is(:good)
    click_on "Try now"
    wait_until { stored == %w[36.5] }
  end

  it "leaves a reading in its field, red, where the browser can keep nothing" do
    bench
    page.execute_script("IDBObjectStore.prototype.put = () => { throw new Error('full'); }")
    expect_red_until_sent
  end

  it "leaves a reading in its field, red, where the store of the browser does not answer" do
    sign_in(fitter)
    # a connection that is not let go, and one that waits for it: all that is asked of the store later hangs
    page.execute_script(<<~JS)
      const held = window.open("/login");
      held.addEventListener("load", () => {
        held.indexedDB.open("handrail").onsuccess = ({ target }) => {
          held.kept = target.result;
          held.indexedDB.deleteDatabase("handrail").onblocked = () => { document.title = "held"; };
        };
      });
    JS
    wait_until { page.title == "held" }
    visit "/visits/#{fitting_visit.id}/measure"
    expect_red_until_sent
  end

  it "keeps what was sent, not what stood in the field when the line was found lost" do
    bench
    # the server hangs: the answer comes to nothing after the figure was typed over
    page.execute_script(<<~JS)
      const send = XMLHttpRequest.prototype.send;
      XMLHttpRequest.prototype.send = function () {
        setTimeout(() => this.dispatchEvent(new ProgressEvent("error")), 600);
        XMLHttpRequest.prototype.send = send;
      };
      document.addEventListener("htmx:beforeSend", () => setTimeout(() => {
        const field = document.getElementById("value");
        field.value = "87.3";
        field.dispatchEvent(new Event("input", { bubbles: true }));
      }, 200), { once: true });
    JS
    keys("36.5", :enter)
    wait_until { stored == %w[36.5] }
    expect(page.find("#value").value).to eq "87.3"
  end

  describe "a sensor that can not be read" do
    let(:fitting_visit) do
      product = demo_product("compression_wrap")
      sized_job("compression_wrap", product).tap { |made| finish_steps(made, fitter) }
    end

    include WholeJobs

    around do |example|
      ENV["HANDRAIL_SENSOR"] = "127.0.0.1:1"
      example.run
      ENV.delete("HANDRAIL_SENSOR")
    end

    it "files nothing as a check, with or without a line" do
      bench("fit")
      button = page.all("button", text: "Read from the sensor").first
      unless button
        page.all("details").each { |one| page.execute_script("arguments[0].open = true", one) }
      end
      button ||= page.all("button", text: "Read from the sensor").first
      line.is(:down)
      button.click
      expect(page).to have_css("#unsaved", text: /There is no line/)
      expect(waiting).to eq 0
      line.is(:good)
      sleep 0.3
      expect(record(fitting_visit).rows(:check_results)).to be_empty
    end
  end

  it "sends an order whose answer was lost as the same order, once" do
    patient = make_patient(clinic, fitter)
    product = make_product(clinic)
    sign_in(fitter)
    path = "/patients/#{patient.id}/orders/new?family=#{product.family}"
    visit path
    # an order with what it needs; it is kept, and its answer is lost, with the cookie that came with it
    before = page.driver.cookies["handrail.session"].value
    page.execute_script(<<~JS, product.id)
      const form = document.getElementById("order");
      const choose = (name, value) => {
        const field = form.querySelector(`[name="${name}"][value="${value}"]`) || form.querySelector(`[name="${name}"]`);
        if (field.type === "radio") field.checked = true;
        else field.value = value;
        field.dispatchEvent(new Event("input", { bubbles: true }));
      };
      choose("side", "left");
      choose("product_id", String(arguments[0]));
      choose("fields[compartment]", "medial");
      choose("fields[indication]", "arthrosis");
      choose("prescriber", "Dr Spec");
      choose("prescribed_on", "#{clinic.today.iso8601}");
      form.addEventListener("submit", (event) => {
        event.preventDefault();
        fetch(form.action, { method: "POST", body: new URLSearchParams(new FormData(form)), redirect: "manual" });
      });
      form.requestSubmit();
    JS
    orders = -> do
      Handrail::Store.db[:prescriptions].where(patient_id: patient.id).select_map(:prescriber)
    end
    wait_until { orders.call == ["Dr Spec"] }
    page.driver.set_cookie("handrail.session", before, httponly: true)
    visit path
    expect(page).to have_css(".draft-note")
    page.find("button", text: "Write the order").click
    expect(page).to have_current_path(%r{/visits/\d+/order})
    expect(orders.call).to eq ["Dr Spec"]
  end

  it "takes another figure typed over a draft that was sent for another entry" do
    bench
    key = -> { page.find("#take [name=entry_key]", visible: false).value }
    first = key.call
    keys("36.5")
    page.execute_script(<<~JS)
      document.getElementById("take").addEventListener("htmx:beforeRequest", (event) => event.preventDefault());
    JS
    keys(:enter)
    # that it was sent is kept a moment later; what is gone before that is a conflict at the server, never lost
    sleep 1
    visit "/visits/#{fitting_visit.id}/measure"
    expect(page).to have_css(".draft-note")
    expect(key.call).to eq first
    page.execute_script("document.getElementById('value').focus()")
    keys("1")
    expect(key.call).not_to eq first
  end
end
