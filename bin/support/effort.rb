# frozen_string_literal: true

# What seven fittings cost a fitter in keys, taps and seconds: bin/handrail effort [WALK] [ADDRESS]
# Needs Chromium and the running demo; it adds a made-up patient for each walk.

require "ferrum"
require_relative "../../lib/handrail"
require_relative "chromium"
require_relative "../../demo/heron_quay"
require_relative "effort/hands"
require_relative "effort/newcomer"
require_relative "effort/follow_up"
require_relative "effort/walk"

module Handrail
  # Walks by name, and the table that is printed of them.
  class Effort
    # name => the plan, and the seconds that are aimed at: [first visit, with the recheck]
    WALKS =
      [
        ["knee", "knee_unloader", "left", {}, nil, nil, [105, 145]],
        ["knee-slip", "knee_unloader", "left", {}, %w[slip 16], true, nil],
        ["wrap", "compression_wrap", "left", {}, nil, nil, [115, 175]],
        ["stockings", "graduated_stocking", "both", {}, nil, nil, [105, 150]],
        ["belt", "abdominal_support_belt", nil, { "pouch" => "one_piece" }, nil, nil, [115, 155]],
        ["dog", "canine_hock_brace", "left", {}, nil, nil, [90, 120]],
        ["kafo", "kafo", "left", {}, nil, nil, [150, 190]]
      ].to_h do |name, family, side, chosen, slip, away, aim|
          [
            name,
            [
              Walk::Plan[
                name: name,
                family: family,
                side: side,
                chosen: chosen,
                slip: slip,
                away: away
              ],
              aim
            ]
          ]
        end
        .freeze

    def self.run(name, address)
      new(address).run(name ? WALKS.slice(name) : WALKS)
    end

    def initialize(address)
      @address = address
      @clinic = Store::Clinic.where(demo: true).first or raise "the demo is not there"
    end

    def run(walks)
      puts "walk         keys taps loads decisions seconds ceremony hidden lost | with the recheck: " \
             "keys taps seconds ceremony hidden lost | aim"
      walks.each do |name, (plan, aim)|
        first, whole = one(plan)
        puts format(
               "%-12s %4d %4d %5d %9d %7.1f %7d%% %6d %4d | %22d %4d %7.1f %7d%% %6d %4d | %s",
               name,
               *first.values_at(:keys, :taps, :loads, :decisions, :seconds),
               share(first),
               *first.values_at(:hidden, :lost),
               *whole.values_at(:keys, :taps, :seconds),
               share(whole),
               *whole.values_at(:hidden, :lost),
               aim ? aim.join("/") : "-"
             )
      end
    end

    private

    def share(counts) = (100 * counts[:ceremony] / counts[:seconds]).round

    def one(plan)
      browser =
        Ferrum::Browser.new(
          browser_path: CHROMIUM,
          window_size: [1280, 800],
          process_timeout: 60,
          browser_options: %w[no-sandbox disable-gpu].to_h { |flag| [flag, nil] }
        )
      browser.page.command(
        "Emulation.setDeviceMetricsOverride",
        width: 1280,
        height: 800,
        deviceScaleFactor: 1,
        mobile: false
      )
      fitter = Store::Account.where(clinic_id: @clinic.id, role: "fitter").order(:id).first
      own = fitter.own_ways.to_a
      # a practised fitter
      Store::Ways.change(fitter, [*own, "one_go"])
      sign_in(browser, fitter)
      Walk.new(Hands.new(browser), plan, clinic: @clinic, base: @address).walk
    rescue StandardError
      browser&.screenshot(path: File.join(Dir.tmpdir, "effort-#{plan.name}.png"))
      raise
    ensure
      Store::Ways.change(fitter, own) if own
      browser&.quit
    end

    def sign_in(browser, fitter)
      browser.goto("#{@address}/login")
      browser.at_css("#login").focus.type(fitter.email)
      browser.at_css("#password").focus.type(HeronQuay::PASSWORD, :enter)
      ready = -> do
        browser.at_css("[data-row]") && browser.evaluate("document.readyState") == "complete"
      end
      300.times { ready.call ? break : sleep(0.02) }
    end
  end
end
