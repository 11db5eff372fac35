# frozen_string_literal: true

require "digest"
require "json"
require "securerandom"
require "sequel"
require "tmpdir"
require "zip"

module Handrail
  module Store
    # A clinic's file of an older version, brought up to date before it is read in: its rows are put into a database of
    # their own as they were then, the migrations since then go over them as they went over every installation, and they
    # are written out again.
    #
    #   OlderClinic.renewed("heron.zip", 45) { |path| WholeClinic.in(path) }
    #
    # For who may make databases, as the owner of an installation of bin/start may. Raises WholeClinic::Refused.
    class OlderClinic
      MIGRATIONS = File.join(ROOT, "db", "migrations")
      # the first that had files of clinics
      FIRST = 18
      private_constant :MIGRATIONS

      # path - of the file; schema - that it was made at. Yields the path of the renewed one; returns what the block
      # does.
      def self.renewed(path, schema)
        unless schema.is_a?(Integer) && schema.between?(FIRST, Store.newest_schema)
          raise WholeClinic::Refused,
                "The file was made at schema #{schema}, which no version of this program had."
        end

        Dir.mktmpdir("handrail-older") do |folder|
          fresh = File.join(folder, "clinic.zip")
          new(path, schema).write(fresh)
          yield fresh
        end
      end

      def initialize(path, schema)
        @path = path
        @schema = schema
        @name = "handrail_older_#{SecureRandom.hex(6)}"
      end

      # Writes the same clinic as today's program would have.
      def write(fresh)
        Store.db.run("CREATE DATABASE #{@name} TEMPLATE template0")
        aside = Store.beside(@name)
        begin
          load_migrations
          Sequel::Migrator.run(aside, MIGRATIONS, target: @schema)
          fill(aside)
          Sequel::Migrator.run(aside, MIGRATIONS)
          WholeClinic::Outgoing.new(aside[:clinics].get(:id), aside).write(fresh)
        ensure
          aside.disconnect
        end
      rescue Sequel::DatabaseError => e
        raise WholeClinic::Refused,
              "The file of schema #{@schema} could not be brought up to date: #{e.message.lines.first.strip}."
      ensure
        Store.db.run("DROP DATABASE IF EXISTS #{@name} WITH (FORCE)")
      end

      private

      def load_migrations = Sequel.extension(:migration)

      # the rows as they were, every table of the file
      def fill(aside)
        Zip::File.open(@path) do |zip|
          manifest = JSON.parse(zip.read("clinic.json"))
          aside.transaction do
            aside.run("SET LOCAL session_replication_role = replica")
            manifest["tables"].each do |table, about|
              put(aside, table.to_sym, rows(zip, table, about))
            end
          end
        end
      end

      def rows(zip, table, about)
        entry = zip.find_entry("tables/#{table}.jsonl") or
          raise WholeClinic::Refused, "The file is not whole: the table #{table} is missing."
        text = entry.get_input_stream(&:read)
        return text.each_line(chomp: true) if Digest::SHA256.hexdigest(text) == about["sha256"]

        raise WholeClinic::Refused,
              "The file is damaged: the table #{table} is not what was written."
      end

      def put(aside, table, lines)
        unless aside.table_exists?(table)
          raise WholeClinic::Refused,
                "The file has a table #{table}, which schema #{@schema} did not have."
        end

        names =
          aside
            .schema(table)
            .reject { |_, about| about[:generated] }
            .map { |name, _| aside.literal(name) }
            .join(", ")
        lines.each_slice(WholeClinic::SLICE) do |slice|
          from = "jsonb_populate_recordset(NULL::#{table}, ?::jsonb)"
          aside[
            "INSERT INTO #{table} (#{names}) SELECT #{names} FROM #{from}",
            "[#{slice.join(",")}]"
          ].insert
        end
        count_on(aside, table)
      end

      # what a migration adds takes numbers after those that are there
      def count_on(aside, table)
        return unless aside.schema(table).any? { |name, about| name == :id && about[:primary_key] }

        aside.run(
          "SELECT setval(pg_get_serial_sequence('#{table}', 'id'), greatest(max(id), 1), max(id) IS NOT NULL) " \
            "FROM #{table}"
        )
      end
    end
  end
end
