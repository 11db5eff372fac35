# frozen_string_literal: true

module Handrail
  module Web
    # Devices of the clinic's own, brought in as a family file: looked at first (what it says that could hurt somebody,
    # what changes), then brought in by a senior; ended again. Routes of the catalogue; the page is
    # views/catalogue/families.erb, the commands are BringFamily and EndFamily.
    module OwnFamilies
      # What the page shares.
      module Helpers
        # rows of what changes that are shown
        MOST_CHANGES = 60

        # looked - a Store::OwnFamilies::Looked, nil before a file was chosen; waits - number of the file that waits
        # for a yes
        def families_page(looked: nil, waits: nil, faults: {}, typed: {})
          rows = Store::OwnFamilies.rows(clinic)
          erb :"catalogue/families",
              locals: {
                looked: looked,
                waits: waits,
                faults: faults,
                typed: typed,
                rows: rows,
                names:
                  Store::Account.where(
                    id: rows.flat_map { |row| row.values_at(:by, :ended_by) }.compact
                  ).as_hash(:id, :name)
              }
        end

        # the family that a file would take the place of, or nil
        def in_place_of(family) = clinic.device_families[family.key]

        # names of the sites that it reads
        def sites_of(family)
          sites = Anatomy::Vocabulary.default
          family.needs.map { |need| sites[need.site]&.name || need.site }.uniq
        end

        # [[where, before, after], ...]
        def changes_to(family)
          own = in_place_of(family)
          own ? Families::Difference.between(own.to_h, family.to_h) : []
        end

        # a file that was chosen is kept for its yes
        def look_at_family(bytes, name)
          looked = Store::OwnFamilies.look(bytes, name)
          waits = Store::WaitingFiles.put(account, name, bytes) if looked.sound?
          status 422 unless looked.sound?
          families_page(looked: looked, waits: waits)
        end

        def refuse_family(faults, looked: nil)
          status 422
          families_page(
            looked: looked,
            waits: looked && params["file"],
            faults: faults,
            typed: params
          )
        end
      end

      NO_FILE = Wording.t("web.choose_family_file_yml").freeze
      GONE = Wording.t("web.file_gone").freeze

      def self.registered(app)
        app.helpers(Helpers)
        reads(app)
        writes(app)
      end

      def self.reads(app)
        app.get "/families" do
          clinical!
          families_page
        end

        # the file of a device as it ships or as it was brought in, to be changed elsewhere
        app.get "/families/:key.yml" do
          clinical!
          key = params["key"].to_s
          found(clinic.device_families[key])
          content_type "text/yaml", charset: "utf-8"
          attachment "#{key}.yml"
          own = Store::OwnFamilies.rows(clinic).find { |row| row[:key] == key && !row[:ended_at] }
          own ? own[:source] : File.read(File.join(Families::Registry::FOLDER, "#{key}.yml"))
        end
      end
      private_class_method :reads

      def self.writes(app)
        app.post "/families" do
          senior!
          file, name = sent_file("file")
          next refuse_family({ "file" => NO_FILE }) unless file

          look_at_family(file.read(Store::OwnFamilies::MOST_FILE + 1) || +"", name[0, 80])
        end

        app.post "/families/all" do
          senior!
          bytes = Store::WaitingFiles.bytes(account, params["file"])
          next refuse_family({ "file" => GONE }) unless bytes

          looked = Store::OwnFamilies.look(bytes, text("named")[0, 80])
          begin
            confirm!
            desk.run(Store::Commands::BringFamily.new(params, looked: looked))
            go("/catalogue/families")
          rescue Store::Faults, Store::Conflict => e
            refuse_family(e.fields, looked: looked)
          end
        end

        app.post "/families/end" do
          senior!
          desk.run(Store::Commands::EndFamily.new(params))
          go("/catalogue/families")
        rescue Store::Faults, Store::Conflict => e
          refuse_family(e.fields.transform_keys { |name| "end_#{name}" })
        end
      end
      private_class_method :writes
    end
  end
end
