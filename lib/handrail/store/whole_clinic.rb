# frozen_string_literal: true

require "digest"
require "json"
require "tempfile"
require "zip"

module Handrail
  module Store
    # A whole clinic as one file, out of one installation and into another: every row of every table
    # that belongs to it, one JSON object a line, with the digest of each table (docs/formats/clinic.md).
    #
    #   WholeClinic.out(clinic, "heron.zip")
    #   WholeClinic.in("heron.zip").name # => "Heron Quay Orthotics"
    #
    # What is of a sign-in stays behind: sessions, one-time codes, links, calendar addresses. Rows
    # keep their numbers where those are free; beside other clinics each table's are moved up by one
    # step, and everything that names them with it.
    #
    # Reading it in is for the owner of the database: the triggers that hold the append-only tables
    # and write the audit must not speak meanwhile. Foreign keys are looked at after, before anything
    # is kept.
    class WholeClinic
      FORMAT = "handrail-clinic"
      # of signing in, and what only this installation can use
      LEFT = %i[
        account_links
        browser_keys
        calendar_keys
        clinic_holds
        coming_records
        device_benches
        group_codes
        set_up_links
        waiting_files
        work_places
      ].freeze
      # rows sent to the database at once, and the most bytes of them
      SLICE = 200
      # the largest file that is read
      MOST = 4 * 1024 * 1024 * 1024

      # The file is damaged, of another program, or does not fit here; the message says what to do.
      class Refused < Handrail::Error
      end

      class << self
        # Writes a clinic to a file that is there whole or not at all. Returns table => rows.
        def out(clinic, path)
          # a name that nobody else gives a file
          aside = File.join(File.dirname(path), ".#{File.basename(path)}.handrail-out")
          clear(aside)
          counts = Outgoing.new(clinic.id, Store.db).write(aside)
          File.rename(aside, path)
          counts
        ensure
          clear(aside)
        end

        # Reads a clinic in, beside those that are here. Returns its Clinic. Raises Refused; then
        # nothing is kept.
        def in(path)
          schema = Zip::File.open(path) { |zip| Incoming.new(zip).schema }
          if schema < Store.schema_version
            return OlderClinic.renewed(path, schema) { |fresh| self.in(fresh) }
          end

          Zip::File.open(path) { |zip| Incoming.new(zip).read }
        rescue Zip::Error, Errno::ENOENT, Errno::EISDIR, Zlib::Error => e
          raise Refused, "#{File.basename(path)} can not be read as a clinic's file: #{e.message}."
        end

        # Tables that belong to a clinic, those first that others name; then their columns, without
        # those that the database computes.
        def tables = [:clinics, *owned]

        def columns(table)
          Store.db.schema(table).reject { |_, about| about[:generated] }.map(&:first)
        end

        # the columns that tell its rows apart
        def key(table) =
          Store.db.schema(table).select { |_, about| about[:primary_key] }.map(&:first)

        # column => the table whose number it holds
        def references(table)
          Store
            .db
            .foreign_key_list(table)
            .each_with_object({}) do |key, found|
              key[:columns]
                .zip(key[:key])
                .each do |column, named|
                  found[column] = key[:table] if named == :id && column != :clinic_id
                end
            end
        end

        private

        # what was left half written, also by one that was killed
        def clear(aside)
          folder, name = File.split(aside)
          # the archive's own working copy has a day, a process and letters of chance behind it
          left = Dir.children(folder).grep(/\A#{Regexp.escape(name)}[\w-]*\z/)
          FileUtils.rm_f(left.map { |one| File.join(folder, one) })
        end

        def owned
          Store.db.tables.sort.select { |table| columns(table).include?(:clinic_id) } - LEFT
        end
      end

      # A clinic on its way out.
      class Outgoing
        # clinic - its number; db - the database that it is in, at today's schema
        def initialize(clinic, db)
          @clinic = clinic
          @db = db
        end

        # all tables as they stood at one moment
        def write(path)
          @db.transaction(isolation: :repeatable, read_only: true) do
            Zip::File.open(path, create: true) do |zip|
              asides = WholeClinic.tables.to_h { |table| [table, aside(table)] }
              asides.each { |table, (file, _)| zip.add("tables/#{table}.jsonl", file.path) }
              zip.get_output_stream("clinic.json") do |out|
                out << JSON.pretty_generate(manifest(asides))
              end
              zip.commit
              return asides.transform_values(&:last)
            end
          end
        end

        private

        # [file, number of rows]
        def aside(table)
          file = Tempfile.new("handrail-table")
          count = 0
          @db
            .fetch("SELECT row_to_json(t)::text AS row FROM (#{rows(table)}) t")
            .use_cursor
            .each do |row|
              file << row[:row] << "\n"
              count += 1
            end
          file.flush
          [file, count]
        end

        def rows(table)
          @db[table]
            .where((table == :clinics ? :id : :clinic_id) => @clinic)
            .select(*WholeClinic.columns(table))
            .order(*WholeClinic.key(table))
            .sql
        end

        def manifest(asides)
          {
            format: FORMAT,
            schema: Store.schema_version,
            clinic: @db[:clinics].where(id: @clinic).get(:name),
            made_at: Store.now.utc.iso8601,
            tables:
              asides.to_h do |table, (file, count)|
                [table, { rows: count, sha256: Digest::SHA256.file(file.path).hexdigest }]
              end
          }
        end
      end

      # A clinic on its way in.
      class Incoming
        def initialize(zip) = @zip = zip

        # The schema that the file was made at. Raises Refused for what is no clinic's file.
        def schema
          clinics!
          manifest["schema"].is_a?(Integer) ? manifest["schema"] : 0
        end

        def read
          look
          Store.db.transaction do
            Store.db.run("SET LOCAL session_replication_role = replica")
            Store.db.run(SHIFT)
            @steps = WholeClinic.tables.to_h { |table| [table, step(table)] }
            WholeClinic.tables.each { |table| put(table) }
            count_on
            whole!
            # as the program here makes them, whichever made those of the file
            Store.db.run("SET LOCAL session_replication_role = origin")
            Summaries.renew(Clinic[@clinic])
          end
          Clinic[@clinic]
        end

        private

        # adds to numbers in a JSON object, and to lists of them, by key
        SHIFT = <<~SQL
          CREATE OR REPLACE FUNCTION pg_temp.shift(j jsonb, by jsonb) RETURNS jsonb LANGUAGE sql AS $$
            SELECT CASE WHEN jsonb_typeof(j) = 'object' THEN j || coalesce((
              SELECT jsonb_object_agg(key, CASE jsonb_typeof(j -> key)
                WHEN 'number' THEN to_jsonb((j ->> key)::bigint + more::bigint)
                ELSE (SELECT coalesce(jsonb_agg(n::bigint + more::bigint), '[]')
                      FROM jsonb_array_elements_text(j -> key) n) END)
              FROM jsonb_each_text(by) AS b(key, more)
              WHERE jsonb_typeof(j -> key) = 'number'
                 OR (jsonb_typeof(j -> key) = 'array' AND jsonb_typeof(j -> key -> 0) = 'number')), '{}')
            ELSE j END $$
        SQL
        # what results of the clinic's own entries name
        RESULTS = {
          "visit" => :visits,
          "patient" => :patients,
          "patients" => :patients,
          "product" => :products,
          "revision" => :chart_revisions,
          "item" => :stock_items,
          "earlier" => :earlier_readings,
          "record" => :brought_records
        }.freeze
        private_constant :SHIFT, :RESULTS

        def manifest
          @manifest ||= JSON.parse(@zip.read("clinic.json"))
        rescue Errno::ENOENT, JSON::ParserError
          raise Refused, "This is no clinic's file: it holds no clinic.json that can be read."
        end

        def clinics!
          if manifest.is_a?(Hash) && manifest["format"] == FORMAT && manifest["tables"].is_a?(Hash)
            return
          end

          raise Refused, "This is no clinic's file of this program."
        end

        # everything that can be known before anything is written
        def look
          clinics!
          unless manifest["schema"] == Store.schema_version
            raise Refused,
                  "The file was made at schema #{manifest["schema"]}, here it is #{Store.schema_version}: by a newer " \
                    "program. Bring this one up to date first."
          end

          WholeClinic.tables.each { |table| sound!(table) }
          taken!
        end

        def sound!(table)
          about = manifest["tables"][table.to_s]
          entry = @zip.find_entry("tables/#{table}.jsonl")
          unless about && entry
            raise Refused, "The file is not whole: the table #{table} is missing."
          end
          return if Digest::SHA256.hexdigest(text_of(table)) == about["sha256"]

          raise Refused, "The file is damaged: the table #{table} is not what was written."
        end

        def text_of(table)
          entry = @zip.get_entry("tables/#{table}.jsonl")
          raise Refused, "The table #{table} is too large to be true." if entry.size > MOST

          entry.get_input_stream(&:read)
        end

        def lines(table) = text_of(table).each_line(chomp: true)

        # nobody signs in twice under one e-mail
        def taken!
          emails = lines(:accounts).map { |line| JSON.parse(line)["email"].to_s.downcase }
          here = Account.where(Sequel.function(:lower, :email) => emails).select_map(:email)
          return if here.empty?

          raise Refused,
                "#{here.sort.join(", ")} sign#{"s" if here.one?} in here already. Change the e-mail in " \
                  "one of the two installations first."
        end

        # how far the numbers of a table are moved: not at all where none are taken
        def step(table)
          return 0 unless WholeClinic.columns(table).include?(:id)

          Store.db[table].where(id: dealt(table)).max(:id) || 0
        end

        # the numbers that this database deals: of a group's clusters each its own, and a clinic that was moved here
        # has those of another
        def dealt(table)
          own = Sequel.function(:pg_get_serial_sequence, table.to_s, "id")
          Store.db[:pg_sequence]
            .where(seqrelid: Sequel.cast(own, :regclass))
            .get(%i[seqmin seqmax])
            .then { |low, high| low..high }
        end

        def put(table)
          names = WholeClinic.columns(table).map { |name| Store.db.literal(name) }.join(", ")
          values = WholeClinic.columns(table).map { |column| value(table, column) }.join(", ")
          lines(table).each_slice(SLICE) do |slice|
            from = "jsonb_populate_recordset(NULL::#{table}, ?::jsonb) r"
            Store.db[
              "INSERT INTO #{table} (#{names}) SELECT #{values} FROM #{from}",
              "[#{slice.join(",")}]"
            ].insert
          end
          @clinic = @steps[:clinics] + JSON.parse(lines(:clinics).first)["id"] if table == :clinics
        end

        # a column of an incoming row r, as SQL
        def value(table, column)
          own = "r.#{Store.db.literal(column)}"
          return "#{own} + #{@steps[table]}" if column == :id
          return "#{own} + #{@steps[:clinics]}" if column == :clinic_id
          if (named = references(table)[column])
            return "#{own} + #{@steps.fetch(named)}"
          end

          inside(table, column, own)
        end

        # numbers inside texts and JSON
        def inside(table, column, own)
          case [table, column]
          in [:entries, :result]
            "pg_temp.shift(#{own}, #{by(RESULTS)})"
          in [:record_joins, :moved]
            "pg_temp.shift(#{own}, #{by(Commands::JoinsRecords::MOVED.to_h { |name| [name.to_s, name] })})"
          in [:audit_entries, :row_id]
            "#{own} + CASE r.table_name #{by_table { |name| @steps[name].to_s }} ELSE 0 END"
          in [:audit_entries, :before | :after]
            "CASE r.table_name #{by_table { |name| "pg_temp.shift(#{own}, #{by(named(name))})" }} ELSE #{own} END"
          in [:audit_entries, :visit_id]
            "#{own} + #{@steps[:visits]}"
          in [:audit_entries, :account_id]
            "#{own} + #{@steps[:accounts]}"
          else
            own
          end
        end

        def references(table) = (@references ||= {})[table] ||= WholeClinic.references(table)

        # what a row of a table names, by column
        def named(table) =
          { "id" => table, "clinic_id" => :clinics, **references(table).transform_keys(&:to_s) }

        # key => table, as the JSON of key => step
        def by(tables) =
          "#{Store.db.literal(JSON.generate(tables.transform_values { |table| @steps.fetch(table) }))}::jsonb"

        def by_table
          WholeClinic.tables.map { |name| "WHEN '#{name}' THEN #{yield name}" }.join(" ")
        end

        # the next row takes a number after the newest
        def count_on
          WholeClinic.tables.each do |table|
            next unless WholeClinic.columns(table).include?(:id)

            low = dealt(table).begin
            newest = Store.db[table].where(id: dealt(table)).max(:id)
            Store.db.get(
              Sequel.function(
                :setval,
                Sequel.function(:pg_get_serial_sequence, table.to_s, "id"),
                newest || low,
                !newest.nil?
              )
            )
          end
        end

        # as many rows as were written, and none that names another that is not there
        def whole!
          WholeClinic.tables.each do |table|
            own = Store.db[table].where((table == :clinics ? :id : :clinic_id) => @clinic)
            unless own.count == manifest["tables"][table.to_s]["rows"]
              raise Refused, "The table #{table} came in with other rows than it went out with."
            end

            Store.db.foreign_key_list(table).each { |key| parents!(table, key) }
          end
        end

        def parents!(table, key)
          child = ->(column) { Sequel[:child][column] }
          theirs =
            key[:key]
              .zip(key[:columns])
              .to_h { |named, column| [Sequel[:parent][named], child[column]] }
          lost =
            Store.db[Sequel.as(table, :child)]
              .where(child[table == :clinics ? :id : :clinic_id] => @clinic)
              .exclude(key[:columns].map { |column| Sequel.expr(child[column] => nil) }.reduce(:|))
              .exclude(Store.db[Sequel.as(key[:table], :parent)].where(theirs).select(1).exists)
          return if lost.empty?

          raise Refused,
                "Rows of the table #{table} name others in #{key[:table]} that are not in the file."
        end
      end
    end
  end
end
