# frozen_string_literal: true

require "browser_helper"
require_relative "../support/served_processes"
require_relative "../support/standby_pair"

# Whoever reads a girth while the database that writes dies goes on: what was typed is kept, said to be kept, and there
# once when another one writes.
RSpec.describe "A failover in the middle of a reading" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:begun) { make_visit(clinic, fitter).tap { |made| ask(made, fitter) } }

  around do |example|
    @pair = StandbyPair.new.start
    example.run
  ensure
    Capybara.app_host = nil
    page.driver.reset!
    @served&.stop
    @pair&.stop
  end

  attr_reader :pair

  # the same people and visits, on the pair
  def moved_to_the_pair
    begun
    own = ENV.fetch("DATABASE_URL")
    dump =
      "pg_dump --no-owner --no-privileges '#{own}' | psql -q -v ON_ERROR_STOP=1 '#{pair.writer_url}'"
    said, status = Open3.capture2e("bash", "-o", "pipefail", "-c", dump)
    raise said unless status.success?
  end

  def served
    env = { "DATABASE_URL" => pair.door_url, "HANDRAIL_READER_URL" => pair.reader_url }
    @served = ServedProcesses.new(processes: 1, env: env).start
    Capybara.app_host = "http://127.0.0.1:#{@served.port}"
  end

  def readings(url = pair.reader_url)
    Sequel.connect(url) do |db|
      db[:readings].where(visit_id: begun.id).order(:id).select_map(:typed)
    end
  end

  it "goes on, and the value is there once" do
    moved_to_the_pair
    served
    sign_in(fitter)
    visit "/visits/#{begun.id}/measure"
    wait_until { page.evaluate_script("navigator.serviceWorker.controller !== null") }
    keys("36.5", :enter)
    wait_until { readings.size == 1 }
    expect(page).to have_css(".sites li:not(.is-current)", text: "36.5")
    keys("38")
    pair.kill_writer
    keys(".2", :enter)
    expect(page).to have_css(".sites .waits", text: /38\.2 cm not saved yet/)
    expect(page).to have_css("#unsaved", text: /Not saved yet \(1\)/)
    pair.promote
    wait_until { readings.size == 2 }
    expect(page).to have_no_css("#unsaved", visible: true)
    expect(page).to have_css(".sites li", text: "38.2")
    sleep 1
    expect(readings).to eq %w[36.5 38.2]
  end
end
