# frozen_string_literal: true

# Takes the pictures in docs/screenshots from the running demo clinic: bin/handrail screenshots
# [http://127.0.0.1:8470] Needs Chromium, and a demo as bin/start --reset-demo leaves it.

require "ferrum"
require_relative "../../lib/handrail"
require_relative "chromium"
require_relative "../../demo/heron_quay"

module Handrail
  # One picture of each main view, 1280x800.
  class Screenshots
    FOLDER = File.join(ROOT, "docs", "screenshots")
    FLAGS = %w[
      no-sandbox
      disable-gpu
      disable-quic
      no-first-run
      disable-background-networking
      disable-component-update
      disable-sync
    ].freeze

    def initialize(address)
      @address = address
      @browser =
        Ferrum::Browser.new(
          browser_path: CHROMIUM,
          window_size: [1280, 800],
          process_timeout: 60,
          browser_options: FLAGS.to_h { |flag| [flag, nil] }
        )
      seen(800)
    end

    def take
      go("set-up", "/set-up/#{Store::SetUp.link}")
      @browser.goto("#{@address}/login")
      sign_in
      pages.each { |name, path| go(name, path) }
      question
      sheet
    ensure
      @browser.quit
    end

    private

    def seen(height)
      @browser.page.command(
        "Emulation.setDeviceMetricsOverride",
        width: 1280,
        height: height,
        deviceScaleFactor: 1,
        mobile: false
      )
    end

    def go(name, path)
      @browser.goto("#{@address}#{path}")
      sleep 0.6
      picture(name)
    end

    # as it lies in the window, which may have moved to what is asked
    def picture(name, top = @browser.evaluate("Math.round(scrollY)"))
      area = { x: 0, y: top, width: 1280, height: 800 }
      @browser.screenshot(path: File.join(FOLDER, "#{name}.png"), area: area)
      puts name
    end

    # a reading with its digits turned, asked about: typed as a fitter would
    def question
      @browser.goto("#{@address}/visits/#{visit("Holm")}/measure")
      %w[36.5 63].each do |typed|
        sleep 0.8
        @browser.at_css("#value").focus.type(typed, :enter)
      end
      sleep 1
      picture("question")
    end

    # the steps in pictures, which stand further down
    def sheet
      seen(4000)
      @browser.goto("#{@address}/visits/#{visit("Thring")}/sheet")
      sleep 0.8
      top = @browser.evaluate("document.querySelector('.with-picture').getBoundingClientRect().top")
      picture("wearers-sheet", top.to_i)
    end

    def sign_in
      @browser
        .at_css("#login")
        .focus
        .type(HeronQuay::STAFF.find { |_, _, role| role == "senior" }[1])
      @browser.at_css("#password").focus.type(HeronQuay::PASSWORD, :enter)
      sleep 1.5
    end

    def visit(family_name, purpose = "first")
      Store::Visit
        .where(purpose: purpose, fitting_id: patient(family_name).fittings_dataset.select(:id))
        .order(:id)
        .last
        .id
    end

    def pages
      at = ->(name, stage, purpose = "first") { "/visits/#{visit(name, purpose)}/#{stage}" }
      {
        "board" => "/",
        "order" => at["Oduya", "order"],
        "measure" => at["Adeyo", "measure?at=#{calf}"],
        "size" => at["Finch", "size"],
        "size-belt" => at["Hale", "size"],
        "fit" => at["Castellane", "fit"],
        "pressures" => at["Aske", "fit"],
        "hand-over" => at["Voss", "hand-over"],
        "recheck" => "/visits/#{visit("Wray", "recheck") - 1}/recheck",
        "record" => at["Thring", "record"],
        "chart" => "/catalogue/#{product("double unloader")}/chart",
        "week" => "/week",
        "handbook" => "/handbook/sites/calf_15_below_mid_patella",
        "people" => "/people",
        "skin" => at["Castellane", "skin"],
        "report" => "/report"
      }
    end

    def product(name) = Store::Product.first(name: name).id
    def patient(family_name) = Store::Patient.first(family_name: family_name)

    def calf = "calf_15_below_mid_patella:left"
  end
end

FileUtils.mkdir_p(Handrail::Screenshots::FOLDER)
Handrail::Screenshots.new(ARGV.first || "http://127.0.0.1:8470").take
