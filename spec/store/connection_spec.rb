# frozen_string_literal: true

require "store_helper"

RSpec.describe "A connection to the database" do
  def set(name) = Handrail::Store.db.get(Sequel.function(:current_setting, name))

  it "holds nobody up for ever, and begins nothing that takes longer than a page's rows" do
    expect(%w[statement_timeout lock_timeout].map { |name| set(name) }).to eq %w[20s 8s]
    # of a large clinic the database would begin workers for every page
    settings = %w[max_parallel_workers_per_gather jit plan_cache_mode]
    expect(settings.map { |name| set(name) }).to eq %w[0 off force_generic_plan]
  end
end
