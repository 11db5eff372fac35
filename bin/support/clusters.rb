# frozen_string_literal: true

# bin/handrail clusters: brings the databases of a group up to date, lets each deal numbers of its own, notes every
# clinic in the directory, and says what lives where. bin/handrail place: moves a clinic, see Handrail::Store::Placing.

require_relative "../../lib/handrail"

module Handrail
  # The command line of a group's clusters.
  class ClustersCommand
    USAGE = <<~TEXT
      Call it so, HANDRAIL_CLUSTERS naming the file of clusters with the addresses of who owns the databases:
        bin/handrail clusters                       brings them up to date and says what lives where
        bin/handrail place CLINIC CLUSTER           moves a clinic; run again it goes on where it was
        bin/handrail place CLINIC --back            takes a move back that has not been switched
        bin/handrail place CLINIC --drop CLUSTER    deletes what lies where a clinic lived before
      CLINIC is its number, or its name.
    TEXT

    # Returns the status of the command: 0 done, 1 refused, 2 called wrongly.
    def self.run(name, arguments)
      return usage unless Store::Clusters.many?

      case [name, *arguments]
      in ["clusters"]
        prepare
      in ["place", clinic, "--back"]
        moving(clinic, &:take_back)
      in ["place", clinic, "--drop", cluster]
        moving(clinic, cluster, &:drop_old)
      in ["place", clinic, cluster] unless cluster.start_with?("-")
        moving(clinic, cluster, &:run)
      else
        usage
      end
    rescue Handrail::Error => e
      warn e.message
      1
    rescue Sequel::DatabaseError, Sequel::PoolTimeout => e
      warn "A database says no: #{e.message.lines.first.strip}. Nothing is lost; run it again."
      1
    end

    def self.usage
      warn USAGE
      2
    end

    def self.prepare
      Store::Clusters.each do |name|
        was = Store.schema_version
        Store.migrate
        Store::Summaries.catch_up(anew: was && was < Store.newest_schema)
        cluster = Store::Clusters.all.fetch(name)
        Store::Clusters.deal(cluster.number)
        role = ENV["HANDRAIL_ROLE"].to_s
        Store::Roles.grant(role) unless role.empty?
      end
      Store::Directory.prepare
      list
      0
    end

    def self.list
      db = Store::Directory.db
      db[:clinics]
        .order(:cluster, :id)
        .each { |row| puts "#{row[:cluster]}  #{row[:id]}  #{row[:name]}" }
      db[:moves]
        .where(ended_at: nil)
        .each { |row| puts "on its way: #{row[:clinic_id]} to #{row[:target]}, #{row[:step]}" }
      db[:old_copies].each { |row| puts "old copy: #{row[:clinic_id]} at #{row[:cluster]}" }
    end

    def self.moving(said, cluster = nil)
      id = clinic(said)
      yield Store::Placing.new(id, cluster, told: ->(line) { puts(line) || $stdout.flush })
      0
    end

    def self.clinic(said)
      known = Store::Directory.db[:clinics]
      found =
        (
          said.match?(/\A\d{1,18}\z/) ? known.where(id: said.to_i) : known.where(name: said)
        ).select_map(:id)
      return found.first if found.one?

      if found.empty?
        raise Handrail::Error,
              "The directory knows no clinic “#{said}”. Look: bin/handrail clusters"
      end

      raise Handrail::Error, "Several clinics are called so: give the number."
    end
    private_class_method :usage, :prepare, :list, :moving, :clinic
  end
end
