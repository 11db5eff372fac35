# frozen_string_literal: true

require "web_helper"

# What one reading costs: statements sent to the database and calls within the program, as the bench sends it and with
# the whole bench as the answer. Both are counted, so that they are the same on a slow machine.
RSpec.describe "The cost of one reading" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }
  # as counted in November 2026, and a tenth more of the calls; who is signed in, and that they are, is asked beside
  let(:most) { { statements: 11, calls: 4000 } }

  # counts what is asked of the database, without what begins and ends a transaction
  let(:counter) do
    Class
      .new(Logger) do
        attr_reader :count

        def initialize = super(File::NULL)

        def add(_level, message = nil, said = nil)
          @count = count.to_i + 1 if (message || said).to_s.match?(
            /EXECUTE|SELECT|INSERT|UPDATE|DELETE/
          )
        end
      end
      .new
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

  def counted(&block)
    calls = 0
    Handrail::Store.db.loggers << counter
    seen = TracePoint.new(:call) { |at| calls += 1 if at.path.include?("/lib/handrail/") }
    seen.enable(&block)
    { statements: counter.count, calls: calls }
  ensure
    Handrail::Store.db.loggers.delete(counter)
  end

  it "stays within what was counted" do
    visit = fitted_visit(clinic, fitter)
    sign_in(fitter)
    get "/visits/#{visit.id}/measure"
    @token = token
    reading(visit, "36.5")
    found = counted { reading(visit, "36.6") }
    most.each { |name, limit| expect([name, found[name]]).to match [name, be <= limit] }
  end
end
