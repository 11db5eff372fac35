# frozen_string_literal: true

module Handrail
  module Web
    module Helpers
      # State is always shape, word and colour: round is good, triangle look again, octagon stop,
      # ring not done yet.
      module States
        SHAPES = {
          good: ['<circle cx="10" cy="10" r="9"/>', "good"],
          look_again: [
            '<path d="M10 1.5 19.5 18.5 .5 18.5Z"/>',
            Wording.t("web.look_again").freeze
          ],
          stop: ['<path d="M6 .5h8l5.5 5.5v8L14 19.5H6L.5 14V6Z"/>', "stop"],
          not_done: [
            '<circle cx="10" cy="10" r="7.5" fill="none" stroke="currentColor" stroke-width="3"/>',
            Wording.t("web.not_done_yet").freeze
          ]
        }.freeze

        def mark(state, word: nil)
          shape, said = SHAPES.fetch(state)
          %(<span class="mark is-#{
            state.to_s.tr("_", "-")
          }"><svg viewBox="0 0 20 20" aria-hidden="true" fill="currentColor">#{shape}</svg>) +
            %(<span class="unseen">#{Rack::Utils.escape_html(word || said)}</span></span>)
        end

        STAGE_PATHS =
          [*Fitting::STAGES, :skin, :line, :volume, :record].to_h do |key|
              [key, key.to_s.tr("_", "-")]
            end
            .freeze

        # What a button says that leads on to a stage.
        def t_next(stage) = Wording.t("onward.#{stage}")

        def stage_name(stage) = Wording.t("stages.#{stage}")
        def stage_path(visit_id, stage) = "/visits/#{visit_id}/#{STAGE_PATHS.fetch(stage)}"
      end
    end
  end
end
