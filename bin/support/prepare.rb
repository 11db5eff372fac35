# frozen_string_literal: true

# Brings the database up to date, and loads the demo clinic when it is empty. Called by bin/start.

require_relative "../../lib/handrail"
require_relative "../../demo/heron_quay"

store = Handrail::Store
var = File.join(Handrail::ROOT, "var")
# of more visits than these the summaries are brought up to date while the server serves: some 3 ms a visit
AT_START = 20_000

# rows that did not come with the demo: other clinics, or anything that was written after the demo was loaded
real_data =
  lambda do
    next nil unless store.db.table_exists?(:clinics)

    demo = store.db[:clinics].where(demo: true).first
    others = store.db[:clinics].exclude(demo: true).count
    since =
      if demo
        store.db[:audit_entries]
          .where(clinic_id: demo[:id])
          .where { at > demo[:demo_loaded_at] + 1 }
          .count
      else
        0
      end
    [
      ("#{others} other #{others == 1 ? "clinic" : "clinics"}" if others.positive?),
      ("#{since} changes made since the demo was loaded" if since.positive?)
    ].compact.then { |found| found.empty? ? nil : found.join(" and ") }
  end

begin
  if ARGV.include?("--reset-demo")
    if (found = real_data.call) && !ARGV.include?("--yes")
      unless $stdin.tty?
        abort "This database holds #{found}. To delete them, run bin/start --reset-demo --yes."
      end

      print "This database holds #{found}. They will be deleted. Type “start over” to go on: "
      abort "Nothing was changed." unless $stdin.gets.to_s.strip == "start over"
    end
    store.db.run("DROP SCHEMA public CASCADE; CREATE SCHEMA public")
  end
  # a database of the first house: its tables can not be brought up to date, its demo is loaded anew
  if store.db.table_exists?(:visit_events)
    if (found = real_data.call)
      abort "This database was made by an earlier version and holds #{found}. Keep a copy of #{var}/postgres, " \
              "then run " \
              "bin/start --reset-demo --yes to start over."
    end
    puts "The demo clinic was made by an earlier version; it is made anew"
    store.db.run(
      "SET client_min_messages = warning; DROP SCHEMA public CASCADE; CREATE SCHEMA public"
    )
  end
  now = store.schema_version
  newest = store.newest_schema
  if now && now > newest
    abort "Handrail can not start: this database was made by a newer version (schema #{now}, this one knows " \
            "#{newest}). Update Handrail; nothing was changed."
  end
  if now && now < newest && store.db[:clinics].any?
    puts "The database is brought from schema #{now} to #{newest}. A backup comes first:"
    system(File.join(Handrail::ROOT, "bin", "backup")) or
      abort "Handrail can not start: the backup before the update could not be made. Nothing was changed."
  end
  store.migrate
  if now && now < newest
    puts "The database is at schema #{newest} now. New with it:"
    store.news(now).each { |text| puts "  #{text}" }
  end
  # what board, lists and report read follows from what was written: made anew by the new version
  changed = now && now < newest
  if changed || store.db[:visits].count <= AT_START
    told = changed ? "visits read anew" : "fittings say something else by this version"
    store::Summaries.catch_up(anew: changed) do |clinic, count|
      puts "Summaries of #{clinic.name}: #{count} #{told}" if count.positive?
    end
  elsif !store::Summaries.current?
    puts "What board and lists read is made anew by this version, while it serves: var/summaries.log tells."
    log = File.join(var, "summaries.log")
    command = File.join(Handrail::ROOT, "bin", "support", "summaries.rb")
    Process.detach(spawn(RbConfig.ruby, command, "--renew", %i[out err] => log, :pgroup => true))
  end
  if store.db[:clinics].empty? && !ARGV.include?("--own")
    puts "Loading the demo clinic"
    %w[telling stories other_stories long_stories middle_stories].each do |part|
      require_relative "../../demo/#{part}"
    end
    Handrail::HeronQuay.load
  end
  # the server works as a role that owns nothing; where the database is somebody else's, they say which
  unless ENV["HANDRAIL_ROLE"].to_s.empty?
    unless ENV["HANDRAIL_ROLE_PASSWORD"].to_s.empty?
      store::Roles.make(ENV.fetch("HANDRAIL_ROLE", nil), ENV.fetch("HANDRAIL_ROLE_PASSWORD"))
    end
    store::Roles.grant(ENV.fetch("HANDRAIL_ROLE", nil))
  end
  File.write(
    File.join(var, "sign-ins"),
    store.db[:clinics].where(demo: true).empty? ? "" : "#{Handrail::HeronQuay.sign_ins}\n"
  )
rescue Handrail::Error => e
  abort "Handrail can not start: #{e.message}"
rescue Sequel::DatabaseConnectionError => e
  abort "Handrail can not start: the database does not answer (#{e.message.lines.first.strip}). Look at " \
          "DATABASE_URL, or run bin/stop and bin/start."
rescue Sequel::DatabaseError => e
  abort "Handrail can not start: the database could not be brought up to date (#{e.message.lines.first.strip})."
end
