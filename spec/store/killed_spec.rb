# frozen_string_literal: true

require "store_helper"
require "open3"
require "tmpdir"

# Real processes that are killed in the middle of their work: what they had not finished is not there, what
# was sent again is there once.
RSpec.describe "A process that is killed" do
  store = Handrail::Store

  let(:clinic) { make_clinic }
  let(:fitter) { make_account(clinic) }

  # Runs code in a process of its own until it says "now", and kills it there.
  def killed(code)
    library = File.join(Handrail::ROOT, "lib", "handrail.rb")
    env = { "DATABASE_URL" => ENV.fetch("DATABASE_URL") }
    Open3.popen2(
      env,
      RbConfig.ruby,
      "-e",
      "require #{library.inspect}\n$stdout.sync = true\n#{code}"
    ) do |_, out, process|
      expect(out.gets).to eq "now\n"
      Process.kill("KILL", process.pid)
      expect(process.value.signaled?).to be true
    end
  end

  def rows(count)
    JSON.generate(
      (1..count).map do |n|
        [
          n + 1,
          {
            "record_number" => "K #{n}",
            "given_name" => "A",
            "family_name" => "B",
            "born_on" => "1 Jan 1970"
          }
        ]
      end
    )
  end

  def people = Handrail::Store::Patient.where(clinic_id: clinic.id, practice: false)

  it "in the middle of bringing patients in leaves none of them; sent again, all are there once" do
    key = SecureRandom.uuid
    killed(<<~RUBY)
      store = Handrail::Store
      add = store::Patient.method(:create)
      seen = 0
      store::Patient.define_singleton_method(:create) do |*given, **more|
        (puts("now") && nil) || sleep if (seen += 1) == 20
        add.call(*given, **more)
      end
      account = store::Account[#{fitter.id}]
      store::Desk.new(account.clinic, account, entry_key: "#{key}")
        .run(store::Commands::BringPatients.new("rows" => #{rows(40).inspect}))
    RUBY
    expect(people.count).to eq 0
    2.times do
      desk(clinic, fitter, entry_key: key).run(
        store::Commands::BringPatients.new("rows" => rows(40))
      )
    end
    expect(people.count).to eq 40
  end

  it "in the middle of closing a recheck leaves it open as it was, and the next recheck unplanned" do
    later = recheck_to_close(clinic, fitter)
    version = later.refresh.version
    killed(<<~RUBY)
      store = Handrail::Store
      store::Summaries.define_singleton_method(:keep) { |*| puts("now"); sleep }
      account = store::Account[#{fitter.id}]
      store::Ledger.new(store::Visit[#{later.id}], account).run(store::Commands::CloseRecheck.new({}))
    RUBY
    # until the database has let go of what the killed one held
    store.db.get(Sequel.lit("pg_sleep(0.3)"))
    expect([later.refresh.version, later.closed_at, record(later).visits.size]).to eq [
         version,
         nil,
         2
       ]
    run(later, fitter, :CloseRecheck)
    expect([record(later).closed?, record(later).visits.size]).to eq [true, 3]
  end

  it "in the middle of writing a clinic out leaves no file that could be taken for a whole one" do
    make_patient(clinic, fitter)
    Dir.mktmpdir do |folder|
      path = File.join(folder, "clinic.zip")
      killed(<<~RUBY)
        store = Handrail::Store
        File.define_singleton_method(:rename) { |*| puts("now"); sleep }
        store::WholeClinic.out(store::Clinic[#{clinic.id}], #{path.inspect})
      RUBY
      expect(File.exist?(path)).to be false
      store::WholeClinic.out(clinic, path)
      expect(Dir.children(folder)).to eq ["clinic.zip"]
    end
  end
end
