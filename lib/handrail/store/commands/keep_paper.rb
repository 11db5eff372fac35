# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Keeps a paper as it was made, by its digest: the fitting record, the wearer's sheet, the
      # locator sheet. Also after the visit was closed; what is written later makes another paper.
      #
      #   KeepPaper.new({ "kind" => "record" }, paper: paper)
      class KeepPaper < VisitCommand
        input :kind, :one_of, of: %w[record sheet locator], missing: t(:say_which_paper)
        input :sha256, :line, most: 64

        # paper - answers bytes, pages and sha256
        def initialize(params = {}, paper: nil)
          @paper = paper
          super({ "sha256" => paper&.sha256, **params.to_h.transform_keys(&:to_s) })
        end

        def topic = "paper"
        def watch = []
        def correction? = true
        def opens? = false

        def decide(visit)
          unacceptable("kind", t(:no_paper_keep)) unless @paper
          unacceptable("sha256", t(:another_paper)) if sha256 != @paper.sha256
          return if visit.rows(:papers).any? { |row| row[:sha256] == @paper.sha256 }

          Decision.of(
            t(:kept_pdf, kind: kind, sha: @paper.sha256[0, 12]),
            rows: [[:papers, { kind: kind, sha256: @paper.sha256, pages: @paper.pages }]],
            effects: [
              Effects::KeepFile[sha256: @paper.sha256, type: "application/pdf", bytes: @paper.bytes]
            ]
          )
        end
      end
    end
  end
end
