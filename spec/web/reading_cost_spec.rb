# frozen_string_literal: true

require "web_helper"

# What one reading costs: statements sent to the database and calls within the program, as the bench sends it and with
# the whole bench as the answer, its figure drawn anew. Both are counted, so that they are the same on a slow machine.
RSpec.describe "The cost of one reading" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  # as counted in December 2026, and a tenth more of the calls; one of the statements asks who is signed in
  let(:most) { { statements: 6, calls: 5300 } }

  # what this thread asks of the database, without what begins and ends a transaction, and what a connection is asked
  # for the first time
  let(:counting) do
    Class.new(Logger) do
      attr_reader :told

      def initialize
        super(File::NULL)
        @thread = Thread.current
        @told = []
      end

      def add(_level, message = nil, said = nil)
        return if Thread.current != @thread
        return if (message || said).to_s.include?("PREPARE")

        told = (message || said).to_s[/(EXECUTE|SELECT|INSERT|UPDATE|DELETE).{0,120}/]
        @told << told if told
      end
    end
  end

  def reading(visit, value)
    fields = {
      site: CoreHelpers::CALF,
      side: "left",
      posture: "sitting",
      tension: "snug",
      unit: "cm"
    }
    header "HX-Request", "true"
    post "/visits/#{visit.id}/readings",
         fields.merge(value: value, entry_key: SecureRandom.uuid, authenticity_token: @token)
    expect(last_response.status).to eq 200
  end

  def figure = last_response.body[%r{<path d="[^"]*" class="skin"/>}]

  def counted(&block)
    calls = 0
    counter = counting.new
    here = Thread.current
    Handrail::Store.db.loggers << counter
    seen =
      TracePoint.new(:call) do |at|
        calls += 1 if Thread.current == here && at.path.include?("/lib/handrail/")
      end
    seen.enable(&block)
    { statements: counter.told.size, calls: calls, told: counter.told }
  ensure
    Handrail::Store.db.loggers.delete(counter)
  end

  it "stays within what was counted" do
    visit = fitted_visit(clinic, fitter)
    sign_in(fitter)
    get "/visits/#{visit.id}/measure"
    @token = token
    %w[36.5 36.6 36.7].each { |value| reading(visit, value) }
    # each moves the middle of them, and with it the figure
    figures = [figure]
    # once a minute a sign-in is written as used: one of two readings is without it
    found =
      %w[36.8 36.9]
        .map { |value| counted { reading(visit, value) }.tap { figures << figure } }
        .min_by { |one| one[:statements] }
    expect(figures.uniq.size).to eq 3
    most.each { |name, limit| expect(found[name]).to be <= limit, -> { "#{name}: #{found}" } }
  end
end
