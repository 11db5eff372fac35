# frozen_string_literal: true

require "store_helper"
require "capybara/rspec"
require "capybara/cuprite"
require "tmpdir"
require "vips"
require_relative "../bin/support/chromium"

AXE =
  File.read(
    File.join(
      Gem.loaded_specs.fetch("axe-core-api").full_gem_path,
      "node_modules",
      "axe-core",
      "axe.min.js"
    )
  )

# no network but loopback is reached for; as root Chromium needs no-sandbox
CHROMIUM_FLAGS = %w[
  no-sandbox
  disable-gpu
  disable-quic
  no-first-run
  disable-background-networking
  disable-component-update
  disable-sync
  disable-dev-shm-usage
].freeze

# a driver of Chromium; more - options beside those that every one here has
def chromium(app, **more)
  Capybara::Cuprite::Driver.new(
    app,
    browser_path: Handrail::CHROMIUM,
    window_size: [1280, 800],
    process_timeout: 60,
    timeout: 30,
    js_errors: true,
    browser_options: CHROMIUM_FLAGS.to_h { |flag| [flag, nil] },
    **more
  )
end
Capybara.register_driver(:chromium) { |app| chromium(app) }
Capybara.app = Handrail::Web.app
Capybara.server = :puma, { Silent: true, Threads: "1:4" }
Capybara.default_driver = :chromium
Capybara.javascript_driver = :chromium
# a waiting expectation ends as soon as it holds; on a busy machine a page may take its time
Capybara.default_max_wait_time = 20

# Hands on the keyboard.
module BrowserHelpers
  def keyboard = page.driver.browser.keyboard

  # Types text or keys where the focus is.
  def keys(*strokes) = strokes.each { |stroke| keyboard.type(stroke) }

  # Presses Tab until the focus is on the element that the selector names.
  def tab_to(selector, limit: 120)
    limit.times do
      if page.evaluate_script(
           "!!document.activeElement && " \
             "document.activeElement.matches(#{selector.to_json})"
         )
        return
      end

      keyboard.type(:tab)
    end
    raise "no way with Tab to #{selector} on #{page.current_path}"
  end

  # takes what is proposed, where nothing is chosen yet
  def done_look_again
    if page.has_no_css?(".offers input:checked", wait: 0)
      page.first(".offer.is-next [name=remedy]", visible: :all).click
    end
    click_button "Done, look again"
  end

  def fill(selector, text)
    tab_to(selector)
    keyboard.type(text)
  end

  # Ticks a box or chooses a chip that the Tab key reaches (of a group of chips: the first, then
  # arrows).
  def tick(selector)
    tab_to(selector)
    keyboard.type(:space)
  end

  def choose_chip(name, value)
    tab_to("[name='#{name}']")
    10.times do
      return keyboard.type(:space) if page.evaluate_script("document.activeElement.value") == value

      keyboard.type(:right)
    end
    raise "no #{value} among #{name}"
  end

  def sign_in(account)
    visit "/login"
    fill("#login", account.email)
    fill("#password", Fixtures::PASSWORD)
    keys(:enter)
    expect(page).to have_css("h1", text: "Today")
  end

  # waits for what the server keeps
  def wait_until
    400.times do
      return if yield

      sleep 0.05
    end
    raise "it did not come"
  end

  # a file as a camera or a scanner makes it; its path
  def photo(width = 300, height = 600)
    path = File.join(Dir.tmpdir, "photo-#{Process.pid}.jpg")
    Vips::Image
      .black(width, height, bands: 3)
      .linear([1, 1, 1], [200, 180, 160])
      .cast(:uchar)
      .write_to_file(path)
    path
  end

  # axe-core's findings on this page; the empty list is what is wanted
  def axe
    page.execute_script(AXE)
    page.evaluate_async_script(
      "axe.run(document, { resultTypes: ['violations'] }).then((r) => " \
        "arguments[0](r.violations.map((v) => v.id + ': ' + v.nodes.map((n) => " \
        "n.target.join(' ')).slice(0, 4).join(', '))))"
    )
  end
end

RSpec.configure do |config|
  config.include BrowserHelpers, file_path: %r{spec/browser}
  config.include Capybara::DSL, file_path: %r{spec/browser}
  config.before(:each, file_path: %r{spec/browser}) do
    Handrail::Web::Slowing.guard.reset!
    Capybara.reset_sessions!
  end
end
