# frozen_string_literal: true

module Handrail
  module Web
    # The hours on which somebody works, and the days on which the clinic is closed.
    module HoursPages
      # What these pages share.
      module Helpers
        def hours_of(person, faults: {}, typed: nil)
          erb :"people/hours_of", locals: { person: person, faults: faults, typed: typed }
        end

        # own hours and, for a senior, those of the others
        def keep_hours(person)
          given = { "person" => person.id, "seen" => params["seen"], "hours" => map("hours") }
          desk.run(Store::Commands::ChangeHours.new(given))
          nil
        rescue Store::Faults, Store::Conflict => e
          status e.is_a?(Store::Faults) ? 422 : 409
          e.fields
        end
      end

      def self.registered(app)
        app.helpers(Helpers)
        hours_of(app)
        closed_days_of(app)
      end

      def self.hours_of(app)
        app.get "/people/:id/hours" do
          senior!
          hours_of(found(Store::Account.where(clinic_id: clinic.id, id: id, status_id: 2).first))
        end

        app.post "/people/:id/hours" do
          senior!
          person = found(Store::Account.where(clinic_id: clinic.id, id: id, status_id: 2).first)
          faults = keep_hours(person)
          faults ? hours_of(person, faults: faults, typed: map("hours")) : go("/people")
        end

        app.post "/me/hours" do
          faults = keep_hours(account)
          faults ? own_page(faults: faults, values: { "hours" => map("hours") }) : go("/me")
        end
      end
      private_class_method :hours_of

      def self.closed_days_of(app)
        # days that another calendar closes: into the form, to be looked at and saved
        app.post "/settings/closed-days" do
          senior!
          values = Store::ClinicValues.of(clinic).merge(Store::ClinicValues.more(clinic))
          begin
            upload, = sent_file("calendar")
            found =
              Exchange::ClosedDays.read(
                upload&.read(Exchange::ClosedDays::MOST_BYTES + 1),
                today: today
              )
            own = values["choices"].to_h["closed_days"].to_s.lines.map(&:strip)
            all = (own + found.lines).reject(&:empty?).uniq.join("\n")
            settings_page(
              values.merge("choices" => values["choices"].to_h.merge("closed_days" => all)),
              section: "hours",
              read: [
                count(found.lines.size, "entry", "entries"),
                (Wording.t("web.hours_left_out", left: found.left) if found.left.positive?)
              ].compact.join
            )
          rescue Exchange::ClosedDays::Unreadable => e
            status 422
            settings_page(values, faults: { "calendar" => e.message })
          end
        end
      end
      private_class_method :closed_days_of
    end
  end
end
