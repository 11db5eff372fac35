# frozen_string_literal: true

module Handrail
  # Many made-up wearers for the demo clinic, to see how it works when it is large:
  #
  #   bin/handrail demo --patients 200000
  #
  # Each of them gets a name and a birth date of their own, and every second one the story of a
  # fitting of the demo, told on another day and with other girths: its visits, readings, checks,
  # entries and audit rows. People come by COPY, their rows by one statement a table. Most stories
  # lie in the past and have ended, the others run.
  #
  # Triggers and foreign keys are off while it writes, so it is for the demo clinic alone, whose ids
  # it asks for. What it writes is held against the constraints of the tables, and a spec proves
  # that the summaries it copies are those that would be made.
  class Crowd
    # the tables of a story, parents first
    BASICS = %i[prescriptions fittings visits fitting_pins].freeze
    # what is not told: photos and what lies on them, papers, and what names another row of its table
    LEFT_OUT = %i[
      visit_timers
      slip_returns
      photos
      alignments
      papers
      limb_girths
      part_renewals
    ].freeze
    # summaries of a whole fitting
    OF_FITTINGS = %i[fitting_outcomes fitting_counts].freeze
    AT_VISITS = [
      *(Store::VisitRows::TABLES - LEFT_OUT),
      :visit_summaries,
      :reading_pairs,
      :remedy_tries,
      :fitting_dues,
      :open_stops,
      *OF_FITTINGS
    ].freeze
    # tables of what is still to come, which only a fitting that runs has; they have no id
    TO_COME = %i[fitting_dues open_stops].freeze
    # tables of which the audit is told too
    AUDITED = %i[readings check_results].freeze
    # moments and days that move with the story
    MOVED = %i[
      at
      prescribed_on
      due_from
      due_to
      planned_for
      planned_to
      opened_at
      closed_at
      answered_at
      struck_at
      due_on
    ].freeze
    NUMBER = "HQ L "
    # who an identity was confirmed of, as Handrail::Fitting::Basis says it
    WEARER = "jsonb_build_array(concat_ws(' ', c.given, c.family), c.born::text, c.species)"

    GIVEN = %w[
      Ada
      Alba
      Amos
      Anneke
      Arlo
      Astrid
      Basil
      Bruno
      Cleo
      Clive
      Corin
      Dagny
      Delia
      Doran
      Edda
      Elio
      Emre
      Enid
      Farah
      Fergus
      Flora
      Gilda
      Hamid
      Hanne
      Hugo
      Idris
      Ilse
      Imre
      Ivo
      Jarek
      Jonna
      Kaja
      Kemal
      Leif
      Lena
      Lorcan
      Lotte
      Mabel
      Maeve
      Malik
      Marit
      Milo
      Nadia
      Nils
      Noor
      Odin
      Olga
      Orla
      Otis
      Pascal
      Petra
      Rafi
      Rhona
      Rolf
      Runa
      Saskia
      Selma
      Silas
      Sofie
      Tamsin
      Thea
      Tilda
      Tomas
      Ulla
      Umar
      Vera
      Viggo
      Wanda
      Yusuf
      Zelda
    ].freeze
    FAMILY = [
      %w[
        Ash
        Barn
        Brock
        Calder
        Crow
        Dun
        Elm
        Fal
        Garth
        Hasel
        Hol
        Kel
        Lang
        Lor
        Marsh
        Nor
        Os
        Pen
        Quar
        Ros
        Sel
        Skel
        Stan
        Tarn
        Thorn
        Ul
        Wal
        Wen
        Whin
        Yar
      ],
      %w[
        bank
        beck
        burn
        by
        combe
        croft
        dale
        den
        fell
        field
        ford
        gate
        ham
        hurst
        land
        ley
        low
        mere
        mond
        more
        ness
        rick
        sby
        shaw
        stead
        sted
        thwaite
        ton
        wick
        worth
      ]
    ].freeze
    DOGS = %w[
      Bramble
      Biscuit
      Clover
      Dash
      Flint
      Juno
      Moss
      Nettle
      Pepper
      Quill
      Rook
      Scout
      Tansy
      Tweed
      Willow
    ].freeze

    def self.load(count, seed: 1) = new(count, seed: seed).load

    # count - how many people; seed - of the dice, so that the same crowd can be made again.
    def initialize(count, seed: 1)
      @count = count
      @dice = Random.new(seed)
      @db = Store.db
      @clinic = Store::Clinic.first(demo: true) or
        raise Handrail::Error, "There is no demo clinic here. Run bin/start first."
      @base = {}
      @stride = {}
    end

    # Returns how many people were added.
    def load
      @db.transaction do
        @db.run("SET LOCAL session_replication_role = replica")
        @db.run("SET LOCAL statement_timeout = 0")
        @db.run("SET LOCAL work_mem = '256MB'")
        stories
        people
        new_patients
        (BASICS + AT_VISITS).each { |table| tell(table) }
        AUDITED.each { |table| audit(table) }
        Store::Projectors::ReadingPairs.finish(@clinic)
      end
      analyze
      @count
    end

    private

    # what the planner knows of the tables is out of date by far
    def analyze
      @db.synchronize do |connection|
        connection.exec("SET statement_timeout = 0")
        connection.exec(@db.in_transaction? ? "ANALYZE" : "VACUUM ANALYZE")
        connection.exec("RESET statement_timeout")
      end
    end

    # the demo's own fittings: n, whose, and whether nothing is open
    def stories
      @db.run(<<~SQL)
        CREATE TEMP TABLE story ON COMMIT DROP AS
        SELECT row_number() OVER (ORDER BY f.id) AS n, f.id AS fitting_id, f.patient_id, f.prescription_id, p.species,
               NOT EXISTS (SELECT 1 FROM visits v WHERE v.fitting_id = f.id AND v.closed_at IS NULL
                           AND (v.purpose = 'first' OR v.opened_at IS NOT NULL)) AS closed
        FROM fittings f JOIN patients p ON p.id = f.patient_id
        WHERE f.clinic_id = #{@clinic.id} AND p.record_number NOT LIKE '#{NUMBER}%'
      SQL
      @db.run(<<~SQL)
        CREATE TEMP TABLE story_visit ON COMMIT DROP AS
        SELECT v.id AS visit_id, s.n AS story, row_number() OVER (PARTITION BY s.n ORDER BY v.id) - 1 AS rank
        FROM story s JOIN visits v USING (fitting_id)
      SQL
      @closed, @open = @db[:story].order(:n).all.partition { |story| story[:closed] }
      if @closed.empty?
        raise Handrail::Error, "The demo clinic has no fittings. Run bin/start --reset-demo."
      end
    end

    # people by COPY: who they are, and which story they get, how many days earlier and how much
    # larger
    def people
      @db.run(
        "CREATE TEMP TABLE crowd (n int PRIMARY KEY, story int, days int, factor numeric, past boolean, " \
          "given text, family text, owner text, species text, born date) ON COMMIT DROP"
      )
      @db.copy_into(
        :crowd,
        format: :csv,
        data: Enumerator.new { |rows| @count.times { |n| rows << person(n) } }
      )
      @db.run("ANALYZE crowd")
    end

    def person(n)
      story, past = chosen_story
      days = past ? 28 + (7 * @dice.rand(700)) : 7 * @dice.rand(3)
      [
        n,
        story && story[:n],
        days,
        format("%.3f", 0.95 + (@dice.rand * 0.1)),
        past,
        *names(story),
        birthday(story)
      ].join(",").concat("\n")
    end

    # a story and whether it is over; every second has none yet
    def chosen_story
      return nil, false if @dice.rand(2).zero?
      return @closed.sample(random: @dice), true if @dice.rand(100) < 97

      [(@open + @closed).sample(random: @dice), false]
    end

    def names(story)
      family = FAMILY.map { |part| part.sample(random: @dice) }.join
      given = GIVEN.sample(random: @dice)
      return given, family, nil, "human" unless story && story[:species] == "dog"

      [DOGS.sample(random: @dice), nil, "#{given} #{family}", "dog"]
    end

    # dogs up to fourteen years; most people between fifty and eighty-five
    def birthday(story)
      dog = story && story[:species] == "dog"
      years =
        if dog
          @dice.rand(1..14)
        else
          [18..95, 50..85, 50..85].sample(random: @dice).then { |span| @dice.rand(span) }
        end
      @clinic.today - ((years * 365) + @dice.rand(365))
    end

    def new_patients
      first = @db[:patients].where(Sequel.like(:record_number, "#{NUMBER}%")).count
      @db.run(<<~SQL)
        INSERT INTO patients (id, clinic_id, record_number, species, given_name, family_name, owner_name, born_on)
        SELECT #{base(:patients)} + n, #{@clinic.id}, '#{NUMBER}' || lpad((n + #{first + 1})::text, 6, '0'), species,
               given, family, owner, born
        FROM crowd ORDER BY n
      SQL
      counted(:patients)
    end

    # the first id that is free
    def base(table) = @base[table] ||= (@db[table].max(:id) || 0) + 1

    def counted(table)
      @db.run(
        "SELECT setval(pg_get_serial_sequence('#{table}', 'id'), (SELECT max(id) FROM #{table}))"
      )
    end

    # Copies a table's rows of every story to all who got it.
    def tell(table)
      told = :"told_#{table}"
      @db.run("CREATE TEMP TABLE #{told} ON COMMIT DROP AS #{template(table)}")
      @stride[table] = (@db[told].max(:rank) || -1) + 1
      return if @stride[table].zero?

      columns = @db.schema(table).reject { |_, about| about[:generated] }.map(&:first)
      @db.run(
        "INSERT INTO #{table} (#{columns.join(", ")}) " \
          "SELECT #{columns.map { |column| value(table, column) }.join(", ")} " \
          "FROM crowd c JOIN #{told} t ON t.story = c.story" \
          "#{" AND NOT c.past" if TO_COME.include?(table)} ORDER BY c.n, t.rank"
      )
      counted(table) unless TO_COME.include?(table)
    end

    # a table's rows of all stories: story, rank within it, rank of the visit, and the row
    def template(table)
      from =
        case table
        when :prescriptions, :fittings
          "story s JOIN #{table} t ON t.id = s.#{table.to_s.chop}_id LEFT JOIN story_visit r ON false"
        when :fitting_pins
          "story s JOIN fitting_pins t USING (fitting_id) LEFT JOIN story_visit r ON r.visit_id = t.visit_id"
        when *OF_FITTINGS
          "story s JOIN #{table} t USING (fitting_id) LEFT JOIN story_visit r ON false"
        when :visits
          "story s JOIN visits t USING (fitting_id) JOIN story_visit r ON r.visit_id = t.id"
        else
          "story_visit r JOIN story s ON s.n = r.story JOIN #{table} t ON t.visit_id = r.visit_id"
        end
      order = { fitting_dues: "t.due_on", open_stops: "t.key" }.fetch(table, "t.id")
      "SELECT s.n AS story, row_number() OVER (PARTITION BY s.n ORDER BY #{order}) - 1 AS rank, " \
        "r.rank AS visit_rank, t.* FROM #{from}"
    end

    def new_id(table, rank) = "#{base(table)} + c.n::bigint * #{@stride.fetch(table)} + #{rank}"

    # What a copied row holds in a column, as SQL over c (who) and t (the story's row).
    def value(table, column)
      case column
      when :id
        new_id(table, "t.rank")
      when :corrects_id
        "CASE WHEN t.corrects_id IS NOT NULL THEN " \
          "(SELECT #{new_id(table, "o.rank")} FROM told_#{table} o WHERE o.id = t.corrects_id) END"
      when :follows_id
        "CASE WHEN t.follows_id IS NOT NULL THEN " \
          "(SELECT #{new_id(table, "o.rank")} FROM told_#{table} o WHERE o.id = t.follows_id) END"
      when :visit_id
        new_id(:visits, "t.visit_rank")
      when :fitting_id, :prescription_id
        new_id(:"#{column.to_s.delete_suffix("_id")}s", "0")
      when :patient_id
        "#{base(:patients)} + c.n"
      when :serial
        "t.serial || '-' || c.n"
      when :stock_item_id, :photo_id, :planned_with, :planned_room
        "NULL"
      when :called_off_at
        "CASE WHEN c.past AND t.opened_at IS NULL THEN coalesce(t.due_from::timestamptz, now()) #{moved} " \
          "ELSE t.called_off_at #{moved} END"
      when :ended_as
        "CASE WHEN c.past THEN coalesce(t.ended_as, 'ended') ELSE t.ended_as END"
      when :ended_at, :ended_why
        ended(table, column)
      when :rests_on
        "CASE WHEN t.rests_on ? 'wearer' THEN jsonb_set(t.rests_on, '{wearer}', #{WEARER}) ELSE t.rests_on END"
      when :value_mm, :first_mm, :second_mm
        grown("t.#{column}", table)
      when :typed
        table == :readings ? retyped : "t.typed"
      when *MOVED
        "(t.#{column} #{moved})#{"::date" if %i[prescribed_on due_from due_to due_on].include?(column)}"
      else
        "t.#{column}"
      end
    end

    def moved = "- c.days * interval '1 day'"

    def ended(table, column)
      return "t.#{column}#{" #{moved}" if column == :ended_at}" unless table == :fittings

      over =
        (
          if column == :ended_at
            "coalesce(t.ended_at, now()) #{moved}"
          else
            "coalesce(t.ended_why, 'given back')"
          end
        )
      "CASE WHEN c.past THEN #{over} ELSE t.#{column}#{" #{moved}" if column == :ended_at} END"
    end

    # a length read in whole millimetres, on a larger or smaller wearer; one that was read in inches
    # stays as it was
    def grown(length, table)
      return length unless %i[readings reading_pairs].include?(table)

      metric = table == :readings ? " AND t.unit IN ('cm', 'mm')" : ""
      "CASE WHEN c.past AND #{length} = round(#{length})#{metric} " \
        "THEN round(#{length} * c.factor) ELSE #{length} END"
    end

    def retyped
      "CASE WHEN c.past AND t.unit IN ('cm', 'mm') AND t.value_mm = round(t.value_mm) " \
        "THEN trim_scale(round(t.value_mm * c.factor) / CASE t.unit WHEN 'cm' THEN 10 ELSE 1 END)::text " \
        "ELSE t.typed END"
    end

    # The audit rows of a table's rows.
    def audit(table)
      return if @stride[table].zero?

      @db.run(<<~SQL)
        CREATE TEMP TABLE audited_#{table} ON COMMIT DROP AS
        SELECT t.story, t.rank, t.visit_rank, a.* FROM told_#{table} t
        JOIN audit_entries a ON a.table_name = '#{table}' AND a.row_id = t.id
      SQL
      @db.run(<<~SQL)
        INSERT INTO audit_entries (clinic_id, table_name, row_id, visit_id, action, account_id, at, before, after)
        SELECT t.clinic_id, t.table_name, #{new_id(table, "t.rank")}, #{new_id(:visits, "t.visit_rank")}, t.action,
               t.account_id, t.at #{moved}, t.before,
               t.after || jsonb_build_object('id', #{new_id(table, "t.rank")},
                                             'visit_id', #{new_id(:visits, "t.visit_rank")})
        FROM crowd c JOIN audited_#{table} t ON t.story = c.story ORDER BY c.n, t.rank
      SQL
    end
  end
end
