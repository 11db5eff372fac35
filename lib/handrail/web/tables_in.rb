# frozen_string_literal: true

module Handrail
  module Web
    # A table on its way in on a page: the file that was sent, or the rows of one that was sent before together with
    # what was chosen since, where its figures or days can be read two ways. Helpers for a Sinatra application.
    #
    #   sent = table_sent(Exchange::EarlierFile) or next refuse(...)
    #   sent.questions # => what has to be chosen first, see views/shared/table_asked.erb
    module TablesIn
      # name - of the file; listed - its rows as they stand, [[line, { column => text }], ...]; meant - an
      # Exchange::Interpretation of them
      Sent =
        Value.new(:name, :listed, :meant, :about) do
          def questions = meant.questions
          def faults = meant.faults
          def rows = meant.rows
          def raw = JSON.generate(listed)
        end

      # rows of a preview
      SHOWN = 20
      # the most that the rows of a file are carried along as, in bytes
      MOST_RAW = 1_500_000

      # format - has .rows(path, name:) and MEANT, what its columns hold. Returns Sent, or nil where nothing was sent.
      # Raises Exchange::CSVTable::Faulty.
      def table_sent(format)
        name, listed = rows_again || rows_of_file(format)
        listed && table_of(name, listed, format)
      end

      # Rows that were listed, with what was chosen of them: chosen - nil for what the request says; about - what came
      # with them and is to come again
      def table_of(name, listed, format, chosen: nil, about: {})
        chosen ||= Hash.try_convert(params["choose"]).to_h.select { |_, code| code.is_a?(String) }
        Sent[
          about: about,
          name: name,
          listed: listed,
          meant: Exchange::Interpretation.new(listed, chosen: chosen, **format::MEANT)
        ]
      end

      private

      def rows_of_file(format)
        file, name = sent_file("file")
        file && [name, format.rows(file.path, name: name)]
      end

      def rows_again
        raw = params["raw"]
        return unless raw.is_a?(String) && !raw.empty? && raw.bytesize <= MOST_RAW

        listed = JSON.parse(raw)
        sound = Store::Earlier.list?(listed) && listed.all? { |line, _| line.is_a?(Integer) }
        sound ? [params["named"].to_s[0, 120], listed] : nil
      rescue JSON::ParserError
        nil
      end
    end
  end
end
