# frozen_string_literal: true

require "spec_helper"
require "open3"

RSpec.describe Handrail::Wording do
  it "has its words though another library asked for some before they were on the path" do
    program =
      'require "./lib/handrail"; require "i18n"; I18n.available_locales = [:en]; I18n.exists?(:x); ' \
        'print Handrail::Wording.t("questions.larger")'
    env = { "RACK_ENV" => "test", "COVERAGE" => "no" }
    output, status =
      Open3.capture2e(env, "bundle", "exec", "ruby", "-e", program, chdir: Handrail::ROOT)
    expect([output, status.success?]).to eq ["larger", true]
  end
end

# Figures in words: none has a name that the words' library keeps for itself.
RSpec.describe "The words of seats and pressures" do
  wording = Handrail::Wording
  strap = Handrail::Families::Strap[key: "calf", label: "Calf strap"]

  def seat(points, level) =
    Handrail::Fitting::StrapSeat.new(Handrail::Anatomy::Profile.new(points), level)

  it "say where a strap is held, where it slides and from where on it is held" do
    leg = [[100, 220], [300, 370], [430, 350]]
    expect(wording.seat(strap, seat(leg, 250))).to match(
      /Calf strap lies \d+ mm below the widest .* From \d+ mm higher/
    )
    expect(wording.seat(strap, seat(leg, 340))).to include("holds it here, and for 60 mm upward")
    expect(wording.seat(strap, seat([[0, 200], [400, 400]], 100))).to include(
      "only its grip holds it"
    )
  end

  it "say which strap to ease or pull, from what to what" do
    straps = Handrail::Compression::FewestChanges.new({ 1 => 47, 2 => 49, 3 => 20 }).straps
    expect(straps.select(&:set_to).map { |one| wording.strap_change(one) }).to eq [
         "Strap 2: ease to 39 mmHg (now 49).",
         "Strap 3: pull to 30 mmHg (now 20)."
       ]
  end
end
