# frozen_string_literal: true

module Handrail
  module Web
    # A newcomer's first appointment, before there is an order: booked, moved, ended, and that they have come. Its page
    # is views/patients/first.erb.
    module FirstPages
      # What the page prints: what was typed, what is booked, free times.
      class Page
        attr_reader :patient, :faults, :open, :missed

        def initialize(clinic, patient, params: {}, faults: {})
          @clinic = clinic
          @patient = patient
          @params = params
          @faults = faults
          @planning = Store::Planning.new(clinic)
          @open, @missed = Store::Newcomers.of(clinic, patient.id)
        end

        def people = @planning.people
        def rooms = @planning.rooms
        def openings = @openings ||= @planning.openings("first")
        def day =
          given("day") || Quantity::Day.write(at&.to_date || openings.first&.day || @clinic.today)
        def time =
          given("time") || at&.strftime("%H:%M") ||
            (openings.any? ? clock(openings.first.minute) : "09:00")
        def minutes =
          given("minutes") || (@open && ((@open[:planned_to] - @open[:planned_for]) / 60).round) ||
            @planning.minutes("first")
        def with = given("with")&.to_i || @open&.fetch(:planned_with)
        def room = given("room") || @open&.fetch(:planned_room)
        # of the appointment that was shown: one that is refused for what was typed still stands before it
        def version =
          (given("version") if faults.any? && !faults.key?("version")) || @open&.fetch(:version)
        def what =
          given("what") || @open&.fetch(:what) ||
            (patient.referrer && Wording.t("web.sent_by", referrer: patient.referrer))
        def back = SignedIn.inside?(given("back").to_s) ? given("back") : "/patients/#{patient.id}"
        def may_anyway? = faults.key?("anyway")

        # [Opening, words] of the first free times.
        def offers
          names = people.to_h { |one| [one.id, one.name] }
          openings.map do |one|
            said = [
              "#{one.day.strftime("%a")} #{Quantity::Day.write(one.day)}",
              clock(one.minute),
              names[one.who],
              one.room
            ]
            [one, said.compact.join(", ")]
          end
        end

        def clock(minute) = format("%02d:%02d", *minute.divmod(60))

        private

        def at = @open && @clinic.local(@open[:planned_for])

        def given(name)
          value = @params[name]
          value if value.is_a?(String) && !value.empty?
        end
      end

      # How its routes answer.
      module Helpers
        def first_page(patient, faults: {})
          page = Page.new(clinic, patient, params: params, faults: faults)
          erb :"patients/first", locals: { patient: patient, page: page }
        end

        # an entry of the appointment; what was not kept is shown as it was typed
        def kept_first(command)
          patient = patient!
          desk.run(command.new(params.merge("patient" => patient.id)))
          back = text("back")
          go(SignedIn.inside?(back) ? back : "/patients/#{patient.id}")
        rescue Store::Faults, Store::Conflict => e
          status e.is_a?(Store::Conflict) ? 409 : 422
          first_page(patient, faults: e.fields)
        end
      end

      def self.registered(app)
        app.helpers(Helpers)
        app.get("/:id/first") { first_page(patient!) }
        app.post("/:id/first") { kept_first(Store::Commands::BookFirst) }
        app.post("/:id/first/end") { kept_first(Store::Commands::EndFirst) }
        app.post("/:id/first/arrival") do
          params["back"] = "/"
          kept_first(Store::Commands::NoteNewcomer)
        end
      end
    end
  end
end
