# frozen_string_literal: true

require "fileutils"
require "json"

module Handrail
  module Store
    # On which cluster each clinic lives, and which is on its way: a small database of its own. What it said last is
    # kept in the process and in a file, so that it may be away: a clinic that it never spoke of lives where its number
    # was dealt.
    #
    #   Directory.cluster_of(10_000_000_000_001) # => "inland"
    #
    # It knows names of clinics and nothing of what they hold.
    module Directory
      # how long (seconds) what it said is believed; a clinic that was moved meanwhile is held at its old place
      FRESH = 2
      # how long (seconds) beyond that it is not asked again where it did not answer
      AWAY = 30
      MIGRATIONS = File.join(ROOT, "db", "directory")
      LOCK = Mutex.new
      private_constant :LOCK

      class << self
        def db
          @db ||=
            Sequel
              .connect(Clusters.directory_url, max_connections: 3, connect_timeout: 3)
              .tap do |db|
                db.extension :pg_json, :connection_validator
                db.pool.connection_validation_timeout = 10
              end
        end

        # Brings its tables up to date, and notes clusters and clinics that it does not know yet. For who owns it.
        # Returns the number of clinics.
        def prepare
          Sequel.extension :migration
          Sequel::Migrator.run(db, MIGRATIONS)
          Clusters.all.each_value do |one|
            db[:clusters].insert_conflict.insert(name: one.name, number: one.number)
          end
          Clusters
            .each { Clinic.select_map(%i[id name]) }
            .each { |name, clinics| clinics.each { |id, said| learn(id, said, name) } }
          forget
          db[:clinics].count
        end

        # The name of the cluster that a clinic lives on.
        def cluster_of(clinic_id)
          places[clinic_id] || Clusters.dealt(clinic_id) || Clusters.first
        end

        # Whether the cluster that is asked now is the one where a clinic lives: an old copy is no place to sign in to.
        def here?(clinic_id) = !Clusters.many? || cluster_of(clinic_id) == Clusters.here

        # What is known is asked anew.
        def forget = LOCK.synchronize { @read_at = nil }

        # clinic's id => name of its cluster, as far as it was spoken of.
        def places
          LOCK.synchronize do
            now = Process.clock_gettime(Process::CLOCK_MONOTONIC)
            next @places if @read_at && now - @read_at < FRESH

            found = ask
            @read_at = found ? now : now + AWAY
            @places = found || @places || kept
          end
        end

        # --- moves: one at a time of a clinic ---

        # Runs a block while nobody else moves a clinic, on one connection. Raises Placing::Refused where somebody does.
        def alone(clinic_id)
          db.synchronize do
            unless db.get(Sequel.function(:pg_try_advisory_lock, clinic_id))
              raise Placing::Refused, "Somebody else is at work at moving this clinic."
            end

            begin
              yield
            ensure
              db.get(Sequel.function(:pg_advisory_unlock, clinic_id))
            end
          end
        end

        # The row of the move that is not at its end, or nil.
        def open_move(clinic_id) = db[:moves].where(clinic_id: clinic_id, ended_at: nil).first

        # Begins one. Raises Placing::Refused where another begins at the same moment.
        def begin_move(clinic_id, source, target)
          row = { clinic_id: clinic_id, source: source, target: target, step: "begun" }
          db[:moves].returning.insert(row).first
        rescue Sequel::UniqueConstraintViolation
          raise Placing::Refused, "Somebody else moves this clinic at this moment."
        end

        def step(move, step, **told)
          db[:moves].where(id: move[:id]).update(
            step: step,
            told: Sequel.pg_jsonb_wrap({ **move[:told].to_h, **told.transform_keys(&:to_s) })
          )
          db[:moves].first(id: move[:id])
        end

        # From one moment on the clinic lives at the target.
        def switch(move, name)
          db.transaction do
            learn(move[:clinic_id], name, move[:target])
            db[:clinics].where(id: move[:clinic_id]).update(
              cluster: move[:target],
              version: Sequel[:version] + 1,
              changed_at: Sequel::CURRENT_TIMESTAMP
            )
            db[:old_copies].where(clinic_id: move[:clinic_id], cluster: move[:target]).delete
            db[:old_copies].insert_conflict.insert(
              clinic_id: move[:clinic_id],
              cluster: move[:source]
            )
            step(move, "switched")
          end
        ensure
          forget
        end

        def end_move(move, outcome)
          db[:moves].where(id: move[:id]).update(
            ended_at: Sequel::CURRENT_TIMESTAMP,
            outcome: outcome
          )
        end

        # Names of clusters that hold a copy of a clinic which lives elsewhere by now.
        def old_copies(clinic_id) = db[:old_copies].where(clinic_id: clinic_id).select_map(:cluster)
        def dropped(clinic_id, cluster) =
          db[:old_copies].where(clinic_id: clinic_id, cluster: cluster).delete

        private

        def learn(id, said, cluster)
          db[:clinics].insert_conflict(target: :id, update: { name: said }).insert(
            id: id,
            name: said,
            cluster: cluster
          )
        end

        # nil where it is away
        def ask
          found = db[:clinics].select_hash(:id, :cluster)
          keep(found) unless found == @places
          found
        rescue Sequel::Error
          nil
        end

        def file
          folder = ENV.fetch("HANDRAIL_SERVED", File.join(ROOT, "var", "server"))
          File.join(folder, "directory.json")
        end

        # there whole or not at all
        def keep(found)
          aside = "#{file}.#{Process.pid}"
          FileUtils.mkdir_p(File.dirname(file))
          File.write(aside, JSON.generate(found))
          File.rename(aside, file)
        rescue SystemCallError
          nil
        end

        def kept
          JSON.parse(File.read(file)).transform_keys(&:to_i)
        rescue SystemCallError, JSON::ParserError
          {}
        end
      end
    end
  end
end
