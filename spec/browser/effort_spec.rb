# frozen_string_literal: true

require "browser_helper"
require_relative "../support/whole_jobs"
require_relative "../../bin/support/effort/hands"
require_relative "../../bin/support/effort/newcomer"
require_relative "../../bin/support/effort/follow_up"
require_relative "../../bin/support/effort/walk"

# What a whole visit with its recheck costs in keys and taps, and that nothing is asked where it can not be seen.
# Seconds hang on the machine: bin/handrail effort prints them.
RSpec.describe "What a visit costs" do
  include WholeJobs

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  # family => most keys, most taps, with the recheck
  {
    "knee_unloader" => ["left", 145, 14],
    "compression_wrap" => ["left", 195, 12],
    "graduated_stocking" => ["both", 250, 14],
    "canine_hock_brace" => ["left", 150, 13]
  }.each do |family, (side, keys, taps)|
    it "#{family.tr("_", " ")}: no more than #{keys} keys and #{taps} taps, and all of it seen" do
      Handrail::Store::Ways.change(fitter, %w[one_go])
      demo_product(family)
      sign_in(fitter)
      hands = Handrail::Effort::Hands.new(page.driver.browser)
      plan =
        Handrail::Effort::Walk::Plan[
          name: family,
          family: family,
          side: side,
          chosen: {
          },
          slip: nil,
          away: nil
        ]
      base = Capybara.current_session.server.base_url
      _, whole = Handrail::Effort::Walk.new(hands, plan, clinic: clinic, base: base).walk
      closed = Handrail::Store::Visit.where(clinic_id: clinic.id).exclude(closed_at: nil).count
      expect(closed).to eq 2
      expect(whole[:hidden]).to eq 0
      expect(whole[:keys]).to be <= keys
      expect(whole[:taps]).to be <= taps
    end
  end
end
