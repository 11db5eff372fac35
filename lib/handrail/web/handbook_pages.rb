# frozen_string_literal: true

module Handrail
  module Web
    # The handbook: what the house knows, to be read at leisure or beside the work. It holds nothing
    # of any patient, so everyone who is signed in may read it. Asked for by htmx a page comes
    # without its surroundings, to lie beside the bench.
    class HandbookPages < Base
      HANDBOOKS = Memory.new(10)
      private_constant :HANDBOOKS

      helpers do
        # with the devices of the clinic's own, where it has any
        def handbook =
          @handbook ||=
            HANDBOOKS.remember(clinic.device_families.values.map(&:digest)) { all_known }

        def all_known
          return Handrail::Handbook.default if clinic.own_families.to_h.empty?

          Handrail::Handbook
            .new(families: clinic.device_families)
            .tap { |one| one.search("a") && one.schools }
        end

        # A page of its own, or what lies beside the work.
        def leaf(name, title, **locals)
          @title = title
          @heading = "<strong>Handbook</strong>"
          return part(:"handbook/#{name}", **locals) if fragment?

          erb :"handbook/around", locals: { name: name, inner: locals, title: title }
        end

        # Inside what lies beside the work, the next page goes to the same place; else it is a page.
        def within(path) = fragment? ? beside(path) : ""

        # An id that is not also one of the bench beside which it lies.
        def leaf_id(name) = fragment? ? "leaf-#{name}" : name

        # The way to something found.
        def leaf_path(entry)
          room = entry.kind == :site ? "sites" : "families"
          "/handbook/#{room}/#{entry.key}#{"##{entry.anchor}" if entry.anchor}"
        end

        # A site's figure with its tape line, and nothing else.
        def site_figure(site)
          figure = Anatomy::Figure.fetch(site.figure)
          tape = Drawings::Figure::Tape[site: site, name: site.short, value: nil, state: :active]
          side = figure.mirrored? || figure.sided? ? "left" : nil
          Drawings::Figure.new(
            figure,
            profile: figure.profile,
            side: side,
            tapes: [tape],
            bracket: site.level && site.from && site.offset ? site : nil
          ).to_s
        end

        # "32 to 45 cm", or in inches for a clinic that reads them
        def range_words(range)
          range.map { |length| length.to_s(clinic.tape_kind) }.join(" to ")
        end
      end

      get "/?" do
        text = text("q").strip[0, 100]
        leaf "index", "Handbook", text: text, found: handbook.search(text)
      end

      get "/found" do
        text = text("q").strip[0, 100]
        part(:"handbook/found", text: text, found: handbook.search(text))
      end

      get "/sources" do
        leaf "sources",
             Wording.t("web.sources_schools").freeze,
             sources: handbook.sources,
             schools: handbook.schools
      end

      get "/sites/:key" do
        site = found(handbook.site(params["key"].to_s))
        leaf "site", site.name, site: site
      end

      get "/families/:key" do
        family = found(handbook.family(params["key"].to_s))
        leaf "family", family.name, family: family, at: text("at")
      end
    end
  end
end
