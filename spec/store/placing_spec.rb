# frozen_string_literal: true

require "web_helper"
require_relative "../support/served_processes"
require_relative "../support/two_clusters"

# A clinic that goes from one cluster to another while people work in it.
RSpec.describe "Clinics on several clusters" do
  # the databases are made once; every example leaves the clinic where it was
  before(:all) do # rubocop:disable RSpec/BeforeAfterAll
    @scene = TwoClusters.new
    @said, = @scene.command("clusters")
    @clinic = DEMO.id
    # before any example makes somebody there
    @numbers =
      %w[harbour inland].map do |name|
        @scene.at(name).get(Sequel.lit("nextval('patients_id_seq')"))
      end
  end

  after(:all) { @scene.drop } # rubocop:disable RSpec/BeforeAfterAll

  attr_reader :scene, :clinic

  def cluster = scene.at("directory")[:clinics].where(id: clinic).get(:cluster)
  def holds(name) = scene.at(name)[:clinic_holds].select_hash(:clinic_id, :why)

  def placed(*words)
    output, status = scene.command("place", clinic.to_s, *words)
    [output, status.exitstatus]
  end

  def home
    placed("harbour") unless cluster == "harbour"
    placed("--drop", "inland")
  end

  it "are listed with where they live, and each cluster deals numbers of its own" do
    expect(@said).to match(/^harbour  #{clinic}  #{DEMO.name}$/)
    span = Handrail::Store::Clusters::SPAN
    expect(@numbers).to match [be < span, span + 1]
  end

  it "hold every table of a clinic against being written in" do
    lacking =
      scene
        .at("inland")
        .fetch(
          "SELECT c.table_name FROM information_schema.columns c WHERE c.table_schema = 'public' AND " \
            "c.column_name = 'clinic_id' AND NOT EXISTS (SELECT 1 FROM pg_trigger t WHERE t.tgname = 'held' AND " \
            "t.tgrelid = c.table_name::regclass)"
        )
        .select_map(:table_name)
    expect(lacking).to match_array %w[clinic_holds audit_entries]
  end

  it "refuse what can not be done, and say what to do" do
    expect(placed("nowhere")).to match [/no cluster called nowhere/, 1]
    expect(placed("harbour")).to match [/lives at harbour already/, 1]
    expect(placed("--back")).to match [/No move of it is under way/, 1]
    expect(placed("--drop", "inland")).to match [/No old copy/, 1]
    output, status = scene.command("place", "Nobody's clinic", "inland")
    expect([output, status.exitstatus]).to match [/knows no clinic/, 1]
    output, status = scene.command("place", "9" * 30, "inland")
    expect([output, status.exitstatus]).to match [/\AThe directory knows no clinic/, 1]
    good = File.read(scene.file)
    File.write(scene.file, good.gsub("inland:", "standby:"))
    output, status = scene.command("clusters")
    File.write(scene.file, good)
    expect([output, status.exitstatus]).to match [/“standby” is no name/, 1]
    _, status = scene.command("place", "--back")
    expect(status.exitstatus).to eq 2
  end

  describe "while people work" do
    around do |example|
      @served = ServedProcesses.new(env: scene.environment).start
      example.run
    ensure
      @served&.stop
      home
    end

    attr_reader :served

    let(:fitter) do
      Handrail::Store::Account.where(clinic_id: clinic, role: "fitter").order(:id).first
    end
    let(:visit) do
      scene.at("harbour")[:visits]
        .where(clinic_id: clinic, closed_at: nil, called_off_at: nil)
        .reverse(:id)
        .first
    end

    # a note of a visit, as its page would send it; its status
    def note(cookie, text)
      page = served.get("/visits/#{visit[:id]}/record", cookie)
      fields =
        page.body[%r{id="note-form".*?</form>}m]
          .to_s
          .scan(/name="(authenticity_token|seen|page|entry_key|rests_on)" value="([^"]*)"/)
          .to_h
          .transform_values { |one| CGI.unescapeHTML(one) }
      served.post(
        "/visits/#{visit[:id]}/notes",
        fields.merge("text" => text),
        served.cookie(page) || cookie
      ).code
    end

    it "loses nothing that was said to be saved, signs nobody out, and is read-only where it was" do
      cookie = served.cookie(served.sign_in(fitter))
      expect(note(cookie, "before")).to match(/[23]03|302/)
      taken = []
      done = false
      writing =
        Thread.new do
          until done
            text = "during #{taken.size}"
            taken << text if note(cookie, text).start_with?("2", "3")
          end
        end
      output, status = placed("inland")
      sleep 2.5
      expect(note(cookie, "after")).to match(/[23]03|302/)
      done = true
      writing.join
      expect([status, output]).to match [
              0,
              /held: .*proved: \d+ tables, \d+ rows, \d+ lines of the audit, \d+ files.*switched/m
            ]
      notes = scene.at("inland")[:visit_notes].where(visit_id: visit[:id]).select_map(:text)
      expect(notes).to include("before", "after", *taken)
      expect(notes.size).to eq notes.uniq.size
      expect(taken.size).to be > 2
      expect(served.get("/", cookie).code).to eq "200"
      newest = scene.at("inland")[:visit_notes].where(visit_id: visit[:id]).max(:id)
      expect(newest).to be > Handrail::Store::Clusters::SPAN
      expect {
        scene.at("harbour")[:patients].where(clinic_id: clinic).update(given_name: "X")
      }.to raise_error(Sequel::DatabaseError, /the clinic is held/)
      # who signs in now is found where the clinic lives
      expect(served.sign_in(fitter).code).to eq "302"
      expect(scene.at("inland")[:account_active_session_keys].count).to be > 0
    end

    it "shows nothing of one cluster's clinic to the people of another's" do
      other =
        scene.at("harbour")[:clinics].insert(
          name: "Elsewhere",
          place: "E",
          phone: "1",
          time_zone: "UTC"
        )
      email = "own@elsewhere.example"
      scene.at("harbour")[:accounts].insert(
        clinic_id: other,
        name: "Ada Elsewhere",
        email: email,
        role: "senior",
        password_hash: Handrail::Store::People.hash(Fixtures::PASSWORD)
      )
      placed("inland")
      stranger = Struct.new(:email).new(email)
      cookie = served.cookie(served.sign_in(stranger))
      patient = scene.at("inland")[:patients].where(clinic_id: clinic).max(:id)
      codes =
        ["/visits/#{visit[:id]}/order", "/patients/#{patient}"].map do |path|
          served.get(path, cookie).code
        end
      expect(codes).to eq %w[404 404]
      expect(served.get("/", cookie).code).to eq "200"
    end

    it "goes on where it lives while the directory is away" do
      cookie = served.cookie(served.sign_in(fitter))
      name = scene.url("directory")[%r{[^/]+\z}]
      admin =
        Sequel.connect(scene.url("harbour").sub(%r{/[^/]+\z}, "/postgres"), max_connections: 1)
      admin.run("ALTER DATABASE #{name} ALLOW_CONNECTIONS false")
      admin.fetch(
        "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = ?",
        name
      ).all
      sleep 2.2
      expect(served.get("/", cookie).code).to eq "200"
      expect(served.sign_in(fitter).code).to eq "302"
    ensure
      admin&.run("ALTER DATABASE #{name} ALLOW_CONNECTIONS true")
      scene.at("directory").disconnect
      admin&.disconnect
    end
  end

  it "belong to one group across clusters: figures, people, wearers" do
    expect(scene.program("group_across.rb").lines.map(&:strip)).to eq [
         '[["Far", "Near"], []]',
         '[["inland", "Far"]]',
         "[true, true]",
         '[["Ines Quill", "Near", "N 1"]]',
         '["F 9, Far"]',
         "[]"
       ]
  end

  describe "a move that is killed" do
    after { home }

    ["pass 1", "held", "switched"].each do |line|
      it "at “#{line}” goes on when it is run again" do
        before = scene.digests("harbour", clinic)
        scene.killed(clinic, "inland", line)
        # in the meantime it lives in one place alone
        live =
          %w[harbour inland].reject do |name|
            holds(name).key?(clinic) || scene.at(name)[:clinics].where(id: clinic).empty?
          end
        expect(live).to eq(line == "pass 1" ? %w[harbour] : [])
        expect(placed("--back")).to match [/lives at inland by now/, 1] if line == "switched"
        output, status = placed("inland")
        expect([status, output]).to match [0, /done/]
        expect(scene.digests("inland", clinic)).to eq before
        expect([cluster, holds("harbour"), holds("inland")]).to eq [
             "inland",
             { clinic => "gone" },
             {}
           ]
      end
    end

    it "copies nothing over a clinic that lives there, and deletes none, whoever else moves it" do
      placed("inland")
      db = scene.at("directory")
      db.synchronize do
        db.get(Sequel.function(:pg_advisory_lock, clinic))
        expect(placed("harbour")).to match [/Somebody else is at work/, 1]
        db.get(Sequel.function(:pg_advisory_unlock, clinic))
      end
      # a directory that was brought back from a time before
      db[:moves].insert(clinic_id: clinic, source: "harbour", target: "inland", step: "copied")
      before = scene.digests("inland", clinic)
      expect(placed("inland")).to match [/nothing is copied over it/, 1]
      expect(placed("--back")).to match [/nothing is deleted there/, 1]
      expect(scene.digests("inland", clinic)).to eq before
      db[:moves].where(ended_at: nil).delete
    end

    it "is taken back while it was not switched: it works as before, and nothing of it is left there" do
      before = scene.digests("harbour", clinic)
      scene.killed(clinic, "inland", "held")
      expect(placed("--back")).to match [/taken back/, 0]
      expect([cluster, holds("harbour"), holds("inland")]).to eq ["harbour", {}, {}]
      expect(scene.at("inland")[:patients].where(clinic_id: clinic).count).to eq 0
      expect(scene.digests("harbour", clinic)).to eq before
    end
  end
end
