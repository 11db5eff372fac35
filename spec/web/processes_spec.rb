# frozen_string_literal: true

require "web_helper"
require "puma"
require "puma/configuration"
require "tmpdir"
require_relative "../support/served_processes"

# The server as bin/start runs it: several processes, replaced one after the other while people work.
RSpec.describe "Several processes" do
  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  around do |example|
    @served = ServedProcesses.new.start
    example.run
  ensure
    @served&.stop
  end

  attr_reader :served

  it "are one server to whoever is signed in, add up what they count, and hold back together who guesses" do
    cookie = served.cookie(served.sign_in(fitter))
    codes = Array.new(12) { Thread.new { served.get("/", cookie).code } }.map(&:value)
    expect(codes).to all eq "200"
    counted = served.get("/metrics").body[/^handrail_answers_total\{status="200"\} (\d+)/, 1].to_i
    # the page to sign in and the boards at least, whichever process served them
    expect(counted).to be >= 13
    guessed = Array.new(8) { served.sign_in(make_account(clinic, "senior"), "wrong").code }
    expect(guessed.uniq).not_to include "429"
    senior = make_account(clinic, "senior")
    guessed = Array.new(8) { served.sign_in(senior, "wrong").code }
    expect([guessed.last, guessed.index("429")]).to match ["429", be <= 6]
  end

  it "are replaced one after the other, and nobody is refused" do
    before = served.workers
    cookie = served.cookie(served.sign_in(fitter))
    done = false
    longest = 0
    asking =
      Array.new(3) do
        Thread.new do
          seen = Hash.new(0)
          until done
            from = Time.now
            seen[served.get("/", cookie).code] += 1
            longest = [longest, Time.now - from].max
            sleep 0.02
          end
          seen
        rescue SystemCallError, IOError, Timeout::Error => e
          { e.class.name => 1 }
        end
      end
    Process.kill(:USR1, served.pid)
    served.wait(90) { !served.workers.intersect?(before) && served.workers.size == 2 }
    done = true
    expect(asking.map(&:value).flat_map(&:keys).uniq).to eq ["200"]
    # as long as a page takes on a busy machine, not as long as a process takes to begin
    expect(longest).to be < 3
  end
end

# How the server is set up.
RSpec.describe "A server process" do
  it "hands over soon from a page that computes long to one that is short" do
    priority =
      Dir.mktmpdir do |folder|
        # its files belong to whoever serves
        stub_const("ENV", ENV.to_h.merge("HANDRAIL_SERVED" => folder))
        file = File.join(Handrail::ROOT, "config/puma.rb")
        puma = Puma::Configuration.new({ config_files: [file] }).tap(&:clamp)
        starting = puma.options.all_of(:before_thread_start).flatten
        Thread.new { starting.each { |one| one[:block].call } && Thread.current.priority }.value
      end
    expect(priority).to eq(-3)
  end
end
