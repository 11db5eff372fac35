# frozen_string_literal: true

require "digest"
require "sequel"

# The database of a run of tests: tables and the made-up clinic, built once and kept as a template of which each
# process gets a copy in a second. It is built anew when anything that makes it changed, and twice a day, since
# the demo's stories hang on the hour.
#
#   TestDatabase.new.ready   # DATABASE_URL names a fresh copy then
class TestDatabase
  MADE_OF = %w[
    db/migrations/*.rb
    demo/**/*
    lib/**/*.{rb,yml}
    knowledge/**/*.yml
    Gemfile.lock
  ].freeze
  HALF_A_DAY = 12 * 3600
  # any number: who holds it builds or copies, the others wait
  LOCK = 815_047

  # number - of the process in a run of several, as a text; empty for the first
  def initialize(number: ENV.fetch("TEST_ENV_NUMBER", ""))
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
    admin.run("COMMENT ON DATABASE #{@template} IS '#{key}'")
  end

  def copy(admin, from, to)
    admin.run("DROP DATABASE IF EXISTS #{to} WITH (FORCE)")
    admin.run("CREATE DATABASE #{to} TEMPLATE #{from}")
  end

  def current?(admin)
    said = Sequel.function(:shobj_description, Sequel[:oid], "pg_database")
    admin[:pg_database].where(datname: @template).get(said) == key
  end

  def key
    @key ||=
      begin
        root = File.expand_path("../..", __dir__)
        files =
          MADE_OF
            .flat_map { |pattern| Dir[File.join(root, pattern)] }
            .select { |path| File.file?(path) }
        digest = Digest::SHA256.new
        files.sort.each { |path| digest << path.delete_prefix(root) << File.binread(path) }
        digest << (Time.now.to_i / HALF_A_DAY).to_s
        digest.hexdigest
      end
  end
end
