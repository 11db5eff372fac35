# frozen_string_literal: true

module Handrail
  module Web
    # A wearer's record from another clinic: read, and its papers and photos opened. Nothing of it is computed with.
    module ElsewherePages
      # What the page prints of it.
      class Page
        # at - a moment there; by - a person; said - what they did
        Line = Value.new(:at, :by, :said)

        attr_reader :row

        # row - of Store::Brought
        def initialize(row)
          @row = row
          @zone = TZInfo::Timezone.get(told["clinic"]["time_zone"])
        rescue TZInfo::InvalidTimezoneIdentifier
          @zone = TZInfo::Timezone.get("UTC")
        end

        def told = row[:told]
        def clinic = told["clinic"]
        def fittings = told["fittings"]
        def cautions = told["cautions"].to_a
        def inside = told["elsewhere"].to_a
        def files = row[:files]

        # A moment on the clock of the clinic that wrote it: "14 Mar 2026, 09:40"; nil for none.
        def moment(text)
          text && @zone.utc_to_local(Time.iso8601(text).utc).strftime("%-d %b %Y, %H:%M")
        rescue ArgumentError
          text
        end

        def story(visit) =
          visit["story"].to_a.map do |one|
            Line[at: moment(one["at"]), by: one["by"], said: one["said"]]
          end

        # What was read at a visit: [site and side, figure, how].
        def readings(visit)
          rows =
            visit["written"]
              .fetch("readings", [])
              .reject { |one| one["struck_at"] || one["corrected"] }
          rows.map do |one|
            site = Anatomy::Vocabulary.default[one["site"]]&.short || one["site"].to_s.tr("_", " ")
            [
              [one["side"], site].compact.join(" "),
              "#{one["typed"]} #{one["unit"]}",
              [one["posture"], one["tension"]].compact.join(", ")
            ]
          end
        end

        # The wearer as the other clinic has them, where that differs from here: [[what, there], ...].
        def differences(patient)
          %w[given_name family_name born_on phone address].filter_map do |name|
            here = patient.values[name.to_sym]
            here = here.iso8601 if here.respond_to?(:iso8601)
            there = told["patient"][name]
            [name.tr("_", " "), there] if there && there.to_s != here.to_s
          end
        end
      end

      # What the routes need.
      module Helpers
        # One of the wearer's records from elsewhere; else there is nothing here.
        def elsewhere!(patient) =
          Store::Brought.of(clinic, patient).find { |row| row[:id].to_s == params["record"] } ||
            halt(404)

        def elsewhere_page(patient, faults = {})
          erb :"patients/elsewhere",
              locals: {
                page: Page.new(elsewhere!(patient)),
                patient: patient,
                faults: faults
              }
        end
      end

      def self.registered(app)
        app.helpers(Helpers)
        app.get("/:id/elsewhere/:record") do
          clinical!
          elsewhere_page(patient!)
        end

        app.get("/:id/elsewhere/:record/files/:sha256") do
          clinical!
          found = Store::Brought.file(clinic, elsewhere!(patient!), text("sha256")) or halt 404
          file, bytes = found
          content_type file["type"]
          attachment File.basename(file["name"])
          headers "Cache-Control" => "private, no-store"
          bytes
        end

        app.post("/:id/elsewhere/:record/end") do
          senior!
          desk.run(Store::Commands::EndBrought.new(params.slice("record", "why")))
          go("/patients/#{id}")
        rescue Store::Faults => e
          status 422
          elsewhere_page(patient!, e.fields)
        end
      end
    end
  end
end
