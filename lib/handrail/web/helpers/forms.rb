# frozen_string_literal: true

module Handrail
  module Web
    module Helpers
      # Parts of forms.
      module Forms
        # The key that the person signed in has for an action.
        def key_of(action) = (@keys ||= Store::Keys.of(account))[action]

        def token = @token ||= Token.of(session)

        # The key of this page load: what the page itself writes is no surprise to it.
        def page_key = @page_key ||= params["page"].to_s[/\A\h{16}\z/] || SecureRandom.hex(8)

        def entry_key = SecureRandom.uuid

        def part(name, **locals) = erb(name, layout: false, locals: locals)

        # The hidden fields that every form at a visit carries: each entry has a key of its own. about -
        # [kind of evidence, { side:, place:, subject: }] of a form that adds evidence, see
        # Fitting::Basis: what is shown here is what it is about. seen - the visit's version that was shown.
        def visit_fields(visit, about: nil, seen: visit.version)
          kind, more = about
          shown = kind && hidden("rests_on", Store::Basis.shown(kind, visit, **more.to_h))
          %(#{desk_fields}#{hidden("seen", seen)}#{shown})
        end

        # What a form had before it whose entry takes the place of what stood there. now - that as it stands; faults -
        # field => what was wrong with what was sent. A form that is refused for what was typed still stands before
        # what it was made of: what others did meanwhile is told by its next sending, and not passed over.
        def still_seen(now, faults)
          kept = params["seen"]
          faults.empty? || faults.key?("seen") || !kept.is_a?(String) ? now : kept
        end

        # The same of a form that belongs to no visit.
        def desk_fields
          @of_page ||= %(#{token_field}#{hidden("page", page_key)})
          %(#{@of_page}#{hidden("entry_key", entry_key)})
        end

        def hidden(name, value)
          %(<input type="hidden" name="#{name}" value="#{Rack::Utils.escape_html(value.to_s)}">)
        end

        # Attributes of a field at fault, for a screen reader; nothing where it is sound.
        def faulty(fault, id) = fault ? %( aria-invalid="true" aria-describedby="#{id}-fault") : ""

        # Attributes of a figure on which a point can be shown: where that leads.
        def tappable(page)
          page.writable? ? %( data-tap="?#{query({ "side" => page.side }.compact)}") : ""
        end

        # What is wrong with a field, under it.
        def fault_line(fault, id)
          fault ? %(<p class="fault" id="#{id}-fault">#{Rack::Utils.escape_html(fault)}</p>) : ""
        end

        def token_field = hidden("authenticity_token", token)

        # htmx attributes for a form that is answered with a new bench.
        def swaps(path)
          {
            "action" => path,
            "method" => "post",
            "data-hx-post" => path,
            "data-hx-target" => "#bench",
            "data-hx-swap" => "outerHTML",
            "data-hx-sync" => "this:queue all"
          }.map { |name, value| %(#{name}="#{value}") }.join(" ")
        end

        def query(hash) = Rack::Utils.build_query(hash)

        def asset(name) = Assets.path(name)

        def htmx_config = HTMX

        # htmx as a strict content security policy wants it: nothing is evaluated, nothing inline is
        # added; answers that were not kept are shown like the others.
        HTMX =
          JSON.generate(
            allowEval: false,
            includeIndicatorStyles: false,
            allowScriptTags: false,
            historyCacheSize: 0,
            defaultFocusScroll: false,
            timeout: 10_000,
            responseHandling: [
              { code: "204", swap: false },
              { code: "[23]..", swap: true },
              { code: "409", swap: true },
              { code: "422", swap: true },
              { code: "[45]..", swap: false, error: true }
            ]
          ).freeze
        private_constant :HTMX
      end
    end
  end
end
