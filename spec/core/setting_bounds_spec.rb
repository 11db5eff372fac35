# frozen_string_literal: true

require "spec_helper"

# What is set may not pass what was ordered or read (common practice, no source).
RSpec.describe Handrail::Fitting::SettingBounds do
  def family(key) = Handrail::Families::Registry.fetch(key)

  # written, typed - key => text
  def passed(key, typed, written: {}, order: {})
    made = family(key)
    settings =
      made.settings.map { |one| [one, written[one.key] && { typed: written.fetch(one.key) }] }
    described_class
      .new(settings, fields: made.fields, config: order, typed: typed)
      .passed
      .map { |one| [one.field.key, one.text, one.bound, one.by] }
  end

  it "bounds the dog's range by the order's, not by itself" do
    dog = ->(typed, **order) do
      passed("canine_hock_brace", { "range" => typed }, order: order.transform_keys(&:to_s))
    end
    expect(dog["20.5", range: "20"]).to eq [["range", "20.5", 20, "range"]]
    expect(dog["60", range: "0"]).to eq [["range", "60", 0, "range"]]
    expect(dog["20", range: "20"] + dog["60", range: ""] + dog["60"]).to eq []
  end

  it "holds both ends of an ordered range" do
    frame = ->(**typed) do
      passed(
        "knee_frame",
        typed.transform_keys(&:to_s),
        order: {
          "straightens_to" => "30",
          "bends_to" => "60"
        }
      )
    end
    expect(frame[stop_straight: "20", stop_bent: "70"]).to eq [
         ["stop_straight", "20", 30, "straightens_to"],
         ["stop_bent", "70", 60, "bends_to"]
       ]
    expect(frame[stop_straight: "30", stop_bent: "60"]).to eq []
  end

  it "asks first for the setting that bounds another, and judges what is written by what is typed now" do
    belt = ->(typed, **written) do
      passed("abdominal_support_belt", typed, written: written.transform_keys(&:to_s))
    end
    expect(belt[{ "released" => "60 mm" }]).to eq [["released", "60 mm", nil, "free_end"]]
    expect(belt[{ "released" => "95 mm", "free_end" => "9 cm" }]).to eq [
         ["released", "95 mm", 90, "free_end"]
       ]
    expect(belt[{ "released" => "9 cm" }, free_end: "90 mm"]).to eq []
    # what bounds it is written lower than what was set by it
    expect(belt[{ "free_end" => "80 mm" }, released: "90 mm"]).to eq [
         ["released", "90 mm", 80, "free_end"]
       ]
    expect(belt[{ "bottom" => "10 mm" }, released: "90 mm", free_end: "80 mm"]).to eq []
  end
end
