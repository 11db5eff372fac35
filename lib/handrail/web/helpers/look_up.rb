# frozen_string_literal: true

module Handrail
  module Web
    module Helpers
      # The way from the work into the handbook. What is looked up opens beside the work, so that nothing that was
      # typed is left; without scripts it opens in a window of its own.
      module LookUp
        # A small mark beside a name. what - what is looked up, for who hears the page.
        def look_up(path, what)
          label = Rack::Utils.escape_html("Look up in the handbook: #{what}")
          %(<a class="look-up" href="#{path}" target="_blank" aria-label="#{label}" #{beside(path)}>?</a>)
        end

        def look_up_site(site) = look_up("/handbook/sites/#{site.key}", site.name)

        def look_up_check(family, check)
          look_up("/handbook/families/#{family.key}?at=check-#{check.key}", check.key.tr("_", " "))
        end

        def look_up_problem(family, problem)
          look_up("/handbook/families/#{family.key}?at=problem-#{problem.key}", problem.key.tr("_", " "))
        end

        # Attributes of a link that is followed inside the handbook, where that lies beside the work.
        def beside(path)
          { "data-hx-get" => path, "data-hx-target" => "#beside-leaf", "data-hx-swap" => "innerHTML" }
            .map { |name, value| %(#{name}="#{value}") }.join(" ")
        end

        # A text of a protocol without an order: what an order would fill in is named.
        def unfilled(text) = text.to_s.gsub(/\{(\w+?)(?:\.says)?\}/) { "the #{Regexp.last_match(1).tr('_', ' ')}" }

        # "within 5 mm", "28 to 50 mmHg", or nothing for yes and no
        def check_limits(check)
          words = { "at_most" => "within", "under" => "under", "at_least" => "at least", "over" => "over" }
          check.criterion.limits.map { |name, limit| "#{words[name]} #{check.criterion.print(limit)}" }.join(", ")
        end
      end
    end
  end
end
