# frozen_string_literal: true

require "open3"
require "tmpdir"
require "yaml"

# Two clusters and a directory, as three databases of the tests' server: the made-up clinic lives at the first, the
# second is empty.
#
#   scene = TwoClusters.new
#   scene.command("place", "1", "inland")  # => [output, status]
#   scene.at("inland")[:patients].count
#   scene.drop
class TwoClusters
  NAMES = %w[harbour inland directory].freeze
  # places a clinic, and is killed at the line that begins so
  KILLED = <<~RUBY
    require "./lib/handrail"
    told = ->(line) do
      puts line
      $stdout.flush
      Process.kill(:KILL, $$) if line.start_with?(ARGV[2])
    end
    Handrail::Store::Placing.new(ARGV[0], ARGV[1], told: told).run
  RUBY
  private_constant :KILLED

  def initialize
    @folder = Dir.mktmpdir("handrail-clusters")
    @url = ENV.fetch("DATABASE_URL")
    @name = @url[%r{/([^/?]+)(?:\?.*)?\z}, 1]
    admin do |db|
      NAMES.each { |name| db.run("DROP DATABASE IF EXISTS #{database(name)} WITH (FORCE)") }
      # the copy is made while nobody is in it
      db.run("CREATE DATABASE #{database("harbour")} TEMPLATE #{@name.sub(/\d*\z/, "")}_template")
      %w[inland directory].each do |name|
        db.run("CREATE DATABASE #{database(name)} TEMPLATE template0")
      end
    end
    File.write(file, YAML.dump(listed))
  end

  def file = File.join(@folder, "clusters.yml")
  def environment =
    { "DATABASE_URL" => url("harbour"), "HANDRAIL_CLUSTERS" => file, "HANDRAIL_SERVED" => @folder }
  def url(name) = @url.sub(%r{/[^/?]+(?=\?|\z)}, "/#{database(name)}")

  # A connection to one of the databases.
  def at(name) = (@at ||= {})[name] ||= Sequel.connect(url(name), max_connections: 2)

  def command(*words) = ruby("bin/support/handrail.rb", *words)

  # Runs a program of spec/support that sees both clusters. Returns what it prints.
  def program(name) = ruby(File.join("spec", "support", name)).first

  # Places a clinic, and is killed at a line of what it says.
  def killed(clinic, cluster, line) = ruby("-e", KILLED, clinic.to_s, cluster, line)

  def drop
    @at.to_h.each_value(&:disconnect)
    admin do |db|
      NAMES.each { |name| db.run("DROP DATABASE IF EXISTS #{database(name)} WITH (FORCE)") }
    end
    FileUtils.rm_rf(@folder)
  end

  # table => digest of a clinic's rows, without what moves on with every page
  def digests(name, clinic)
    db = at(name)
    tables = db.tables - %i[clinic_holds account_active_session_keys]
    tables
      .select { |table| db[table].columns.include?(:clinic_id) }
      .to_h do |table|
        rows = db[table].where(clinic_id: clinic).select(Sequel.lit("md5(#{table}::text) AS h"))
        [table, rows.from_self.get(Sequel.lit("md5(string_agg(h, '' ORDER BY h))"))]
      end
  end

  private

  def database(name) = "#{@name}_#{name}"

  def listed
    {
      "directory" => url("directory"),
      "clusters" => {
        "harbour" => {
          "number" => 0,
          "url" => url("harbour")
        },
        "inland" => {
          "number" => 1,
          "url" => url("inland")
        }
      }
    }
  end

  def ruby(*words)
    output, status = Open3.capture2e(environment, RbConfig.ruby, *words, chdir: Handrail::ROOT)
    [output, status]
  end

  def admin
    Sequel.connect(@url.sub(%r{/[^/?]+(?=\?|\z)}, "/postgres"), max_connections: 1) do |db|
      db.run("SET client_min_messages = warning")
      yield db
    end
  end
end
