# frozen_string_literal: true

require "store_helper"
require "vips"

# Skin on the figure, what the wearer says, photos and the line of the leg.
RSpec.describe "The wearer's body at a visit", :rolled_back do
  store = Handrail::Store

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) { sized_visit(clinic, fitter) }

  def skin(to = visit, **what)
    run(to, fitter, :RecordSkin, x: "190", y: "333", kind: "mark_fades", side: "left", **what)
    record(to).body.skin.last
  end

  # a photo as a camera sends it
  def photo(width: 300, height: 200, suffix: ".jpg")
    raw = Vips::Image.black(width, height, bands: 3).linear([1, 1, 1], [90, 140, 60]).cast(:uchar)
    Handrail::Exchange::Photo.new(raw.write_to_buffer(suffix))
  end

  def keep(to = visit, made: photo, what: "heels from behind")
    command = Handrail::Store::Commands::KeepPhoto.new({ what: what, side: "left" }, photo: made)
    Handrail::Store::Ledger.new(to, fitter).run(command)
    record(to).body.photos.last
  end

  describe "skin" do
    it "is a place with a kind and a size, and no stop while it fades" do
      place = skin(size: "1/2 in", note: "from the sleeve")
      expect(place.last.slice(:kind, :size_mm, :note, :side)).to eq(
        kind: "mark_fades",
        size_mm: BigDecimal("12.7"),
        note: "from the sleeve",
        side: "left"
      )
      expect(record(visit).safety.stops).to eq []
    end

    %w[open blister mark_stays].each do |kind|
      it "is a stop sign where it is #{kind}, until somebody writes what was done" do
        place = skin(kind: kind)
        stop = record(visit).safety.stops.first
        expect([stop.key, stop.urgency]).to eq ["skin:#{place.first[:version]}", :today]
        expect(Handrail::Wording.stop(stop)).to include("where the device lies")
        expect(record(visit).gates.open?(:fit)).to be false
        run(
          visit,
          fitter,
          :RecordStopAction,
          stop: stop.key,
          action: "advised",
          who: "Dr Skin",
          advice: "cover it and wait"
        )
        expect(record(visit).safety.stops).to eq []
      end
    end

    it "is followed from visit to visit: smaller, larger again, gone" do
      first = handed_over_visit(clinic, fitter)
      expect { skin(first) }.to raise_error(store::Closed)
      later = store::Visit.where(fitting_id: first.fitting_id, purpose: "recheck").first
      ask(later, fitter)
      old = skin(later, kind: "old_sore", size: "20 mm")
      follow = ->(course, **more) do
        last = record(later).body.skin.first.last
        run(later, fitter, :RecordSkin, follows: last[:id].to_s, course: course, **more)
      end
      follow.call("smaller", size: "12 mm")
      expect(record(later).body.skin.size).to eq 1
      expect(record(later).body.skin.first.rows.map { |row| row[:course] }).to eq [nil, "smaller"]
      follow.call("larger", kind: "open")
      expect(record(later).safety.stops.map(&:key)).to eq ["skin:#{old.first[:version]}"]
      # a stop does not end by a row that says less, a moment later
      less = raise_error(store::Unacceptable, /at this visit, a moment ago/)
      expect { follow.call("gone", note: "closed") }.to less
      expect { follow.call("larger", kind: "mark_fades") }.to less
      expect(record(later).safety.stops.map(&:key)).to eq ["skin:#{old.first[:version]}"]
    end

    it "ends a stop for open skin at a later visit, with what is seen there" do
      first = handed_over_visit(clinic, fitter)
      later = store::Visit.where(fitting_id: first.fitting_id, purpose: "recheck").first
      ask(later, fitter)
      row = skin(later, kind: "open", size: "20 mm")
      store::Visit.where(id: later.id).update(closed_at: store.now, closed_by: fitter.id)
      third =
        store::Visit.create(clinic_id: clinic.id, fitting_id: first.fitting_id, purpose: "recheck")
      ask(third, fitter)
      follow = ->(**more) do
        run(third, fitter, :RecordSkin, follows: row.id.to_s, course: "gone", **more)
      end
      expect(record(third).safety.stops.map(&:key)).to eq ["skin:#{row.first[:version]}"]
      expect { follow.call }.to raise_error(store::Unacceptable, /what you see there now/)
      follow.call(note: "closed, pale, soft")
      expect(record(third).body.skin.first.gone?).to be true
      expect(record(third).safety.stops).to eq []
      expect {
        run(
          third,
          fitter,
          :RecordSkin,
          follows: record(third).body.skin.first.last[:id].to_s,
          course: "same"
        )
      }.not_to raise_error
    end

    it "takes back a place that was tapped by mistake, at its own visit and with why" do
      visit = sized_visit(clinic, fitter)
      row = skin(visit, kind: "open")
      back = ->(**more) do
        run(visit, fitter, :RecordSkin, follows: row.id.to_s, course: "mistake", **more)
      end
      expect { back.call }.to raise_error(store::Unacceptable, /tapped by mistake/)
      back.call(note: "wrong leg")
      expect(record(visit).safety.stops).to eq []
      expect(record(visit).body.skin.first.rows.map { |one| one[:course] }).to eq [nil, "mistake"]
    end

    it "waits to be looked at again at the next visit" do
      visit = sized_visit(clinic, fitter)
      skin(visit)
      expect(record(visit).body.skin_waiting).to eq []
      finish_steps(visit, fitter)
      look_at_all(visit, fitter)
      teach(visit, fitter)
      hand_over(visit, fitter)
      later = record(visit).visits.last
      expect(record(later).body.skin_waiting.size).to eq 1
    end

    it "refuses what has no place, no kind or no size that can be" do
      expect { skin(x: "") }.to raise_error(store::Unacceptable, /Tap the place/)
      expect { skin(x: "9999") }.to raise_error(store::Unacceptable, /Tap the place/)
      expect { skin(kind: "") }.to raise_error(store::Unacceptable, /what it is/)
      expect { skin(size: "2 m") }.to raise_error(store::Unacceptable, /up to 500 mm/)
      expect { skin(size: "big") }.to raise_error(store::Unacceptable)
      expect { skin(follows: "1", course: "same") }.to raise_error(
        store::Unacceptable,
        /not of this/
      )
      expect { skin(photo: "12") }.to raise_error(store::Unacceptable, /photo is not/)
    end

    it "can be written under another stop, but not before anybody has asked who it is" do
      stopped = make_visit(clinic, fitter)
      expect { skin(stopped) }.to raise_error(store::Refused, /identity_open/)
      ask(stopped, fitter, stops: %w[chest])
      expect(skin(stopped).kind).to eq "mark_fades"
    end
  end

  describe "what the wearer says" do
    def say(**what) = run(visit, fitter, :WriteWord, **what)

    it "keeps pain without and with it, where, and what they want; the newest of a visit stands" do
      say(pain_without: "7", pain_with: "4", place: "inner side", wants: "walk to the harbour")
      say(pain_without: "6", pain_with: "3")
      expect(record(visit).body.word_here.slice(:pain_without, :pain_with)).to eq(
        pain_without: 6,
        pain_with: 3
      )
      expect(record(visit).body.words.size).to eq 1
    end

    it "refuses a score that is none, and nothing at all" do
      %w[11 -1 lots 3.5].each do |bad|
        expect { say(pain_with: bad) }.to raise_error(store::Unacceptable, /0, none, to 10/)
      end
      expect { say }.to raise_error(store::Unacceptable, /what they say/)
    end
  end

  describe "a photo" do
    it "is kept once by its digest, small, and shown with whose side it is" do
      first = keep
      expect(first.slice(:what, :width, :height)).to eq(
        what: "heels from behind",
        width: 300,
        height: 200
      )
      keep(what: "the same again")
      expect(store.db[:files].where(clinic_id: clinic.id).count).to eq 1
      expect(record(visit).body.photos.map { |row| row[:what] }).to eq [
           "heels from behind",
           "the same again"
         ]
    end

    it "can not be changed or taken out of the database" do
      keep
      files = store.db[:files].where(clinic_id: clinic.id)
      [-> { files.update(content_type: "application/pdf") }, -> { files.delete }].each do |act|
        expect { store.db.transaction(savepoint: true) { act.call } }.to raise_error(
          Sequel::DatabaseError
        )
      end
    end

    it "is refused where none was sent, and after forty" do
      expect { keep(made: nil) }.to raise_error(store::Unacceptable, /Choose a photo/)
      stub_const("Handrail::Store::Commands::KeepPhoto::MOST", 2)
      2.times { keep }
      expect { keep }.to raise_error(store::Unacceptable, /has 2 photos/)
    end
  end

  describe "the line of the leg" do
    points = { "hip" => "170,40", "knee" => "190,400", "toe" => "180,640" }

    define_method(:place) do |**more|
      run(
        visit,
        fitter,
        :PlaceLine,
        line: "leg",
        moment: "before",
        points: points,
        side: "left",
        **more
      )
      record(visit).body.alignments("leg", "left").last
    end

    it "keeps the points, and computes from them again whenever it is asked" do
      row, alignment = place(known: "80 cm", bent: "yes")
      expect(row.slice(:moment, :bent)).to eq(moment: "before", bent: true)
      expect(alignment.figures).to match(
        angle: be_within(0.1).of(5.6),
        offset: be_within(0.2).of(18.7),
        unit: "mm"
      )
      expect(
        record(visit).events.last[:said]
      ).to include "line of the leg, before, knee bent 5 degrees"
    end

    it "lies on a photo of this fitting, and on no other one" do
      own = keep
      expect(place(photo: own[:id].to_s).first[:photo_id]).to eq own[:id]
      other = keep(sized_visit(clinic, fitter))
      expect { place(photo: other[:id].to_s) }.to raise_error(
        store::Unacceptable,
        /not of this fitting/
      )
    end

    it "takes a line that is seen from behind on a photo alone: on a figure its sides are swapped" do
      heel = { "calf" => "100,0", "ankle" => "100,200", "heel" => "90,260" }
      from_behind = { line: "heel", points: heel }
      expect { place(**from_behind) }.to raise_error(store::Unacceptable, /seen from behind/)
      own = keep
      run(
        visit,
        fitter,
        :PlaceLine,
        **from_behind,
        moment: "before",
        side: "left",
        photo: own[:id].to_s
      )
      expect(record(visit).body.alignments("heel", "left").last.last.angle).to be > 0
    end

    it "names what is missing, and keeps nothing" do
      expect { place(points: { "hip" => "1,2" }) }.to raise_error(store::Unacceptable, /kneecap/)
      expect { place(points: points.merge("knee" => "x,y"), known: "ten") }.to raise_error(
        store::Unacceptable
      )
      expect { place(known: "9 m") }.to raise_error(store::Unacceptable, /up to 3 m/)
      expect(record(visit).rows(:alignments)).to eq []
    end
  end
end
