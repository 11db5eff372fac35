# frozen_string_literal: true

require "web_helper"
require "nokogiri"

# The settings, section by section: what one does not show stays as it is.
RSpec.describe "Settings in sections", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:senior) { make_account(clinic, "senior") }
  let(:sections) { Handrail::Web::Settings::SECTIONS }

  # a section's form as a browser sends it
  def sent(section)
    get "/settings/#{section}"
    page = Nokogiri.HTML(last_response.body)
    boxes = page.css("#settings-form [type=checkbox][checked]").group_by { |one| one["name"] }
    page
      .css("#settings-form input:not([type=checkbox]):not([type=radio]), #settings-form textarea")
      .to_h { |one| [one["name"], one["value"] || one.text] }
      .merge(
        page
          .css("#settings-form select")
          .to_h { |one| [one["name"], one.at("option[selected]")&.[]("value")] }
      )
      .merge(
        boxes.transform_values do |all|
          if all.size > 1 || all.first["name"].end_with?("[]")
            all.map { |b| b["value"] }
          else
            all.first["value"]
          end
        end
      )
  end

  def as_it_is =
    [Handrail::Store::ClinicValues.of(clinic.refresh), Handrail::Store::ClinicValues.more(clinic)]

  before do
    sign_in(senior)
    clinic.update(
      phone: "44",
      families: Handrail::Store.json(%w[knee_unloader kafo]),
      bedside_routine: true,
      choices:
        Handrail::Store.json(
          "letterhead" => "Lead: Ada",
          "rooms" => "Quay room",
          "hours_mon" => "08:00-12:00",
          "firm" => %w[fit],
          "note.kafo" => "ours",
          "referrers" => "Dr Ansel"
        )
    )
  end

  it "changes nothing where a section is saved as it came" do
    sections.each_key do |key|
      before = as_it_is
      post "/settings/#{key}", sent(key)
      expect([key, last_response.status]).to eq [key, 303]
      after = as_it_is
      # an empty field is one that was never chosen
      expect([key, after.first, after.last.except("choices")]).to eq [
           key,
           before.first,
           before.last.except("choices")
         ]
      before.last["choices"].each do |name, value|
        expect([key, name, after.last["choices"][name]]).to eq [key, name, value]
      end
    end
  end

  it "changes its own alone" do
    post "/settings/work",
         sent("work").merge("choices[rooms]" => "Long room", "bedside_routine" => "")
    expect(clinic.refresh.choices_made.rooms).to eq ["Long room"]
    expect(clinic.bedside_routine).to be false
    expect(clinic.choices_made["letterhead"]).to eq "Lead: Ada"
    expect(clinic.phone).to eq "44"
  end

  it "takes nothing of another section with it, whatever is sent" do
    post "/settings/hours",
         sent("hours").merge(
           "phone" => "999",
           "choices[letterhead]" => "stolen",
           "families[]" => []
         )
    expect(clinic.refresh.phone).to eq "44"
    expect(clinic.choices_made["letterhead"]).to eq "Lead: Ada"
    expect(clinic.families.to_a).to eq %w[knee_unloader kafo]
  end

  it "shows the section with what was typed where it is refused, and tells of another senior's change" do
    post "/settings/safety", sent("safety").merge("choices[word_fit]" => "nobody@elsewhere.example")
    expect(last_response.status).to eq 422
    expect(html).to include "nobody@elsewhere.example", 'aria-current="page">Whose word counts'
    form = sent("clinic")
    clinic.update(phone: "55")
    post "/settings/clinic", form.merge("place" => "Elsewhere")
    expect(last_response.status).to eq 409
    expect(html).to include 'value="Elsewhere"'
  end

  it "is a senior's, in every section, and there is no other" do
    get "/settings/nonsense"
    expect(last_response.status).to eq 404
    clear_cookies
    sign_in(make_account(clinic))
    sections.each_key do |key|
      get "/settings/#{key}"
      expect(last_response.status).to eq 403
    end
  end
end
