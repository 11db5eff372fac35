# frozen_string_literal: true

require "web_helper"

RSpec.describe Handrail::Web::SlotKey, :rolled_back do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  let(:key) { described_class }

  def unmasked(text)
    mask, under = Base64.strict_decode64(text).bytes.each_slice(32).to_a
    mask.zip(under).map { |one, other| one ^ other }.pack("C*")
  end

  it "is one account's own and stays, under a mask that is new each time" do
    one, two = Array.new(2) { key.masked(fitter) }
    expect(one).not_to eq two
    expect([unmasked(one), unmasked(two)]).to eq [key.of(fitter)] * 2
    expect(key.of(make_account(clinic))).not_to eq key.of(fitter)
  end

  it "comes with each page of who is signed in, and with none of who is not" do
    get "/sign-in"
    expect(last_response.body).not_to include("data-slot")
    sign_in(fitter)
    get "/"
    expect(unmasked(last_response.body[/data-slot="([^"]+)"/, 1])).to eq key.of(fitter)
  end
end
