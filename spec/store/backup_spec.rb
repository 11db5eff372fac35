# frozen_string_literal: true

require "store_helper"
require "open3"
require "tmpdir"

# bin/backup and bin/restore as they are called, on a database of their own beside the one of the
# tests.
RSpec.describe "Backup and restore" do
  name = "handrail_test_kept"
  url = ENV.fetch("DATABASE_URL").sub(%r{/[^/]+\z}, "/#{name}")
  admin = Sequel.connect(ENV.fetch("DATABASE_URL"))

  around do |example|
    Dir.mktmpdir("handrail-backup") do |folder|
      @folder = folder
      example.run
    end
  end

  before { drop_all }
  after { drop_all }

  define_method(:names) do
    admin[:pg_database].where(Sequel.like(:datname, "#{name}%")).select_map(:datname)
  end

  define_method(:drop_all) do
    Handrail::Store.db
    names.each { |one| admin.run("DROP DATABASE IF EXISTS \"#{one}\" WITH (FORCE)") }
  end

  # Runs a command of bin/ on the database of this spec. Returns [output, success].
  define_method(:call) do |command, *arguments, **env|
    all = {
      "DATABASE_URL" => nil,
      "HANDRAIL_DATABASE" => name,
      "HANDRAIL_KEEP" => "3",
      **env.transform_keys(&:to_s)
    }
    output, status = Open3.capture2e(all, File.join(Handrail::ROOT, "bin", command), *arguments)
    [output, status.success?]
  end

  # what is in the database: table => rows
  define_method(:rows) do
    Sequel.connect(url) do |db|
      db.tables.sort.to_h { |table| [table, db[table].all.sort_by(&:inspect)] }
    end
  end

  define_method(:write) do |text|
    Sequel.connect(url) { |db| db[:clinics].insert(name: text, place: "Somewhere") }
  end

  define_method(:filled) do |target = nil|
    drop_all
    admin.run("CREATE DATABASE #{name} TEMPLATE template0 ENCODING 'UTF8'")
    Sequel.connect(url) do |db|
      Sequel.extension :migration
      Sequel::Migrator.run(db, File.join(Handrail::ROOT, "db", "migrations"), target: target)
    end
    write("First clinic")
  end

  def backup(*arguments)
    output, success = call("backup", @folder, *arguments)
    raise output unless success

    output.lines.last.strip
  end

  it "brings back every row and every file, and keeps what was there" do
    filled
    before = rows
    file = backup
    write("Written after the backup")
    after = rows
    output, success = call("restore", file)
    expect([success, output]).to match [
            true,
            /Restored from .*The database that was there is kept as #{name}_before_\d+/m
          ]
    expect(rows).to eq before
    kept = output[/#{name}_before_\d+/]
    Sequel.connect(url.sub(name, kept)) do |db|
      expect(db[:clinics].select_map(:name)).to eq(after[:clinics].map { |r| r[:name] })
    end
    listed, = Open3.capture2("tar", "-tf", file)
    expect(listed).to include(
      "./knowledge/families/knee_unloader.yml",
      "./database.dump",
      "./SHA256SUMS",
      "./about"
    )
  end

  it "keeps as many as it is told to, and leaves nothing half made, of itself or of one that was killed" do
    filled
    killed = File.join(@folder, ".making-killed")
    Dir.mkdir(killed)
    File.write(File.join(killed, "database.dump"), "half")
    FileUtils.touch(killed, mtime: Time.now - 86_400)
    5.times { backup }
    expect(Dir.children(@folder).size).to eq 3 # .making-killed is gone too
    expect(Dir.children(@folder)).to all match(/\Ahandrail-\d{8}-\d{6}(-\d+)?\.tar\z/)
  end

  describe "a file that is not right" do
    let(:file) do
      filled
      backup
    end

    # what stands in the archive, changed and packed again
    def repacked(file)
      Dir.mktmpdir do |folder|
        system("tar", "-C", folder, "-xf", file, exception: true)
        yield folder
        system("tar", "-C", folder, "-cf", file, ".", exception: true)
      end
    end

    def sum(folder)
      system(
        "cd #{folder} && find . -type f ! -name SHA256SUMS -print0 | sort -z | xargs -0 sha256sum > SHA256SUMS",
        exception: true
      )
    end

    define_method(:expect_refusal) do |path, words|
      before = rows
      databases = names
      output, success = call("restore", path)
      expect([success, output]).to match [false, words]
      expect(rows).to eq before
      expect(names).to match_array databases
    end

    it "changes nothing: cut short, damaged, added to, of another program, newer, missing" do
      whole = File.binread(file)
      File.binwrite(file, whole[0, whole.size / 2])
      expect_refusal(file, /no whole archive|damaged|no backup of Handrail/)
      File.binwrite(file, whole.dup.tap { |bytes| bytes.setbyte(bytes.index("PGDMP") + 3000, 1) })
      expect_refusal(file, /damaged/)
      File.binwrite(file, whole)
      repacked(file) { |folder| File.write(File.join(folder, "more"), "x") }
      expect_refusal(file, /damaged/)
      File.binwrite(file, whole)
      repacked(file) { |folder| File.write(File.join(folder, "about"), "other 1\n") && sum(folder) }
      expect_refusal(file, /no backup of Handrail/)
      File.binwrite(file, whole)
      repacked(file) do |folder|
        about = File.join(folder, "about")
        File.write(about, File.read(about).sub(/^schema \d+/, "schema 999")) && sum(folder)
      end
      expect_refusal(file, /newer version \(schema 999/)
      File.binwrite(file, whole)
      repacked(file) do |folder|
        File.symlink("/etc/passwd", File.join(folder, "knowledge", "link"))
      end
      expect_refusal(file, /links|damaged/)
      File.binwrite(file, "nothing of ours")
      expect_refusal(file, /no whole archive/)
      expect_refusal(File.join(@folder, "none.tar"), /there is no file/)
    end

    it "changes nothing where the database inside can not be read" do
      repacked(file) do |folder|
        File.write(File.join(folder, "database.dump"), "PGDMP rubbish") && sum(folder)
      end
      expect_refusal(file, /could not be restored/)
    end
  end

  describe "an update" do
    # what bin/start does with the database before it serves
    define_method(:prepare) do
      all = { "DATABASE_URL" => url, "HANDRAIL_DATABASE" => name, "RACK_ENV" => "production" }
      sign_ins = File.join(Handrail::ROOT, "var", "sign-ins")
      kept = File.exist?(sign_ins) && File.read(sign_ins)
      output, status =
        Open3.capture2e(
          all,
          "bundle",
          "exec",
          "ruby",
          "bin/support/prepare.rb",
          "--own",
          chdir: Handrail::ROOT
        )
      File.write(sign_ins, kept) if kept
      [output, status.success?]
    end

    it "refuses a database that is newer than the program, in words" do
      filled
      Sequel.connect(url) { |db| db[:schema_info].update(version: 999) }
      before = rows
      expect(prepare).to match [/made by a newer version \(schema 999.*nothing was changed/, false]
      expect(rows).to eq before
    end

    it "backs up an older one, brings it up to date, and says so" do
      filled(5)
      kept = Dir[File.join(Handrail::ROOT, "var", "backups", "*.tar")]
      output, success = prepare
      made = Dir[File.join(Handrail::ROOT, "var", "backups", "*.tar")] - kept
      FileUtils.rm_f(made)
      expect([success, output]).to match [
              true,
              /from schema 5 to #{Handrail::Store.newest_schema}.*A backup comes first/m
            ]
      expect(made.size).to eq 1
      expect(rows[:schema_info]).to eq [{ version: Handrail::Store.newest_schema }]
      expect(rows[:clinics].map { |row| row[:name] }).to eq ["First clinic"]
    end
  end

  it "says what is wrong with how it is called" do
    expect(call("restore")).to match [%r{Use: bin/restore FILE}, false]
    expect(call("backup", "--all")).to match [/not an option/, false]
    expect(call("backup", @folder, HANDRAIL_DATABASE: "a; drop")).to match [
            /no name of a database/,
            false
          ]
  end
end
