# frozen_string_literal: true

module Handrail
  module Web
    # The clinic's settings, section by section: each has a page of its own and is saved for itself. What a section
    # does not show stays as it is. Its page is views/settings/page.erb, a section's fields views/settings/KEY.erb.
    module Settings
      # key - of its words in wording; fields - names of the form; choices - beginnings of the names under "choices"
      Section =
        Value.new(:key, :fields, :choices) do
          def title = Wording.t("settings.#{key}.title")
          # what it is about
          def says = Wording.t("settings.#{key}.says")
        end
      SECTIONS =
        [
          Section[
            key: "clinic",
            fields: %w[name address place phone time_zone tape booked],
            choices: []
          ],
          Section[key: "fitted", fields: %w[families], choices: []],
          Section[
            key: "papers",
            fields: [],
            choices: %w[letterhead warranty statements sheet_language like_years]
          ],
          Section[
            key: "work",
            fields: %w[bedside_routine],
            choices: %w[repeats minutes_ rooms referrers identifier_system]
          ],
          Section[key: "safety", fields: %w[codes_required], choices: %w[firm word_]],
          Section[key: "hours", fields: [], choices: %w[hours_ closed_days]],
          Section[key: "by_family", fields: [], choices: %w[window. note.]]
        ].to_h { |section| [section.key, section] }.freeze

      class << self
        # A form of all settings: those of a section as they were sent, the others as they are now.
        def whole(clinic, key, params)
          section = SECTIONS.fetch(key)
          now = form_of(clinic)
          sent = params["choices"].is_a?(Hash) ? params["choices"] : {}
          now
            .merge(section.fields.to_h { |name| [name, params[name]] })
            .merge(params.slice("seen", "page", "entry_key"))
            .merge(
              "choices" =>
                now["choices"]
                  .reject { |name, _| of?(section, name) }
                  .merge(sent.select { |name, _| of?(section, name) })
            )
        end

        # The section that a fault is of; the first where none is.
        def of_fault(faults)
          names = faults.keys
          key, =
            SECTIONS.find do |_, one|
              names.any? { |name| one.fields.include?(name) || of?(one, name) }
            end
          return "hours" if names.include?("calendar")

          key || SECTIONS.keys.first
        end

        # Of what is wrong, the names that stand beside their inputs on a section's page.
        def own_fields(key, faults)
          section = SECTIONS.fetch(key)
          faults.keys.select do |name|
            section.fields.include?(name) || of?(section, name) ||
              (name == "calendar" && key == "hours")
          end
        end

        def registered(app)
          app.get("/settings/?") do
            senior!
            settings_page(settings_now)
          end
          app.get("/settings/:section") do
            senior!
            halt 404 unless SECTIONS.key?(params["section"])
            settings_page(settings_now, section: params["section"])
          end
          app.post("/settings/?") { change_settings(params) }
          app.post("/settings/:section") do
            senior!
            key = params["section"]
            halt 404 unless SECTIONS.key?(key)
            change_settings(Settings.whole(clinic, key, params), key)
          end
        end

        private

        def of?(section, name) = section.choices.any? { |begins| name.start_with?(begins) }

        def form_of(clinic)
          more = Store::ClinicValues.more(clinic)
          flags = more.except("choices").transform_values { |on| on ? "yes" : nil }
          Store::ClinicValues.of(clinic).merge(flags, "choices" => more["choices"].to_h)
        end
      end

      # How its routes answer.
      module Helpers
        def settings_now = Store::ClinicValues.of(clinic).merge(Store::ClinicValues.more(clinic))

        # stale - whether somebody else changed them while the page was open; read - what was read in from a calendar
        # and waits to be saved, in words
        def settings_page(values, section: nil, faults: {}, stale: false, read: nil)
          erb :"settings/page",
              locals: {
                values: values,
                section: section || Settings.of_fault(faults),
                read: read,
                faults: faults,
                stale: stale,
                seen: Store::ClinicValues.digest(clinic)
              }
        end

        # form - of all settings; section - where it goes on
        def change_settings(form, section = nil)
          senior!
          desk.run(Store::Commands::ChangeSettings.new(form))
          go(["/settings", section].compact.join("/"))
        rescue Store::Stale, Store::Faults, Store::Conflict => e
          status e.is_a?(Store::Faults) ? 422 : 409
          clinic.refresh
          typed = {
            "choices" => form["choices"].is_a?(Hash) ? form["choices"] : {},
            "bedside_routine" => form["bedside_routine"] == "yes",
            "codes_required" => form["codes_required"] == "yes"
          }
          settings_page(
            Store::ClinicValues.read(form).merge(typed),
            section: section,
            faults: e.is_a?(Store::Stale) ? {} : e.fields,
            stale: e.is_a?(Store::Stale)
          )
        end
      end
    end
  end
end
