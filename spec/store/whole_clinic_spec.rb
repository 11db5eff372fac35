# frozen_string_literal: true

require "store_helper"
require "open3"
require "tmpdir"

# The demo clinic out of the database of the tests, and into others of their own.
RSpec.describe Handrail::Store::WholeClinic do
  name = "handrail_test_moved"
  url = ENV.fetch("DATABASE_URL").sub(%r{/[^/]+\z}, "/#{name}")
  admin = Sequel.connect(ENV.fetch("DATABASE_URL"))

  around do |example|
    Dir.mktmpdir("handrail-clinic") do |folder|
      @file = File.join(folder, "clinic.zip")
      example.run
    end
  end

  # the tables at the newest schema are made once, and copied
  before(:all) do # rubocop:disable RSpec/BeforeAfterAll
    admin.run("DROP DATABASE IF EXISTS #{name}_empty WITH (FORCE)")
    admin.run("CREATE DATABASE #{name}_empty TEMPLATE template0 ENCODING 'UTF8'")
    elsewhere("#{url}_empty") do |db|
      Sequel.extension :migration
      Sequel::Migrator.run(db, File.join(Handrail::ROOT, "db", "migrations"))
    end
  end

  after { admin.run("DROP DATABASE IF EXISTS #{name} WITH (FORCE)") }
  after(:all) { admin.run("DROP DATABASE IF EXISTS #{name}_empty") } # rubocop:disable RSpec/BeforeAfterAll

  # an empty database of its own
  define_method(:fresh) do
    admin.run("DROP DATABASE IF EXISTS #{name} WITH (FORCE)")
    admin.run("CREATE DATABASE #{name} TEMPLATE #{name}_empty")
  end

  # the rows there as they are read here
  define_method(:elsewhere) do |where = url, &block|
    Sequel.connect(where) do |db|
      db.extension :pg_json
      db.wrap_json_primitives = false
      block.call(db)
    end
  end

  # what the program prints there. Returns [output, success].
  define_method(:there) do |code|
    library = File.join(Handrail::ROOT, "lib", "handrail.rb")
    whole = "require #{library.inspect}\n#{code}"
    output, status = Open3.capture2e({ "DATABASE_URL" => url }, RbConfig.ruby, "-e", whole)
    [output, status.success?]
  end

  def bring(path = @file)
    there(
      "begin; puts Handrail::Store::WholeClinic.in(#{path.inspect}).id; " \
        "rescue Handrail::Error => e; abort e.message; end"
    )
  end

  def out(clinic = DEMO) = described_class.out(clinic, @file)

  # table => rows of a clinic as texts, in order
  def rows(db, clinic)
    described_class.tables.to_h do |table|
      set = db[table].where((table == :clinics ? :id : :clinic_id) => clinic)
      [
        table,
        set
          .select(*described_class.columns(table))
          .map { |row| row.transform_values(&:to_s) }
          .sort_by(&:inspect)
      ]
    end
  end

  # The same with every number of a row as its place among the clinic's own rows of that table: what
  # is equal then says the same, whatever the numbers are.
  def places(db, clinic)
    numbers =
      described_class.tables.to_h do |table|
        next table, {} unless described_class.columns(table).include?(:id)

        ids =
          db[table].where((table == :clinics ? :id : :clinic_id) => clinic).select_order_map(:id)
        [table, ids.each_with_index.to_h]
      end
    described_class.tables.to_h do |table|
      named = described_class.references(table).merge(id: table, clinic_id: :clinics)
      named = named.slice(*described_class.columns(table))
      [
        table,
        db[table]
          .where((table == :clinics ? :id : :clinic_id) => clinic)
          .map { |row| placed(row, named, numbers, table) }
          .sort_by(&:inspect)
      ]
    end
  end

  def placed(row, named, numbers, table)
    found = row.except(:record_key, :search_text, :name_key).transform_values(&:to_s)
    named.each { |column, to| found[column] = row[column] && numbers.fetch(to)[row[column]] }
    if table == :audit_entries
      found[:row_id] = numbers.fetch(row[:table_name].to_sym, {})[row[:row_id]]
      found[:visit_id] = numbers[:visits][row[:visit_id]]
      found[:account_id] = numbers[:accounts][row[:account_id]]
      found = found.except(:before, :after)
    end
    found[:result] = results(row[:result], numbers) if table == :entries
    found[:stop] = row[:stop].sub(/\d+\z/) { |id| numbers[:skin_findings][id.to_i].to_s } if row[
      :stop
    ].to_s.start_with?("skin:")
    found
  end

  def results(result, numbers)
    found = result.is_a?(String) ? JSON.parse(result) : result.to_h
    found.map do |key, value|
      [
        key,
        (
          if key == "visit"
            numbers[:visits][value]
          else
            (key == "patient" ? numbers[:patients][value] : value.class)
          end
        )
      ]
    end
  end

  it "comes into an empty database row by row as it went out" do
    counts = out
    expect(counts[:readings]).to be > 100
    fresh
    output, success = bring
    expect([output, success]).to match [/\A#{DEMO.id}\n/, true]
    elsewhere do |db|
      mine = rows(Handrail::Store.db, DEMO.id)
      theirs = rows(db, DEMO.id)
      described_class.tables.each do |table|
        expect([table, theirs[table]]).to eq [table, mine[table]]
      end
    end
  end

  it "comes in beside another clinic, says the same, touches nothing there, and goes on being written" do
    out
    fresh
    other, = there(<<~RUBY)
      store = Handrail::Store
      clinic = store::Clinic.create(name: "There before", place: "Elsewhere")
      account = store::Account.create(clinic_id: clinic.id, name: "One", email: "one@there.example", role: "senior")
      who = { clinic_id: clinic.id, given_name: "A", family_name: "B", born_on: "1970-01-01" }
      3.times { |n| store::Patient.create(**who, record_number: "T \#{n}") }
      puts clinic.id
    RUBY
    before = elsewhere { |db| rows(db, other.to_i) }
    output, success = bring
    expect([output, success]).to match [/\A\d+\n/, true]
    id = output.to_i
    expect(id).not_to eq other.to_i
    elsewhere do |db|
      mine = places(Handrail::Store.db, DEMO.id)
      theirs = places(db, id)
      described_class.tables.each do |table|
        expect([table, theirs[table]]).to eq [table, mine[table]]
      end
      expect(rows(db, other.to_i)).to eq before
    end
    said, = there(<<~RUBY)
      store = Handrail::Store
      clinic = store::Clinic[#{id}]
      p store::Summaries.differences(clinic)
      account = store::Account.first(clinic_id: clinic.id, role: "fitter")
      desk = store::Desk.new(clinic, account)
      who = { "record_number" => "N 1", "given_name" => "New", "family_name" => "One", "born_on" => "1 Jan 1980" }
      p desk.run(store::Commands::AddPatient.new(who)).keys
      visit = store::Visit.where(clinic_id: clinic.id, closed_at: nil).exclude(opened_at: nil).first
      p store::Ledger.new(visit, account).run(store::Commands::AddNote.new("text" => "after the move")).again
    RUBY
    expect(said).to eq %([]\n["patient"]\nfalse\n)
  end

  describe "a file that is not right" do
    before do
      out
      fresh
    end

    def changed(&block)
      Zip::File.open(@file, &block)
    end

    def refused(message)
      output, success = bring
      expect([success, output]).to match [false, message]
      elsewhere { |db| expect(db[:clinics].count).to eq 0 }
    end

    it "is refused with what is wrong, and changes nothing" do
      changed { |zip| zip.remove("tables/readings.jsonl") }
      refused(/not whole: the table readings is missing/)
    end

    it "is refused where a row was touched" do
      text = Zip::File.open(@file) { |zip| zip.read("tables/patients.jsonl") }
      changed do |zip|
        zip.get_output_stream("tables/patients.jsonl") { |o| o << text.sub("Ines", "Anna") }
      end
      refused(/damaged: the table patients/)
    end

    it "is refused of another schema, of another program, and where it is no file of that kind" do
      manifest = Zip::File.open(@file) { |zip| JSON.parse(zip.read("clinic.json")) }
      write = ->(hash) do
        changed { |zip| zip.get_output_stream("clinic.json") { |o| o << JSON.generate(hash) } }
      end
      write[manifest.merge("schema" => 3)]
      refused(/made at schema 3, which no version/)
      write[manifest.merge("schema" => 9999)]
      refused(/by a newer program. Bring this one up to date first/)
      write[manifest.merge("format" => "elsewhere")]
      refused(/no clinic's file of this program/)
      File.write(@file, "PK nonsense")
      refused(/can not be read as a clinic's file/)
    end

    it "is refused where somebody signs in there under the same e-mail" do
      there(
        'Handrail::Store::Account.create(clinic_id: Handrail::Store::Clinic.create(name: "X", place: "Y").id, ' \
          'name: "M", email: "MAREN@heronquay.example", role: "senior")'
      )
      output, success = bring
      expect([success, output]).to match [false, /heronquay.example signs in here already/i]
      elsewhere { |db| expect(db[:clinics].count).to eq 1 }
    end

    it "is refused where a row names one that is not there, whoever wrote the digest anew" do
      manifest, text =
        Zip::File.open(@file) do |zip|
          [JSON.parse(zip.read("clinic.json")), zip.read("tables/patients.jsonl")]
        end
      short = text.lines.drop(1).join
      manifest["tables"]["patients"] = {
        "rows" => short.lines.size,
        "sha256" => Digest::SHA256.hexdigest(short)
      }
      changed do |zip|
        zip.get_output_stream("tables/patients.jsonl") { |o| o << short }
        zip.get_output_stream("clinic.json") { |o| o << JSON.generate(manifest) }
      end
      refused(/name others in patients that are not in the file/)
    end
  end

  it "takes devices of the clinic's own along" do
    clinic = make_clinic("Quay of its own")
    senior = make_account(clinic, "senior")
    shipped = File.read(File.join(Handrail::Families::Registry::FOLDER, "ankle_sleeve.yml"))
    words = "words:\n- en: Quay sleeve\n  de: Kai-Bandage\n  es: Manga del muelle\n"
    source =
      shipped.sub("key: ankle_sleeve", "key: quay_sleeve").sub(
        "name: Ankle sleeve",
        "name: Quay sleeve"
      ) + words
    Handrail::Store::Desk.new(clinic, senior, entry_key: SecureRandom.uuid).run(
      Handrail::Store::Commands::BringFamily.new(
        { "why" => "made by our own workshop" },
        looked: Handrail::Store::OwnFamilies.look(source, "quay.yml")
      )
    )
    out(Handrail::Store::Clinic[clinic.id])
    fresh
    expect(bring.last).to be true
    said, =
      there(
        "clinic = Handrail::Store::Clinic.first(name: 'Quay of its own')\n" \
          "puts clinic.device_families.fetch('quay_sleeve').name, clinic.fits?('quay_sleeve')"
      )
    expect(said).to eq "Quay sleeve\ntrue\n"
  end

  it "brings what a newcomer was told of the first appointment, which belongs to no visit" do
    clinic = make_clinic
    fitter = make_account(clinic)
    patient = make_patient(clinic, fitter)
    asked = {
      "patient" => patient.id,
      "day" => Handrail::Quantity::Day.write(clinic.today + 1),
      "time" => "10:00",
      "what" => "knee"
    }
    Handrail::Store::Desk.new(clinic, fitter).run(Handrail::Store::Commands::BookFirst.new(asked))
    out(clinic)
    fresh
    expect(bring.last).to be true
    elsewhere do |db|
      told, whose =
        db[:messages].join(:patients, id: :patient_id).select_map(%i[body record_number]).first
      expect([told, whose]).to match [/Please bring the prescription/, patient.record_number]
      expect(db[:messages].select_map(%i[visit_id version])).to eq [[nil, nil]]
      expect(db[:first_appointments].get(:changed_at)).not_to be_nil
    end
  end

  describe "a file of an older version" do
    kept = File.join(Handrail::ROOT, "spec", "others", "clinics")

    Dir[File.join(kept, "schema-*.zip")].each do |path|
      it "is read as the migrations since then make of it (#{File.basename(path)})" do
        fresh
        output, success = bring(path)
        expect([success, output]).to match [true, /\A\d+\n\z/]
        manifest = Zip::File.open(path) { |zip| JSON.parse(zip.read("clinic.json")) }
        elsewhere do |db|
          counts =
            manifest["tables"].to_h do |table, about|
              [table, [about["rows"], db[table.to_sym].count]]
            end
          # what migrations add is audited; everything else is there as it was
          others = counts.except("audit_entries").reject { |_, (was, now)| was == now }
          expect(others).to eq({})
          expect(db[:earlier_readings].select_map(%i[site typed tension])).to eq [
               ["calf_widest", "36 1/2", nil]
             ]
          expect(db[:clinics].get(:name)).to eq manifest["clinic"]
          # no database is left over
          expect(
            db["SELECT datname FROM pg_database WHERE datname LIKE 'handrail_older%'"].all
          ).to eq []
        end
        # and goes out and in again, with today's
        again, =
          there(
            "Handrail::Store::WholeClinic.out(Handrail::Store::Clinic.first, #{@file.inspect}); puts 1"
          )
        expect(again).to eq "1\n"
        fresh
        expect(bring.last).to be true
      end
    end

    it "of every version since then is kept, one with every migration" do
      versions = Dir[File.join(kept, "schema-*.zip")].map { |path| path[/\d+(?=\.zip)/].to_i }
      expect(versions).to match_array(45..Handrail::Store.newest_schema)
    end

    it "is refused where a row of it was touched, and leaves nothing behind" do
      fresh
      FileUtils.cp(File.join(kept, "schema-45.zip"), @file)
      text = Zip::File.open(@file) { |zip| zip.read("tables/patients.jsonl") }
      Zip::File.open(@file) do |zip|
        zip.get_output_stream("tables/patients.jsonl") { |o| o << text.sub("Wilma", "Anna") }
      end
      output, success = bring
      expect([success, output]).to match [false, /damaged: the table patients/]
      elsewhere { |db| expect(db[:clinics].count).to eq 0 }
    end
  end
end
