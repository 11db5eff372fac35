# frozen_string_literal: true

require "spec_helper"
require "json"
require "open3"
require_relative "../support/standby_pair"

# Reading from a standby, on a server and a standby of their own; what is seen is printed by a process of its own.
RSpec.describe "Reading from a standby" do
  around do |example|
    @pair = StandbyPair.new.start
    example.run
  ensure
    @pair&.stop
  end

  attr_reader :pair

  # what a script prints, as JSON; it speaks to this one by lines: `tell("hold")` is done by the pair
  def seen(script)
    env = {
      "DATABASE_URL" => pair.writer_url,
      "HANDRAIL_READER_URL" => pair.reader_url,
      "RACK_ENV" => "production",
      "SESSION_SECRET" => "s" * 64
    }
    found = nil
    Open3.popen2(
      env,
      RbConfig.ruby,
      "-e",
      "require #{File.expand_path("../support/standby_scene.rb", __dir__).inspect}\n#{script}"
    ) do |into, out, process|
      out.each_line do |line|
        said = JSON.parse(line)
        if said.is_a?(Hash) && said["do"]
          pair.public_send(said["do"])
          into.puts("done")
        else
          found = said
        end
      end
      expect(process.value).to be_success
    end
    found
  end

  it "is done where it has one's own last write, and only there; what is written goes to the writer" do
    found = seen(<<~RUBY)
      make_clinic("First")
      first = wait { Store::Standby.read(after: Store::Standby.mark) { Store::Clinic.count } }
      standby = Store::Standby.read { Store.db.get(Sequel.function(:pg_is_in_recovery)) }
      tell("hold")
      second = make_clinic("Second")
      behind = Store::Standby.read(after: Store::Standby.mark) { Store::Clinic.count }
      others = Store::Standby.read { Store::Clinic.count }
      refused =
        begin
          Store::Standby.read { second.update(place: "Pier") }
        rescue Sequel::DatabaseError => e
          Store::Standby.no_writer?(e)
        end
      through = Store::Standby.read { Store::Standby.writing { Store::Clinic.count } }
      odd = Store::Standby.read(after: "no mark") { 1 }
      tell("go_on")
      see [first, standby, behind, others, refused, through, odd, wait { Store::Standby.read(after: Store::Standby.mark) { Store::Clinic.count } }]
    RUBY
    expect(found).to eq [1, true, nil, 1, true, 2, nil, 2]
  end

  it "shows who wrote what they wrote, however far a standby is behind, and the others what it has" do
    found = seen(<<~RUBY)
      mine = Browser.of_somebody
      theirs = Browser.of_somebody
      mine.begin_patient
      tell("hold")
      kept = mine.send_patient.first
      path = "/patients/\#{Store::Patient.get(:id)}"
      here = [mine.look(path), theirs.look(path), theirs.look(path, HTTP_HANDRAIL_FOLLOWS: "yes")].map(&:first)
      tell("go_on")
      in_step
      see [kept, *here, theirs.look(path).first]
    RUBY
    expect(found).to eq [303, 200, 404, 200, 200]
  end

  it "goes on while there is no writer, says so, and takes nothing that it could not keep" do
    found = seen(<<~RUBY)
      browser = Browser.of_somebody
      calm = browser.look("/people")
      browser.begin_patient
      tell("kill_writer")
      sent = browser.send_patient
      pages = %w[/people / /handbook /week /people].map { |page| browser.look(page) }
      see [calm, sent, pages, Store::Standby.read { Store::Patient.count }]
    RUBY
    expect(found).to eq [[200, false], [503, nil], [[200, true]] * 5, 0]
  end

  it "signs nobody out whose sign-in can not be noted" do
    found = seen(<<~RUBY)
      browser = Browser.of_somebody
      # as used longer ago than a note lasts
      Store.db[:account_active_session_keys].update(last_use: Sequel.lit("last_use - interval '5 minutes'"))
      in_step
      tell("kill_writer")
      here = browser.look("/people").first
      browser.clear_cookies
      see [here, browser.look("/people").first]
    RUBY
    expect(found).to eq [200, 302]
  end
end
