# frozen_string_literal: true

module Handrail
  module Web
    class Visits
      # What belongs to the whole visit and not to one stage: skin on the figure, what the wearer
      # says, photos, and the line of the limb.
      module BodyStage
        # What both pages show of photos.
        module WithPhotos
          # [row, words] of this fitting's photos, newest first.
          def photos
            visit.body.photos.reverse.map do |row|
              [row, [visit.said_side(row[:side]), row[:what]].compact.join(": ")]
            end
          end

          # The stage to go back to.
          def back = visit.recheck? ? :recheck : visit.gates.present
        end

        # Skin, pain and photos.
        class SkinPage < StagePage
          STAGE = :skin
          GATE = :record_skin

          include WithPhotos

          # A place as it is listed. number - on the figure; words, history - what it was, visit by
          # visit; ask - whether it is to be looked at again here; fresh - whether it was written down at
          # this very visit, and may have been tapped by mistake.
          Listed = Value.new(:place, :number, :words, :history, :state, :ask, :fresh)

          def figure = Figures.new(visit, side: side).plain(spots: spots)

          def places
            waiting = visit.body.skin_waiting.map(&:id)
            visit
              .body
              .skin(side)
              .each_with_index
              .map do |place, i|
                Listed[
                  place: place,
                  number: i + 1,
                  words: words_of(place.last),
                  history: history_of(place),
                  state: state_of(place),
                  ask: takes?(:record_skin) && waiting.include?(place.id),
                  fresh: takes?(:record_skin) && fresh?(place)
                ]
              end
          end

          def tapped = @tapped ||= Spot.read(given("x"), given("y"))
          def kinds =
            Store::Commands::RecordSkin::KINDS.map { |kind| [kind, Wording.t("skin.#{kind}")] }

          def courses
            (Store::Commands::RecordSkin::COURSES - %w[mistake]).map do |course|
              [course, Wording.t("courses_of_skin.#{course}")]
            end
          end

          # what the wearer said: [visit's day, row], oldest first
          def sayings = visit.body.words.map { |row| [row[:at], row] }
          def word = visit.body.word_here || {}
          def score(name) = typed(name) || word[name.to_sym]

          # Whether the refused form was about this place, and whether it took the place back.
          def followed?(listed) = typed("follows") == listed.place.last[:id].to_s
          def of_a_new_place(name) = (typed(name) if typed("follows").to_s.empty?)
          def mistaken?(listed) = followed?(listed) && typed("course") == "mistake"

          private

          def fresh?(place) = !place.gone? && place.rows.all? { |row| row[:visit_id] == visit.id }

          def spots
            seen = visit.body.skin(side).reject(&:gone?)
            marked =
              seen.each_with_index.map do |place, i|
                [Spot[x: place.last[:x].to_f, y: place.last[:y].to_f], (i + 1).to_s]
              end
            tapped ? [*marked, [tapped, "new"]] : marked
          end

          def words_of(row)
            size = row[:size_mm] && Quantity::Length.mm(row[:size_mm].to_r).plain("mm")
            [Wording.t("skin.#{row[:kind]}"), size, row[:note]].compact.join(", ")
          end

          def history_of(place)
            place
              .rows
              .drop(1)
              .map do |row|
                size = row[:size_mm] && Quantity::Length.mm(row[:size_mm].to_r).plain("mm")
                course = Wording.t("courses_of_skin.#{row[:course]}")
                [row[:at], [course, size].compact.join(", "), row[:note]]
              end
          end

          def state_of(place)
            return :good if place.gone?
            return :stop if place.alarming?

            place.last[:course] == "larger" ? :look_again : :not_done
          end
        end

        # The line of a limb or a trunk.
        class LinePage < StagePage
          STAGE = :line
          GATE = :place_line

          def self.of?(family) = family.lines.any?

          include WithPhotos

          # An alignment as it is listed: when, before or after, words, picture.
          Seen = Value.new(:row, :words, :change)

          def lines = visit.family.lines.map { |key| Fitting::Alignment::LINES.fetch(key) }
          def line = lines.find { |one| one.key == given("line") } || lines.first
          def photo = visit.body.photos.find { |row| row[:id].to_s == given("photo") }

          # What a link to place points on a photo carries.
          def placing_on(row) = { "photo" => row[:id], "line" => line.key, "side" => side }.compact

          # The picture on which points are placed: a photo, or the figure of the line's view; nil where
          # there is none of ours that has all of them.
          def picture
            return photo_picture if photo

            Figures.new(visit, side: side).of_view("trunk") if why_no_figure.nil?
          end

          def line_row = @line_row ||= LineRow.new(visit)

          # Why no figure of ours will do, in words, or nil.
          def why_no_figure
            { "leg" => Wording.t("lines.ends_below"), "heel" => Wording.t("lines.from_behind") }[
              line.key
            ]
          end

          # The newest line before a change and the newest after one, drawn, and what became of it in words for the
          # wearer: [picture, picture, words]; nil where one of them is missing.
          def compared
            all = visit.body.alignments(line.key, own_side)
            before, after =
              %w[before after].map { |name| all.reverse.find { |row, _| row[:moment] == name } }
            return unless before && after && after.first[:id] > before.first[:id]

            drawn =
              [before, after].map do |row, made|
                Drawings::LineOfBody.new(made, words: Wording.line(made), photo: photo_of(row)).to_s
              end
            [*drawn, Wording.line_change(before.last, after.last)]
          end

          def own_side = line.key == "trunk" ? nil : side

          def seen
            earlier = nil
            visit
              .body
              .alignments(line.key, own_side)
              .map do |row, alignment|
                change = earlier && (alignment.figures.values.first - earlier.figures.values.first)
                earlier = alignment
                Seen[row: row, words: Wording.line(alignment), change: change]
              end
          end

          # the newest one, drawn large
          def drawn
            row, alignment = visit.body.alignments(line.key, own_side).last
            row &&
              Drawings::LineOfBody.new(
                alignment,
                words: Wording.line(alignment),
                photo: photo_of(row)
              ).to_s
          end

          # What the tilt of the heel would take, in steps of a bevel.
          def bevel
            return unless line.key == "heel"

            _, alignment = visit.body.alignments("heel", side).last
            width = visit.repeats("heel_width", side)
            return Wording.t("lines.no_heel") unless width
            return unless alignment

            step = (visit.family.option("step")&.value(visit.config["step"]) || 2).to_f
            Wording.bevel(alignment.angle, step: step, heel: width.mm.to_f)
          end

          def moment =
            typed("moment") || (visit.body.alignments(line.key, own_side).any? ? "after" : "before")

          private

          def photo_of(row)
            photo = visit.body.photos.find { |one| one[:id] == row[:photo_id] } or return
            {
              path: "/visits/#{visit.id}/photos/#{photo[:id]}.jpg",
              width: photo[:width],
              height: photo[:height]
            }
          end

          def photo_picture
            path = "/visits/#{visit.id}/photos/#{photo[:id]}.jpg"
            Drawings::SVG.draw(
              photo[:width],
              photo[:height],
              label: photo[:what],
              class: "figure photo"
            ) do |svg|
              svg.element(:image, href: path, width: photo[:width], height: photo[:height])
            end
          end
        end

        # The volume of the limb: girths at levels on both legs, excess, change over the visits.
        class VolumePage < StagePage
          STAGE = :volume
          GATE = :measure

          def self.of?(family) = !family.volume.nil?

          SIDES = %w[left right].freeze
          # [level in mm, side => text]
          def levels
            plan = visit.family.volume
            Array.new(plan["levels"]) do |i|
              level = i * plan["every"]
              [level, SIDES.to_h { |side| [side, value(side, level)] }]
            end
          end

          def from = visit.family.volume["from"]
          def unit = typed("unit") || visit.clinic.tape_kind.unit

          def value(side, level)
            typed_in("girths", "#{side}:#{level}") ||
              visit.volumes.girths.dig(side, level.to_r)&.then { |mm| bare(mm) }
          end

          def wrong(side, level) = fault("#{side}:#{level}")
          def states = visit.volumes.states.last(12)

          # What is said of this visit's volumes, and of their course: sentences.
          def said
            here = visit.volumes.states.select { |state| state.visit_id == visit.id }
            here.map { |state| Wording.volume(state, visit) } +
              SIDES.filter_map do |side|
                visit.volumes.trend(side)&.then { |trend| Wording.volume_trend(side, trend) }
              end
          end

          private

          def bare(mm)
            length = Quantity::Length.mm(mm)
            length.plain(unit == "in" ? "in" : "cm").split.first
          end
        end

        def self.registered(app)
          { "skin" => SkinPage, "line" => LinePage, "volume" => VolumePage }.each do |path, page|
            app.get("/:id/#{path}") do
              clinical!
              show(page, visit!)
            end
          end
          writing(app)
          app.get("/:id/photos/:photo.jpg") do
            clinical!
            row = found(visit!.body.photos.find { |one| one[:id].to_s == params["photo"] })
            bytes = Store.db[:files].where(clinic_id: clinic.id, sha256: row[:sha256]).get(:bytes)
            content_type "image/jpeg"
            headers "Cache-Control" => "private, no-store", "Content-Disposition" => "inline"
            bytes.to_s
          end
        end

        def self.writing(app)
          app.post("/:id/skin") do
            enter(SkinPage, Store::Commands::RecordSkin) { { "side" => text("side") } }
          end
          app.post("/:id/words") do
            page = text("stage") == "recheck" ? RecheckStage::Page : SkinPage
            enter(page, Store::Commands::WriteWord) { { "side" => text("side") } }
          end
          app.post("/:id/lines") do
            there!(LinePage)
            enter(LinePage, Store::Commands::PlaceLine) do
              { "side" => text("side"), "line" => text("line"), "photo" => text("photo") }
            end
          end
          app.post("/:id/volume") do
            there!(VolumePage)
            enter(VolumePage, Store::Commands::TakeLimbGirths)
          end
          app.post("/:id/photos") do
            clinical!
            page = params["from"] == "line" ? LinePage : SkinPage
            file, = sent_file("photo")
            photo = file && Exchange::Photo.read(file.path)
            given = params.slice("what", "side")
            enter(page, Store::Commands::KeepPhoto, given, photo: photo) do
              { "side" => text("side"), "line" => text("line") }
            end
          rescue Exchange::Photo::Unreadable => e
            answers(Base::REFUSED)
            status 422
            show(page, visit!, trouble: Store::Unacceptable.new("photo", e.message))
          end
        end
        private_class_method :writing
      end
    end
  end
end
