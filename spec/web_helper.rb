# frozen_string_literal: true

require "store_helper"
require "rack/test"

# Signing in and looking at pages without a browser.
module WebHelpers
  include Rack::Test::Methods

  def app = @app ||= Handrail::Web.app

  def token = last_response.body[/name="authenticity_token" value="([^"]+)"/, 1]

  def sign_in(account, password: Fixtures::PASSWORD)
    get "/login"
    post "/login", "login" => account.email, "password" => password, "authenticity_token" => token
  end

  def sign_out = clear_cookies

  # A POST as the page at `from` would send it.
  def send_form(path, from:, **fields)
    get from
    hidden =
      last_response
        .body
        .scan(/<input type="hidden" name="(seen|page|entry_key)" value="([^"]*)"/)
        .to_h
    post path, hidden.merge(fields.transform_keys(&:to_s), "authenticity_token" => token)
  end

  # the page's HTML, however its lines are broken
  def html = last_response.body.gsub(/\s+/, " ")

  def text = last_response.body.gsub(/<[^>]+>/, " ").gsub(/\s+/, " ")
end

RSpec.configure do |config|
  config.include WebHelpers, file_path: %r{spec/web}
  # every example comes from the same address
  config.before(file_path: %r{spec/web}) { Handrail::Web::Slowing.guard.reset! }
end
