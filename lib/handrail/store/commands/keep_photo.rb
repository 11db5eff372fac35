# frozen_string_literal: true

module Handrail
  module Store
    module Commands
      # Keeps a photo with the visit, as Exchange::Photo made it: turned upright, made smaller, its
      # place data gone.
      #
      #   KeepPhoto.new({ "what" => "both heels from behind", "side" => "left" }, photo: photo)
      class KeepPhoto < VisitCommand
        input :what, :text, most: 120, missing: t(:say_what_photo_shows)
        input :side, :key
        input :sha256, :line, most: 64

        # photo - answers bytes, width, height, sha256; nil where none was sent
        def initialize(params = {}, photo: nil)
          @photo = photo
          super({ **params.to_h.transform_keys(&:to_s), "sha256" => photo&.sha256 })
        end

        def topic = "photo"
        def watch = []

        # the most photos of one visit
        MOST = 40

        def decide(visit)
          unacceptable("photo", t(:choose_photo_jpeg_png)) unless @photo
          pass!(visit)
          if visit.rows(:photos).size >= MOST
            unacceptable("photo", t(:visit_has_photos_already, most: MOST))
          end

          own = side.to_s.empty? ? nil : side_of(visit, side)
          Decision.of(
            with_side(visit, own, t(:photo, what: what)),
            rows: [
              [
                :photos,
                {
                  what: what,
                  side: own,
                  sha256: @photo.sha256,
                  width: @photo.width,
                  height: @photo.height
                }
              ]
            ],
            effects: [
              Effects::KeepFile[sha256: @photo.sha256, type: "image/jpeg", bytes: @photo.bytes]
            ]
          )
        end
      end
    end
  end
end
