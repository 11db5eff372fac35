# frozen_string_literal: true

module Handrail
  module Web
    module Helpers
      # The way from the work into the handbook. What is looked up opens beside the work, so that
      # nothing that was typed is left; without scripts it opens in a window of its own.
      module LookUp
        # A small mark beside a name. what - what is looked up, for who hears the page.
        def look_up(path, what)
          label = Rack::Utils.escape_html(Wording.t("web.look_up_handbook", what: what))
          %(<a class="look-up" href="#{path}" target="_blank" aria-label="#{label}" #{beside(path)}>?</a>)
        end

        def look_up_site(site) = look_up("/handbook/sites/#{site.key}", site.name)

        def look_up_check(family, check)
          look_up("/handbook/families/#{family.key}?at=check-#{check.key}", check.key.tr("_", " "))
        end

        def look_up_problem(family, problem)
          look_up(
            "/handbook/families/#{family.key}?at=problem-#{problem.key}",
            problem.key.tr("_", " ")
          )
        end

        # Attributes of a link that is followed inside the handbook, where that lies beside the
        # work.
        def beside(path)
          {
            "data-hx-get" => path,
            "data-hx-target" => "#beside-leaf",
            "data-hx-swap" => "innerHTML"
          }.map { |name, value| %(#{name}="#{value}") }.join(" ")
        end

        def unfilled(text) = Handbook.unfilled(text)
      end
    end
  end
end
