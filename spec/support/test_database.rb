# frozen_string_literal: true

require "digest"
require "sequel"

# The database of a run of tests: tables and the made-up clinic, built once and kept as a template of which each
# process gets a copy in a second. It is built anew when anything that makes it changed, and twice a day, since
# the demo's stories hang on the hour.
#
#   TestDatabase.new.ready   # DATABASE_URL names a fresh copy then
class TestDatabase
  MADE_OF = %w[db/migrations/*.rb demo/**/* knowledge/**/*.yml Gemfile.lock].freeze
  # what writes the made-up clinic: for one file of specs a template that an older state of it wrote is good enough
  WRITTEN_BY = %w[lib/**/*.{rb,yml}].freeze
  HALF_A_DAY = 12 * 3600
  # any number: who holds it builds or copies, the others wait
  LOCK = 815_047

  # number - of the process in a run of several, as a text; empty for the first; near - whether a template that was
  # written by another state of lib will do
  def initialize(number: ENV.fetch("TEST_ENV_NUMBER", ""), near: ENV.key?("HANDRAIL_ONE_FILE"))
    @near = near
    @first = ENV.fetch("DATABASE_URL")
    @own = @first.sub(%r{(/[^/?]+)(\?.*)?\z}, "\\1#{number}\\2")
    @name = @own[%r{/([^/?]+)(?:\?.*)?\z}, 1]
    @template = "#{@first[%r{/([^/?]+)(?:\?.*)?\z}, 1]}_template"
  end

  # build - called where there is no template that is as it would be made now
  def ready(&build)
    ENV["DATABASE_URL"] = @own
    Sequel.connect(@first.sub(%r{/[^/?]+(\?.*)?\z}, '/postgres\1'), max_connections: 1) do |admin|
      admin.run("SET client_min_messages = warning")
      admin.get(Sequel.function(:pg_advisory_lock, LOCK))
      current?(admin) ? copy(admin, @template, @name) : made(admin, &build)
      # nothing here needs to outlast a power cut, so no commit waits for the disk
      admin.run("ALTER DATABASE #{@name} SET synchronous_commit = off")
    end
  end

  private

  def made(admin)
    admin.run("DROP DATABASE IF EXISTS #{@name} WITH (FORCE)")
    admin.run("CREATE DATABASE #{@name}")
    yield
    copy(admin, @name, @template)
    admin.run("COMMENT ON DATABASE #{@template} IS '#{key(MADE_OF)} #{key(WRITTEN_BY)}'")
  end

  def copy(admin, from, to)
    admin.run("DROP DATABASE IF EXISTS #{to} WITH (FORCE)")
    admin.run("CREATE DATABASE #{to} TEMPLATE #{from}")
  end

  def current?(admin)
    said = Sequel.function(:shobj_description, Sequel[:oid], "pg_database")
    made, written = admin[:pg_database].where(datname: @template).get(said).to_s.split
    made == key(MADE_OF) && (@near || written == key(WRITTEN_BY))
  end

  def key(patterns)
    root = File.expand_path("../..", __dir__)
    files =
      patterns
        .flat_map { |pattern| Dir[File.join(root, pattern)] }
        .select { |path| File.file?(path) }
    digest = Digest::SHA256.new
    files.sort.each { |path| digest << path.delete_prefix(root) << File.binread(path) }
    digest << (Time.now.to_i / HALF_A_DAY).to_s
    digest.hexdigest
  end
end
