# frozen_string_literal: true

module Handrail
  # The methods that compute figures, by number: a method that is changed so that it gives other
  # figures is new code under a new number, beside the old. What was kept says which number made
  # it, and a fitting that was pinned to an older number is computed by that one.
  #
  #   Methods.made_by("trend", 1) # => Followup::Trend
  #   Methods::VERSIONS["match"]  # => 2, what a fitting is pinned to today
  module Methods
    # method => number => the class or module that computes it, as a name within Handrail
    MADE_BY = {
      "match" => {
        2 => "Sizing::Matching"
      },
      "precision" => {
        1 => "Measuring::Precision"
      },
      "trial_run" => {
        1 => "Sizing::TrialRun"
      },
      "support_belt" => {
        2 => "Sizing::Sheets::SupportBelt",
        3 => "Sizing::Sheets::SupportBeltV3",
        4 => "Sizing::Sheets::SupportBeltV4"
      },
      "panel_arms" => {
        1 => "Sizing::Sheets::PanelArms",
        2 => "Sizing::Sheets::PanelArmsV2"
      },
      "stays" => {
        1 => "Sizing::Sheets::Stays",
        2 => "Sizing::Sheets::StaysV2"
      },
      "kafo_levels" => {
        2 => "Sizing::Sheets::KafoLevels",
        3 => "Sizing::Sheets::KafoLevelsV3"
      },
      "heel_wedge" => {
        2 => "Sizing::Sheets::HeelWedge",
        3 => "Sizing::Sheets::HeelWedgeV3"
      },
      "wrap_straps" => {
        2 => "Sizing::Sheets::WrapStraps",
        3 => "Sizing::Sheets::WrapStrapsV3"
      },
      "strap_ends" => {
        2 => "Sizing::Sheets::StrapEnds",
        3 => "Sizing::Sheets::StrapEndsV3"
      },
      "residual_pressure" => {
        1 => "Sizing::Sheets::ResidualPressure"
      },
      "strut" => {
        1 => "Sizing::Sheets::Strut"
      },
      "ankle_brachial" => {
        1 => "Compression::AnkleBrachial"
      },
      "laplace" => {
        1 => "Compression::Laplace"
      },
      "fewest_changes" => {
        1 => "Compression::FewestChanges"
      },
      "thinner" => {
        1 => "Compression::Thinner"
      },
      "strap_seat" => {
        1 => "Fitting::StrapSeat"
      },
      "mark_drift" => {
        1 => "Fitting::MarkDrift"
      },
      "limb_volume" => {
        1 => "Followup::LimbVolume"
      },
      "trend" => {
        1 => "Followup::Trend"
      },
      "part_life" => {
        1 => "Followup::PartLife"
      },
      "recheck_plan" => {
        1 => "Followup::PlanOfFitting",
        2 => "Followup::PlanOfDevices"
      },
      "consistency" => {
        1 => "Measuring::Consistency"
      }
    }.freeze

    # method => the number in force
    VERSIONS = MADE_BY.transform_values { |numbers| numbers.keys.max }.freeze

    class << self
      # The numbers in force, as a fitting is pinned to them.
      def in_force = VERSIONS

      # What computes a method under a number. number - nil for a fitting that was pinned before the
      # method had one, which is computed by the oldest; so is one of a number that there was no code
      # kept of. Raises KeyError where there is no such method.
      def made_by(method, number)
        numbers = MADE_BY.fetch(method)
        kept = numbers.keys.sort
        Handrail.const_get(
          numbers.fetch(kept.reverse.find { |one| one <= number.to_i } || kept.first)
        )
      end
    end
  end
end
