# frozen_string_literal: true

require "store_helper"
require_relative "../../bin/support/schema"

RSpec.describe Handrail::Schema do
  let(:page) { described_class.new(Handrail::Store.db).page }

  it "draws every table, and the drawing that is kept is the one that would be made" do
    (Handrail::Store.db.tables - [:schema_info]).each do |table|
      expect(page).to include("  #{table} {")
    end
    expect(File.read(described_class::FILE)).to eq page
  end

  it "says what is new since a schema, oldest first, and nothing at the newest" do
    news = Handrail::Store.news(13)
    expect(news.first(2)).to match [/\AThe day and the weeks: /, /\AReadings from before/]
    expect(Handrail::Store.news(Handrail::Store.newest_schema)).to eq []
  end

  it "draws an arrow for a foreign key" do
    expect(page).to include("visits ||--o{ readings : visit_id")
  end
end
