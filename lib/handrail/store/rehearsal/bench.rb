# frozen_string_literal: true

require "forwardable"
require "json"

module Handrail
  module Store
    class Rehearsal
      # One fitting that is kept nowhere: what the core's Visit asks of its source, and what the Ledger does
      # with a command, on rows in memory. Nothing here knows a rule of the trade.
      #
      #   bench = Bench.new(pin, prescription, species: "human")
      #   bench.take(Commands::FinishStep.new("step" => "liner")) # raises what the command raises
      #   bench.visit                                             # the Handrail::Visit as it stands
      class Bench
        extend Forwardable

        Person =
          Struct.new(:id, :name, :role, :email, :status_id, keyword_init: true) do
            def senior? = role == "senior"
          end
        # The clinic of a rehearsal: clocks that stand in UTC, a tape in whole millimetres, nothing settled.
        Clinic =
          Struct.new(:id, :name, :phone, :tape, keyword_init: true) do
            def tape_kind = Quantity::Tape[tape]
            def choices_made = Choices.new({})
            def local(moment) = moment.getutc
            def today(now = Store.now) = local(now).to_date
          end
        Wearer =
          Struct.new(
            :id,
            :name,
            :born_on,
            :species,
            :practice,
            :language,
            :rest,
            keyword_init: true
          ) do
            def animal? = species != "human"
            def stops_open = []
          end
        Ordered = Struct.new(:id, :family, :side, :fields, :at, keyword_init: true)
        Fitted =
          Struct.new(:id, :product_id, :version, :ended_at, :ended_as, keyword_init: true) do
            alias_method :values, :itself
          end
        # the members of a visit's row that the core reads
        Row =
          Struct.new(
            *%i[
              id
              number
              purpose
              plan_key
              version
              opened_at
              opened_by
              closed_at
              closed_by
              arrived_at
            ],
            *%i[
              planned_for
              planned_to
              planned_with
              planned_room
              due_from
              due_to
              called_off_at
              fitting_id
            ],
            keyword_init: true
          ) { def first? = purpose == "first" }
        FITTER =
          Person.new(id: 1, name: "Fitter", role: "fitter", email: "f@rehearsal", status_id: 2)
        SENIOR =
          Person.new(id: 2, name: "Senior", role: "senior", email: "s@rehearsal", status_id: 2)

        attr_reader :visit, :clinic, :patient, :prescription, :fitting, :visits

        def_delegators :visit, :family, :config

        # pin - a Visit::Pin; ordered - { family:, side:, fields: }
        def initialize(pin, ordered, species:)
          @pin = pin
          @clinic = Clinic.new(id: 1, name: "Rehearsal", phone: "", tape: "cm 1 mm")
          @patient =
            Wearer.new(
              id: 1,
              name: "Rehearsal",
              born_on: Date.new(1960, 1, 1),
              species: species,
              practice: true,
              language: "en"
            )
          @prescription = Ordered.new(id: 1, at: Store.now, **ordered)
          @fitting = Fitted.new(id: 1, product_id: 1, version: 0)
          @visits = [Row.new(id: 1, number: 1, purpose: "first", version: 0, fitting_id: 1)]
          @tables = Hash.new { |all, table| all[table] = [] }
          stand_at(@visits.first)
        end

        # Goes on at another visit of the fitting.
        def stand_at(row) = @visit = Handrail::Visit.new(row, self)

        # Has a command carried out as the Ledger does. Returns its Decision, nil where there was nothing to
        # write. Raises NotKept.
        def take(command, who = FITTER)
          command.authorize!(who)
          raise Closed if visit.closed? && !command.correction?

          decision = visit.by_edition { command.decide(visit) } or return
          write(command, decision, who)
          decision
        end

        # --- what the core asks, see Handrail::Visit ---

        def rows(table, visit_id) = @tables[table].select { |row| row[:visit_id] == visit_id }
        def pin(_visit_id) = @pin
        def pin_taken_at(_visit_id) = 0
        def clinic_at(_row) = clinic
        def what_worked(_family, _problem) = {}
        def stops_elsewhere = []
        def standing = []
        def asked_beside = nil
        def readings_beside = []
        def worn_elsewhere(_serial, _side) = nil
        def stock = []
        def shelf = []
        def stocked? = false
        def repeatability(_account, _site) = nil
        def chart_truth(_names) = nil
        def name_of(id) = [FITTER, SENIOR].find { |one| one.id == id }&.name

        private

        def write(command, decision, who)
          version = fitting.version + 1
          owner = { visit_id: visit.id, version: version, by: who.id, at: Store.now }
          add(
            :entries,
            owner,
            topic: command.topic,
            said: decision.said,
            command: command.class.key
          )
          decision.updates.each { |table, id, values| change(table, id, signed(values, who)) }
          decision.rows.each do |table, values|
            add(table, owner, **values, **Basis.column(table, visit, values))
          end
          fitting.version = version
          stand(decision, who, opens: command.opens?)
        end

        # the visit's own row, and what is planned
        def stand(decision, who, opens:)
          visit.row.version = fitting.version
          visit.row.opened_at ||= Store.now if opens
          signed(decision.visit.to_h, who).each { |name, value| visit.row[name] = value }
          decision.effects.grep(Effects::PlanRecheck).each { |effect| plan(effect.window) }
          stand_at(visit.row)
        end

        def add(table, owner, **values)
          @tables[table] << { id: @tables[table].size + 1, **owner, **plain(values) }
        end

        def change(table, id, values)
          @tables[table].map! { |row| row[:id] == id ? row.merge(plain(values)) : row }
        end

        # as the database gives it back
        def plain(values)
          values.transform_values do |value|
            case value
            when Sequel::Postgres::JSONBHash, Sequel::Postgres::JSONBArray
              JSON.parse(JSON.generate(value))
            else
              value
            end
          end
        end

        def signed(values, who) =
          values.to_h { |name, value| [name, name.end_with?("_by") ? who.id : value] }

        def plan(window)
          return unless window

          visits << Row.new(
            id: visits.size + 1,
            number: visits.size + 1,
            purpose: "recheck",
            plan_key: window.key,
            due_from: window.from,
            due_to: window.to,
            version: 0,
            fitting_id: 1
          )
        end
      end
    end
  end
end
