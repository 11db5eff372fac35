# frozen_string_literal: true

module Handrail
  module Web
    module Helpers
      # Parts of forms.
      module Forms
        def token = Token.of(session)

        # The key of this page load: what the page itself writes is no surprise to it.
        def page_key = @page_key ||= params["page"].to_s[/\A\h{16}\z/] || SecureRandom.hex(8)

        def entry_key = SecureRandom.uuid

        def part(name, **locals) = erb(name, layout: false, locals: locals)

        # The hidden fields that every form at a visit carries.
        def visit_fields(record, key: false)
          fields = { "authenticity_token" => token, "seen" => record.visit.version, "page" => page_key }
          fields["entry_key"] = entry_key if key
          fields.map { |name, value| %(<input type="hidden" name="#{name}" value="#{Rack::Utils.escape_html(value.to_s)}">) }.join
        end

        def token_field = %(<input type="hidden" name="authenticity_token" value="#{Rack::Utils.escape_html(token)}">)

        # htmx attributes for a form that is answered with a new bench.
        def swaps(path) = %(action="#{path}" method="post" hx-post="#{path}" hx-target="#bench" hx-swap="outerHTML" hx-sync="this:queue all")

        def query(hash) = Rack::Utils.build_query(hash)

        # an asset's path with its age, so that a new version is fetched
        def asset(path) = "#{path}?#{Forms.age(path)}"

        def self.age(path)
          (@ages ||= {})[path] ||= File.mtime(File.join(PUBLIC, path)).to_i
        end
      end
    end
  end
end
