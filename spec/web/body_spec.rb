# frozen_string_literal: true

require "web_helper"
require "support/whole_jobs"
require "vips"

# The pages of skin, pain, photos and lines.
RSpec.describe "Pages beside the stages", :rolled_back do
  include WholeJobs

  let!(:clinic) { make_clinic }
  let!(:fitter) { make_account(clinic) }
  let(:visit) { sized_visit(clinic, fitter) }
  let(:base) { "/visits/#{visit.id}" }

  before { sign_in(fitter) }

  def jpeg
    @jpeg ||=
      begin
        path = File.join(Dir.tmpdir, "body-#{Process.pid}.jpg")
        Vips::Image.black(60, 40, bands: 3).cast(:uchar).write_to_file(path)
        path
      end
  end

  after { FileUtils.rm_f(jpeg) if @jpeg }

  def send_photo(file, type: "image/jpeg", **fields)
    get "#{base}/skin"
    hidden = html.scan(/<input type="hidden" name="(seen|page|entry_key)" value="([^"]*)"/).to_h
    given = { "what" => "heels", "from" => "skin" }.merge(fields.transform_keys(&:to_s))
    given["photo"] = Rack::Test::UploadedFile.new(file, type) if file
    post "#{base}/photos", hidden.merge(given, "authenticity_token" => token)
  end

  it "says before anything is typed what would hold it back, and keeps what was typed all the same" do
    fresh = make_visit(clinic, fitter)
    path = "/visits/#{fresh.id}/skin"
    get path
    expect(text).to include("Before anything is written here:", "Confirm name and date of birth")
    expect(html).to include(%(href="/visits/#{fresh.id}/order"))
    send_form("/visits/#{fresh.id}/words", from: path, pain_with: "4", wants: "to climb the stairs")
    expect(last_response.status).to eq 422
    expect(html).to include('value="4"', 'value="to climb the stairs"')
    expect(text).to include("Not yet. What you typed is kept.")
    expect(text).not_to include("Before anything is written here")
    get "#{base}/skin"
    expect(text).not_to include("Before anything is written here")
  end

  it "shows the girths of a limb in their fields once they are kept, and what was typed where one is refused" do
    wrap = sized_job("compression_wrap", side: "left")
    path = "/visits/#{wrap.id}/volume"
    field = ->(level) { html[/name="girths\[left:#{level}\]"[^>]*value="([^"]*)"/, 1] }
    send_form(path, :from => path, "girths[left:0]" => "24.5", "girths[left:40]" => "26")
    get path
    expect([field[0], field[40], field[80]]).to eq ["24.5", "26", ""]
    # a cylinder of 24 cm beside one of 27 cm, 8 cm high
    ml = ->(girth) { girth * girth * 8 / (4 * Math::PI) }
    both =
      { left: 27, right: 24 }.flat_map do |side, girth|
        [0, 40, 80].map { |level| ["girths[#{side}:#{level}]", girth.to_s] }
      end
    send_form(path, from: path, **both.to_h)
    get path
    more = (ml[27] - ml[24]).round
    expect(text).to include(
      "Left: #{ml[27].round} ml. #{more} ml (26.6 %) more than the other, moderate.",
      "Right: #{ml[24].round} ml. #{more} ml (21.0 %) less than the other."
    )
    send_form(path, :from => path, "girths[left:0]" => "25", "girths[left:40]" => "nonsense")
    expect([last_response.status, field[0], field[40]]).to eq [422, "25", "nonsense"]
  end

  it "says in the record where nothing was read or looked at" do
    get "/visits/#{make_visit(clinic, fitter).id}/record"
    expect(text).to include "Nothing was read.", "Nothing was looked at."
    looked = fitted_visit(clinic, fitter)
    get "/visits/#{looked.id}/record"
    expect(text).not_to match(/Nothing was (read|looked at)/)
  end

  it "has no page for a volume that the device does not plan, and takes none" do
    expect(get("#{base}/volume").status).to eq 404
    send_form("#{base}/volume", :from => "#{base}/line", "girths[left:0]" => "30")
    expect(last_response.status).to eq 404
    expect(record(visit).rows(:limb_girths)).to eq []
  end

  it "marks the place that was tapped, and takes what is there" do
    get "#{base}/skin?x=170&y=300&side=left"
    expect(html).to include('name="x" value="170.0"', 'class="spot-ring"')
    send_form(
      "#{base}/skin",
      from: "#{base}/skin",
      x: "170",
      y: "300",
      kind: "mark_fades",
      size: "12",
      side: "left"
    )
    expect(last_response.status).to eq 303
    get "#{base}/skin"
    expect(text).to include "1. Mark that fades, 12 mm"
  end

  it "leaves a point alone that is none" do
    ["x=1e99&y=2", "x=-4&y=2", "x=a&y=b", "x[]=1&y=2"].each do |query|
      get "#{base}/skin?#{query}"
      expect([query, last_response.status]).to eq [query, 200]
      expect(html).to include "tap it on the figure first"
    end
  end

  it "shows a stop on every stage once skin is open, and keeps what was typed of a refused one" do
    send_form(
      "#{base}/skin",
      from: "#{base}/skin",
      x: "170",
      y: "300",
      kind: "open",
      size: "huge",
      side: "left"
    )
    expect([last_response.status, html]).to match [422, /value="huge"/]
    send_form("#{base}/skin", from: "#{base}/skin", x: "170", y: "300", kind: "open", side: "left")
    get "#{base}/fit"
    expect(text).to match(/Stop\..*Open skin where the device lies.*A doctor must see it today/)
  end

  it "keeps a photo, shows it to those of the clinic alone, and never in a cache" do
    send_photo(jpeg)
    expect(last_response.status).to eq 303
    get "#{base}/skin"
    path = html[%r{src="(/visits/\d+/photos/\d+\.jpg)"}, 1]
    get path
    expect(last_response.headers.slice("content-type", "cache-control").values).to eq [
         "image/jpeg",
         "private, no-store"
       ]
    expect(last_response.body.b).to start_with "\xFF\xD8".b
    sign_out
    sign_in(make_account(make_clinic))
    expect(get(path).status).to eq 404
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    expect(get(path).status).to eq 403
  end

  it "names what is wrong with a photo beside its field" do
    send_photo(__FILE__)
    expect([last_response.status, text]).to match [422, /no JPEG or PNG/]
    send_photo(nil)
    expect([last_response.status, text]).to match [422, /Choose a photo/]
    send_photo(jpeg, what: "")
    expect([last_response.status, text]).to match [422, /Say what the photo shows/]
  end

  it "computes a line from typed points as from tapped ones, and says how it changed" do
    lines = { "before" => "200,400", "after" => "190,400" }
    lines.each do |moment, knee|
      send_form(
        "#{base}/lines",
        from: "#{base}/line",
        line: "leg",
        side: "left",
        moment: moment,
        known: "80 cm",
        "points[hip]": "170,40",
        "points[knee]": knee,
        "points[toe]": "180,640"
      )
      expect(last_response.status).to eq 303
    end
    get "#{base}/line"
    expect(text).to match(
      /Thigh and shank make 9\.5°; the knee lies 32\.0 mm outside the line.*-4\.0° since/
    )
    expect(html).to include 'class="line-of-body"'
  end

  it "has no line for a family that looks at none" do
    product = make_product(clinic)
    product.update(family: "knee_sleeve", options: Handrail::Store.json({}))
    other = make_visit(clinic, fitter, product: product, fields: { "indication" => "knee" })
    expect(get("/visits/#{other.id}/line").status).to eq 404
  end

  it "writes what the wearer says, and keeps a refused score in its field" do
    send_form("#{base}/words", from: "#{base}/skin", pain_without: "12", place: "on stairs")
    expect([last_response.status, html]).to match [422, /value="12".*value="on stairs"/]
    send_form(
      "#{base}/words",
      from: "#{base}/skin",
      pain_without: "7",
      pain_with: "4",
      wants: "walk"
    )
    get "#{base}/skin"
    expect(text).to match(/7\s+4.*wants: walk/)
  end

  it "sends work to the workshop, prints its slip, and takes it back" do
    due = Handrail::Quantity::Day.write(clinic.today + 4)
    send_form(
      "#{base}/slips",
      from: "#{base}/fit",
      doer: "workshop",
      what: "Hole 12 mm lower",
      due_on: due,
      side: "left"
    )
    expect(last_response.status).to eq 303
    get "#{base}/fit"
    expect(text).to include "Hole 12 mm lower", "workshop, due #{due}"
    slip = html[%r{href="(/visits/\d+/slips/\d+)"}, 1]
    get slip
    expect(text).to match(
      /Job slip \d+, for the workshop.*Wilma Quarrel.*Back by #{due}.*Hole 12 mm lower.*36\.5 cm/
    )
    send_form("#{slip}/close", from: "#{base}/fit", outcome: "back", note: "it is 10 mm")
    get "#{base}/fit"
    expect(text).not_to include "It is back"
    get "#{base}/slips/999999"
    expect(last_response.status).to eq 404
  end

  it "offers the slip's form filled in after a change that the workshop makes" do
    product = make_product(clinic)
    product.update(family: "kafo", options: Handrail::Store.json({}))
    family = Handrail::Families::Registry.fetch("kafo")
    remedy = family.problem("knee_bends").remedies.find { |one| one.key == "stiffer_foot" }
    expect([remedy.doer, remedy.away?]).to eq ["workshop", true]
  end

  it "names problems by how they feel, those that are felt so first, and keeps the point" do
    get "#{base}/fit?x=200&y=300&felt=slips&side=left"
    expect(text).to match(
      /It hurts It rubs It gaps It slips.*It slides down when walking.*Sore over the joint/
    )
    expect(html).to match(/href="\?[^"]*felt=slips[^"]*problem=slides_down/)
    get "#{base}/fit?problem=slides_down&felt=slips&x=200&y=300&side=left"
    expect(html).to include('name="felt" value="slips"', 'name="x" value="200.0"')
  end

  it "writes down why a check is not possible today, beside the check" do
    get "#{base}/fit?check=slip"
    expect(text).to include "Not possible today"
    send_form(
      "#{base}/checks",
      from: "#{base}/fit",
      check: "slip",
      place: "",
      side: "left",
      outcome: "not_possible",
      note: ""
    )
    expect([last_response.status, text]).to match [422, /Say why it is not possible today/]
    send_form(
      "#{base}/checks",
      from: "#{base}/fit",
      check: "slip",
      place: "",
      side: "left",
      outcome: "not_possible",
      note: "in bed"
    )
    get "#{base}/fit"
    expect(text).to include("not possible today: in bed")
  end

  it "opens a recheck on what was said and seen then, and closes it only once the skin was looked at" do
    first = fitted_visit(clinic, fitter)
    run(first, fitter, :WriteWord, pain_without: "7", pain_with: "4")
    run(
      first,
      fitter,
      :RecordSkin,
      x: "190",
      y: "333",
      kind: "mark_fades",
      side: "left",
      note: "calf"
    )
    teach(first, fitter)
    hand_over(first, fitter)
    later = record(first).visits.last
    ask(later, fitter)
    get "/visits/#{later.id}/recheck"
    expect(text).to match(
      /They say then now.*Pain without it 7 .*Write what they say.*Mark that fades, calf Look again/
    )
    expect(record(later).gates.blocks(:close).map(&:code)).to include :skin_unseen
    run(later, fitter, :WriteWord, pain_without: "6", pain_with: "2")
    run(
      later,
      fitter,
      :RecordSkin,
      follows: record(later).body.skin.first.last[:id].to_s,
      course: "gone"
    )
    get "/visits/#{later.id}/recheck"
    expect(text).to match(/Pain with it 4 2.*Mark that fades, gone/)
    expect(record(later).gates.blocks(:close).map(&:code)).not_to include :skin_unseen
  end
end
