# frozen_string_literal: true

require "web_helper"
require "nokogiri"

RSpec.describe "The catalogue", :rolled_back do
  let!(:clinic) { make_clinic }
  let!(:senior) { make_account(clinic, "senior") }
  let!(:product) { make_product(clinic) }
  let(:page) { "/catalogue/#{product.id}" }
  let(:head) { "part,size,site,min,max,unit,posture,tension\n" }

  def upload(text, name = "new.csv", to: "#{page}/import")
    get page
    file = Rack::Test::UploadedFile.new(StringIO.new(text), "text/csv", original_filename: name)
    post to, "file" => file, "authenticity_token" => token
  end

  def charts = Handrail::Store::ChartRevision.where(product_id: product.id).count

  before { sign_in(senior) }

  it "refuses a maker's file with both faults named, and changes nothing" do
    upload(
      "#{head},S,calf_15_below_mid_patella,34,30,cm,,snug\n" \
        ",M,calf_15_below_mid_patella,13.8,15.6,cm,,snug\n" \
        ",L,calf_15_below_mid_patella,40,44,cm,,snug\n" \
        ",XL,calf_15_below_mid_patella,44.1,48,cm,,snug\n"
    )
    expect([last_response.status, charts]).to eq [422, 1]
    expect(text).to match(
      /nothing was changed.*new.csv line 2: .*min 34 cm is above max 30 cm.*new.csv line 3: .*nobody measures/
    )
  end

  it "asks how a maker's figures are written where the file does not tell, and reads them so" do
    product.update(family: "abdominal_support_belt", options: Handrail::Store.json({}))
    upload("#{head},S,hip_mid_crest_trochanter,\"1,050\",\"1,150\",mm,,snug\n")
    expect(text).to include("can be read two ways").and include(
            "1050, with a point before decimals"
          )
    expect(charts).to eq 1
    fields = html.scan(/name="(raw|named|authenticity_token)" value="([^"]*)"/).to_h
    fields = fields.transform_values { |one| CGI.unescapeHTML(one) }
    post "#{page}/import", fields.merge("choose" => { "figures" => "point-comma" })
    expect(html).to include('value="1050"', 'value="1150"')
    # where the column tells, nothing is asked
    upload("#{head.tr(",", ";")};S;hip_mid_crest_trochanter;0,9;1,05;m;;snug\n")
    expect(html).to include('value="0.9"', 'value="1.05"')
    post "#{page}/import", "raw" => "[1", "authenticity_token" => token
    expect([last_response.status, charts]).to eq [422, 1]
  end

  it "refuses a chart of sites that are not read for such a device, and a package of another family" do
    upload("#{head},S,ankle_narrowest,20,22,cm,,snug\n")
    expect(text).to include(
      "new.csv line 2: “ankle_narrowest” is not read for knee unloader. It has calf_15_below"
    )
    package =
      Handrail::Exchange::DataPackage.descriptor(
        name: "x",
        maker: "y",
        family: "knee_sleeve",
        dated: Date.new(2026, 1, 1),
        tie_rule: "larger",
        rows: product.revision(clinic.today).rows
      )
    upload(JSON.generate(package), "datapackage.json")
    expect([last_response.status, text]).to match [
            422,
            /it is a chart of Knee sleeve, and this is Knee unloader/i
          ]
    package["size_chart"]["family"] = "knee_unloader"
    package["size_chart"]["tie_rule"] = "smaller"
    upload(JSON.generate(package), "datapackage.json")
    expect(html).to include('<option value="smaller" selected')
  end

  it "shows what a sound file would change for the clinic's own wearers before it is put in force" do
    fitter = make_account(clinic)
    %w[36.5 33 43].each do |value|
      visit = make_visit(clinic, fitter, product: product)
      ask(visit, fitter)
      take(visit, fitter, value)
    end
    upload(
      "#{head},S,calf_15_below_mid_patella,30,35.4,cm,,snug\n" \
        ",M,calf_15_below_mid_patella,35.5,40,cm,,snug\n" \
        ",L,calf_15_below_mid_patella,40.1,46,cm,,snug\n"
    )
    expect([last_response.status, charts]).to eq [200, 1]
    expect(text).to match(/before 2 of 3 0 1.*after 3 of 3 0 0/)
    form = Nokogiri.HTML(last_response.body)
    rows = form.css("#chart input[name^=rows]").to_h { |one| [one["name"], one["value"]] }
    chosen = form.css("#chart select[name^=rows]")
    rows.merge!(chosen.to_h { |one| [one["name"], one.at("option[selected]")&.[]("value").to_s] })
    post "#{page}/chart",
         rows.merge(
           "dated" => Handrail::Quantity::Day.write(clinic.today),
           "tie_rule" => "larger",
           "authenticity_token" => token
         )
    expect([last_response.status, charts, product.revision(clinic.today).chart.names]).to eq [
         303,
         2,
         %w[S M L]
       ]
  end

  it "keeps everything typed on the tape when a row can not be taken" do
    get "#{page}/chart"
    post "#{page}/chart",
         "rows" => {
           "0" => {
             "size" => "S",
             "site" => "calf_widest",
             "min" => "thirty",
             "max" => "35",
             "unit" => "cm"
           }
         },
         "dated" => "tomorrow",
         "tie_rule" => "nearest",
         "authenticity_token" => token
    expect([last_response.status, charts, last_response.body]).to match [422, 1, /value="thirty"/]
    expect(last_response.body).to include('value="tomorrow"')
  end

  it "puts no chart in the place of one that came while it was typed, before that is told" do
    row = { "size" => "S", "site" => "calf_widest", "min" => "30", "max" => "35", "unit" => "cm" }
    get "#{page}/chart"
    seen = -> { Nokogiri.HTML(last_response.body).at("#chart [name=seen]")["value"] }
    send_chart = ->(day, **how) do
      post "#{page}/chart",
           "rows" => {
             "0" => row
           },
           "dated" => day.iso8601,
           "tie_rule" => "larger",
           "authenticity_token" => token,
           **how.transform_keys(&:to_s)
    end
    shown = seen.call
    send_chart.call(clinic.today, seen: shown)
    expect([last_response.status, charts]).to eq [303, 2]
    get "#{page}/chart"
    later = clinic.today + 1
    send_chart.call(later, seen: shown)
    expect([last_response.status, charts]).to eq [422, 2]
    expect(text).to match(
      /Another chart was put in force meanwhile, from #{Handrail::Quantity::Day.write(clinic.today)}/
    )
    send_chart.call(later, seen: seen.call)
    expect([last_response.status, charts]).to eq [303, 3]
    # a product with no chart says so, and a first one that came meanwhile is told as well
    expect(Handrail::Store::Commands::AddChart.newest(Handrail::Store::Product.new)).to eq "none"
  end

  it "looks a chart over while it is typed" do
    get "#{page}/chart"
    post "#{page}/chart/look",
         "rows" => {
           "0" => {
             "size" => "S",
             "site" => "calf_widest",
             "min" => "30",
             "max" => "35",
             "unit" => "cm"
           },
           "1" => {
             "size" => "M",
             "site" => "calf_widest",
             "min" => "36",
             "max" => "40",
             "unit" => "cm"
           }
         },
         "authenticity_token" => token
    expect(text).to include("nothing holds 35 cm to 36 cm")
    expect(last_response.body.scan('role="slider"').size).to eq 4
  end

  it "gives the chart out as CSV and as a data package that comes back the same" do
    get "#{page}/chart.csv"
    expect(last_response.body.lines.first(2)).to eq [
         head.sub("\n", "\r\n"),
         ",S,calf_15_below_mid_patella,32,35.4,cm,,snug\r\n"
       ]
    get "#{page}/chart.zip"
    zip = last_response.body
    upload(zip, "chart.zip")
    expect([last_response.status, last_response.body]).to match [200, /What chart.zip holds/]
    get "#{page}/datapackage.json"
    upload(last_response.body, "datapackage.json")
    expect(last_response.status).to eq 200
    upload("rubbish", "chart.json")
    expect([last_response.status, text]).to match [422, /not well-formed JSON/]
  end

  it "says whom a chart serves, for the clinic's wearers and for a file of readings" do
    get "#{page}/coverage"
    expect(text).to include("Nobody has been measured for this chart yet")
    upload(
      "person,site,posture,tension,value,unit\n" \
        "a,calf_15_below_mid_patella,,snug,33,cm\n" \
        "b,calf_15_below_mid_patella,,snug,36,cm\n" \
        "c,calf_15_below_mid_patella,,snug,50,cm\n",
      "people.csv",
      to: "#{page}/coverage"
    )
    expect(text).to match(/People in people.csv.*three sets.*off the scale 1.*fewer than 90 in 100/)
    # as another program saves it
    upload(
      "Patient;Messstelle;Haltung;Zug;Messwert;Einheit\nA;calf_15_below_mid_patella;;snug;36,5;cm\n",
      "people.csv",
      to: "#{page}/coverage"
    )
    expect(last_response.status).to eq 200
    upload("person,site\na,b\n", "people.csv", to: "#{page}/coverage")
    expect([last_response.status, text]).to match [422, /people.csv line 1: lacks the columns/]
  end

  it "adds a product with its options, and keeps a rejected form" do
    get "/catalogue/new", "family" => "abdominal_support_belt"
    post "/catalogue",
         "family" => "abdominal_support_belt",
         "maker" => "Quoin",
         "name" => "belt",
         "options" => {
           "belt_widths" => "8 cm; ten"
         },
         "authenticity_token" => token
    expect([last_response.status, last_response.body]).to match [422, /value="8 cm; ten"/]
    post "/catalogue",
         "family" => "abdominal_support_belt",
         "maker" => "Quoin",
         "name" => "belt",
         "options" => {
           "belt_widths" => "8 cm; 10 cm"
         },
         "authenticity_token" => token
    follow_redirect!
    expect(Handrail::Store::Product.order(:id).last.options["belt_widths"]).to eq ["8 cm", "10 cm"]
  end

  it "tells the second of two seniors what the first changed, and loses neither" do
    get page
    seen = last_response.body[/name="seen" value="(\h+)"/, 1]
    key = token
    form = { "product" => product.id, "options" => { "type" => "dial" } }
    desk(clinic, make_account(clinic, "senior")).run(Fixtures::Commands::ChangeProduct.new(form))
    post page,
         "seen" => seen,
         "options" => {
           "type" => "double_upright",
           "calf_strap" => "41 cm"
         },
         "offered" => "no",
         "authenticity_token" => key
    expect([last_response.status, text]).to match [
            422,
            /changed while your page was open.*How it pushes Dial-tensioned/
          ]
    expect(last_response.body).to include('value="double_upright" checked', 'value="41 cm"')
    again = last_response.body[/name="seen" value="(\h+)"/, 1]
    post page,
         "seen" => again,
         "options" => {
           "type" => "double_upright",
           "calf_strap" => "41 cm"
         },
         "offered" => "no",
         "authenticity_token" => token
    fresh = Handrail::Store::Product[product.id]
    expect(
      [last_response.status, fresh.options["type"], fresh.options["calf_strap"], fresh.offered]
    ).to eq [303, "double_upright", "41 cm", false]
  end

  it "keeps the shelf, and says what can not stand there" do
    send_form("#{page}/stock", from: page, size: "M", count: "3", lot: "Z9")
    send_form("#{page}/levels", from: page, size: "M", least: "4")
    get "/"
    expect(text).to match(/Low on the shelf.*M Specwright.*3 on it, 4 to keep/)
    send_form("#{page}/stock", from: page, size: "M", count: "many")
    expect([last_response.status, text]).to match [422, /Write how many/]
  end

  it "lets only seniors change charts, clinicians see coverage, and nobody another clinic's products" do
    sign_out
    sign_in(make_account(clinic))
    [["get", "#{page}/chart"], %w[get /catalogue/new]].each do |verb, path|
      public_send(verb, path) && expect(last_response.status).to(eq(403), path)
    end
    get "#{page}/coverage"
    expect(last_response.status).to eq 200
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    get "#{page}/coverage"
    expect(last_response.status).to eq 403
    get "/tapes"
    expect(last_response.status).to eq 403
    get page
    expect(last_response.status).to eq 200
    sign_out
    sign_in(make_account(make_clinic))
    ["", "/chart.csv", "/coverage"].each do |rest|
      get("#{page}#{rest}") && expect(last_response.status).to(eq(404), rest)
    end
  end

  it "tells every fitter how alike their own readings are, and a senior everybody's" do
    fitter = make_account(clinic)
    visit = make_visit(clinic, fitter, product: product).tap { |made| ask(made, fitter) }
    2.times { |i| take(visit, fitter, "36.#{i}") }
    get "/tapes"
    expect(text).to include("Fitter Spec", "one pair so far").or include("1 pair so far")
    sign_out
    sign_in(make_account(clinic))
    get "/tapes"
    expect(text).to include("Nothing has been read twice yet")
  end

  it "holds one wearer against the whole catalogue" do
    fitter = make_account(clinic)
    visit = make_visit(clinic, fitter, product: product).tap { |made| ask(made, fitter) }
    make_product(clinic, { "X" => [50, 60] })
    take(visit, fitter, "36.5")
    get "/visits/#{visit.id}/fits"
    expect(text).to match(
      /What fits this wearer.*as ordered M over 9\d in 100|What fits this wearer.*as ordered M .*No size holds/
    )
  end
end
