# frozen_string_literal: true

module Handrail
  # The versions of the methods that make kept figures. A method that is changed so that it gives
  # other figures gets a new number here; what was kept says which one made it.
  module Methods
    VERSIONS = {
      "match" => 2,
      "trial_run" => 1,
      "support_belt" => 2,
      "panel_arms" => 1,
      "stays" => 1,
      "kafo_levels" => 2,
      "heel_wedge" => 2,
      "wrap_straps" => 2,
      "strap_ends" => 2,
      "ankle_brachial" => 1
    }.freeze
  end
end
