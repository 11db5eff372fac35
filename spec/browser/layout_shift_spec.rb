# frozen_string_literal: true

require "browser_helper"
require "support/whole_jobs"

# What was drawn stays where it is while a page comes, so that nobody taps what has just moved. Counted by the browser
# itself, as the Layout Instability draft of the W3C has it (the share of the window that moved, times how far): 0.1 and
# less is called good there (from memory), half of it is held here. What a key or tap moves in half a second is none.
RSpec.describe "Pages that come" do
  include WholeJobs

  let(:most) { 0.05 }
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic, "senior") }
  let(:worn) { sized_job("knee_unloader") }
  let(:later) { recheck_of("knee_unloader", worn) }

  # closed, the recheck after it not begun; and the same, booked
  let(:planned) { handed_over_visit(clinic, fitter) }
  let(:booked) do
    handed_over_visit(clinic, fitter, serial: "S-2").tap do |visit|
      run(
        record(visit).visits.last,
        fitter,
        :BookVisit,
        day: (clinic.today + 8).iso8601,
        time: "09:40"
      )
    end
  end

  # all that has shifted on the page since it came
  def shifted
    page.evaluate_async_script(<<~JS)
      const done = arguments[0];
      let sum = 0;
      new PerformanceObserver((list) => {
        list.getEntries().forEach((entry) => { if (!entry.hadRecentInput) sum += entry.value; });
      }).observe({ type: "layout-shift", buffered: true });
      requestAnimationFrame(() => setTimeout(() => done(sum), 250));
    JS
  end

  def stages(visit, *names) = names.map { |name| "/visits/#{visit.id}/#{name}" }

  def pages
    [
      "/",
      "/week",
      "/patients/#{later.fitting.patient_id}",
      "/catalogue",
      "/handbook",
      "/settings"
    ] + stages(worn, *%w[order measure size fit teach hand-over record line skin]) +
      stages(later, *%w[recheck measure]) + stages(planned, "record", "hand-over") +
      stages(booked, "record", "hand-over")
  end

  [[1280, 800], [820, 1180]].each do |width, height|
    it "stay as they were drawn, at #{width} by #{height}" do
      page.current_window.resize_to(width, height)
      sign_in(fitter)
      found =
        pages.to_h do |path|
          visit path
          expect(page).to have_css("main")
          [path, shifted]
        end
      expect(found.select { |_, sum| sum > most }).to eq({})
    end
  end

  it "are seen to move where something comes above what was drawn" do
    sign_in(fitter)
    visit "/visits/#{later.id}/recheck"
    shifted
    page.execute_script(<<~JS)
      const late = document.createElement("div");
      late.style.height = "300px";
      document.querySelector("#main, main").prepend(late);
    JS
    expect(shifted).to be > most
  end
end
