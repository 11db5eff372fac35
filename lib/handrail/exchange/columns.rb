# frozen_string_literal: true

require "yaml"

module Handrail
  module Exchange
    # Names of columns as other people write them, see columns.yml beside this file.
    #
    #   Columns.meant("Geburtsdatum", %w[record_number born_on])  # => "born_on"
    module Columns
      FILE = File.join(__dir__, "columns.yml")

      class << self
        # The one of `columns` that a header means: our own name first, else one of its others; nil for none.
        def meant(header, columns)
          name = plain(header)
          columns.find { |one| plain(one) == name } ||
            columns.find { |one| others.fetch(one, []).include?(name) }
        end

        def known?(header, columns) = !meant(header, columns).nil?

        # without case, accents, blanks and hyphens
        def plain(text)
          text
            .to_s
            .unicode_normalize(:nfd)
            .gsub(/\p{Mn}/, "")
            .downcase
            .gsub("ß", "ss")
            .gsub(/[\s\u00A0_\-.]+/, "")
        end

        private

        def others
          @others ||=
            YAML
              .safe_load_file(FILE)
              .fetch("columns")
              .transform_values { |names| names.map { |name| plain(name).freeze }.freeze }
              .freeze
        end
      end
    end
  end
end
