# frozen_string_literal: true

require "web_helper"
require "tempfile"
require_relative "../support/broken_families"

# A device of the clinic's own: looked at, brought in, ordered, ended.
RSpec.describe "Devices of our own", :rolled_back do
  store = Handrail::Store
  define_method(:store) { store }

  let(:clinic) { make_clinic }
  let(:senior) { make_account(clinic, "senior") }
  let(:fitter) { make_account(clinic) }
  let(:shipped) { File.read(File.join(Handrail::Families::Registry::FOLDER, "ankle_sleeve.yml")) }
  let(:own) do
    named = "words:\n- en: Quay sleeve\n  de: Kai-Bandage\n  es: Manga del muelle\n"
    shipped.sub("key: ankle_sleeve", "key: quay_sleeve").sub(
      "name: Ankle sleeve",
      "name: Quay sleeve"
    ) + named
  end

  # a shipped family of another name, with the words for it
  def of_ours(text)
    name = text[/^name: (.*)$/, 1]
    words = "words:\n- en: #{name} of ours\n  de: Unser Gerät\n  es: Nuestro aparato\n"
    text.sub("name: #{name}", "name: #{name} of ours") + words
  end

  def choose(source, name = "quay_sleeve.yml")
    file =
      Tempfile.new(%w[family .yml], binmode: true).tap { |one| one.write(source) && one.rewind }
    get "/catalogue/families"
    post "/catalogue/families",
         "authenticity_token" => token,
         "file" => Rack::Test::UploadedFile.new(file.path, "text/yaml", original_filename: name)
  end

  def bring(why = "made by our own workshop", password: Fixtures::PASSWORD)
    fields =
      html.scan(/name="(file|named|seen|entry_key|page|authenticity_token)" value="([^"]*)"/).to_h
    post "/catalogue/families/all", { **fields, "why" => why, "own_password" => password }
  end

  def ended(key, why = "no longer made")
    get "/catalogue/families"
    post "/catalogue/families/end",
         "authenticity_token" => token,
         "entry_key" => SecureRandom.uuid,
         "key" => key,
         "why" => why
  end

  def now = store::Clinic[clinic.id]

  it "is looked at, and brought in with a reason and the password" do
    sign_in(senior)
    choose(own)
    expect([last_response.status, text]).to match [
            200,
            /Quay sleeve can be brought in\..*stands beside the others/
          ]
    expect(now.own_families.to_h).to eq({})
    # signed in longer ago than that
    stub_const("Handrail::Web::Base::CONFIRMED_SECONDS", 0)
    bring(password: "wrong")
    expect([last_response.status, text]).to match [422, /not your password/]
    bring("")
    expect([last_response.status, text]).to match [422, /Say why it is brought in/]
    bring
    expect(last_response.status).to eq 303
    get "/catalogue/families"
    expect(text).to include("made by our own workshop")
  end

  it "has products, is ordered and shown, at this clinic alone" do
    sign_in(senior)
    choose(own)
    bring
    get "/catalogue/new?family=quay_sleeve"
    expect(html).to include("Quay sleeve")
    product =
      store::Desk.new(now, senior, entry_key: SecureRandom.uuid).run(
        store::Commands::AddProduct.new(
          "maker" => "Quay works",
          "name" => "Own sleeve",
          "family" => "quay_sleeve",
          "options" => {
          }
        )
      )[
        "product"
      ]
    get "/catalogue/#{product}"
    expect([last_response.status, text]).to match [200, /Own sleeve/]
    wearer = make_patient(now, senior)
    visit =
      make_visit(
        now,
        fitter,
        patient: wearer,
        product: store::Product[product],
        fields: {
          "indication" => "sprained"
        }
      )
    visit = visit.id
    %W[
      /visits/#{visit}
      /visits/#{visit}/measure
      /
      /week
      /patients/#{wearer.id}
      /report
      /catalogue
      /handbook/families/quay_sleeve
    ].each do |path|
      get path
      follow_redirect! if last_response.redirect?
      expect(last_response.status).to eq(200), path
    end
    expect(record(store::Visit[visit]).family.name).to eq "Quay sleeve"
    get "/catalogue/families/quay_sleeve.yml"
    expect(last_response.body).to eq own
    # another clinic knows nothing of it
    other = make_clinic
    expect(other.device_families.keys).not_to include("quay_sleeve")
    sign_out
    sign_in(make_account(other, "senior"))
    get "/handbook/families/quay_sleeve"
    expect(last_response.status).to eq 404
  end

  it "takes nothing away from what was ordered, and is ended with what it stood for" do
    visit = make_visit(clinic, fitter)
    key = visit.fitting.product.family
    text = File.read(File.join(Handrail::Families::Registry::FOLDER, "#{key}.yml"))
    sign_in(senior)
    choose(text, "#{key}.yml")
    bring
    expect([last_response.status, self.text]).to match [422, /It holds as it stands already/]
    name = text[/^name: (.*)$/, 1]
    choose(of_ours(text))
    expect(self.text).to match(
      /takes the place of #{Regexp.escape(name)}.*Until now Then name #{name} #{name} of ours/
    )
    bring
    expect(now.device_families[key].name).to eq "#{name} of ours"
    expect(record(visit).family.name).to eq name
    get "/visits/#{visit.id}/order"
    expect(last_response.status).to eq 200
    later = make_visit(now, fitter)
    expect(record(later).family.name).to eq "#{name} of ours"
    ended(key, "no")
    expect([last_response.status, self.text]).to match [422, /Say in a few words why it is ended/]
    ended(key)
    expect([now.own_families.to_h, now.device_families[key].name]).to eq [{}, name]
    expect(record(later).family.name).to eq "#{name} of ours"
    ended(key)
    expect([last_response.status, self.text]).to match [422, /ended already, or never brought in/]
  end

  it "is brought in over nothing that its senior has not seen" do
    sign_in(senior)
    choose(own)
    waits = html.scan(/name="(file|named|seen|page|authenticity_token)" value="([^"]*)"/).to_h
    # another one of that key meanwhile
    other = store::OwnFamilies.look(own.sub("It prevents no sprain.", "It holds nothing."), "b.yml")
    store::Desk.new(now, make_account(clinic, "senior"), entry_key: SecureRandom.uuid).run(
      store::Commands::BringFamily.new({ "why" => "first of all" }, looked: other)
    )
    post "/catalogue/families/all",
         waits.merge("why" => "late with it", "entry_key" => SecureRandom.uuid)
    expect([last_response.status, text]).to match [
            422,
            /Another text of it was brought in or ended meanwhile/
          ]
    expect(now.device_families["quay_sleeve"].digest).to eq other.family.digest
    # what changes is shown now, and what was typed is there
    expect(html).to include('value="late with it"').and include("It holds nothing.")
    bring("late with it")
    expect(last_response.status).to eq 303
  end

  it "is not ordered any more once it has ended, and its records are read" do
    sign_in(senior)
    choose(own)
    bring
    maker = store::Maker.create(clinic_id: clinic.id, name: "Quay works")
    product =
      store::Product.create(
        clinic_id: clinic.id,
        maker_id: maker.id,
        family: "quay_sleeve",
        name: "S",
        options: store.json({})
      )
    ended("quay_sleeve")
    expect(now.fits?("quay_sleeve")).to be false
    get "/catalogue/#{product.id}"
    expect(last_response.status).to eq 200
    expect {
      store::Desk.new(now, senior, entry_key: SecureRandom.uuid).run(
        store::Commands::WriteOrder.new(
          {
            "patient" => make_patient(now, senior).id,
            "family" => "quay_sleeve",
            "side" => "left",
            "product_id" => product.id
          }
        )
      )
    }.to raise_error(store::Faults, /was ended here/)
  end

  it "says by line what could hurt somebody, and keeps nothing" do
    sign_in(senior)
    lost = own.sub(/^doff:\n(?:[- ].*\n)+/, "doff: []\n")
    choose(lost)
    expect(last_response.status).to eq 422
    expect(text).to match(/Nothing was brought in.*line \d+/)
    expect(html).not_to include("/catalogue/families/all")
    expect(store.db[:waiting_files].where(clinic_id: clinic.id).count).to eq 0
  end

  it "brings along the words of other languages for what is new in it" do
    changed =
      own.sub(
        "do: Hand inside, hold the heel, turn it back over the hand.",
        "do: Hand inside to the heel."
      )
    expect(changed).not_to eq own
    words =
      "- en: Hand inside to the heel.\n  de: Mit der Hand hinein bis zur Ferse.\n" \
        "  es: Meta la mano hasta el talón.\n"
    sign_in(senior)
    choose(changed)
    expect([last_response.status, text]).to match [
            422,
            /no words in “de” for “Hand inside to the heel/
          ]
    choose("#{changed}#{words}")
    expect(last_response.status).to eq(200), text[0, 900]
    bring
    family = now.device_families["quay_sleeve"]
    edition = Handrail::Edition.current.with_words(family.words)
    expect(edition.language("de").say("Hand inside to the heel.")).to start_with("Mit der Hand")
    expect(edition.language("de").say("Stand")).to eq Handrail::Edition
         .current
         .language("de")
         .say("Stand")
  end

  it "refuses files of every other kind in a sentence" do
    sign_in(senior)
    {
      "" => /holds no family/,
      "just words" => /holds no family/,
      "- a\n- b\n" => /holds no family/,
      "key: [" => /no YAML/,
      "\xFF\xFE\x00" => /not UTF-8/,
      "a: &a [1]\nb: *a\n" => /aliases/,
      "key: !ruby/object:Object {}\n" => /holds no family|no YAML/,
      "[" * 20_000 => /no YAML/,
      "key: x\n" => /required|name/,
      "#{own}\n# #{"x" * 200_000}" => /larger than 200 kB/,
      own.sub("key: quay_sleeve", "key: \"Quay Sleeve\"") => /key/,
      own.sub("figure: leg", "figure: tail") => /tail/
    }.each do |source, words|
      choose(source)
      expect([last_response.status, text]).to match([422, words]), source[0, 60]
    end
    get "/catalogue/families"
    post "/catalogue/families", "authenticity_token" => token
    expect([last_response.status, text]).to match [422, /Choose a family file/]
    post "/catalogue/families/all", "authenticity_token" => token, "file" => "1"
    expect([last_response.status, text]).to match [422, /not here any more/]
  end

  it "refuses what was changed at random in a sentence, or takes what is whole" do
    dice = Random.new(RSpec.configuration.seed)
    60.times do
      raw = BrokenFamilies.copy(BrokenFamilies.shipped.sample(random: dice))
      rand_change(raw, dice)
      looked = store::OwnFamilies.look(YAML.dump(raw), "changed.yml")
      expect(looked.sound? || looked.faults.all? { |fault| fault.last.is_a?(String) }).to be true
    end
  end

  # something somewhere becomes something else, or goes
  def rand_change(part, dice)
    keys = part.is_a?(Hash) ? part.keys : part.each_index.to_a
    return if keys.empty?

    key = keys.sample(random: dice)
    inner = part[key]
    return rand_change(inner, dice) if (inner.is_a?(Hash) || inner.is_a?(Array)) && dice.rand < 0.8

    case dice.rand(3)
    when 0
      part.is_a?(Hash) ? part.delete(key) : part.delete_at(key)
    when 1
      part[key] = [nil, 7, "odd", [], {}, true, ["odd"], { "odd" => "odd" }].sample(random: dice)
    else
      part[key] = inner.is_a?(String) ? inner.reverse : inner
    end
  end

  it "is a senior's, with their password; a fitter reads" do
    sign_in(fitter)
    get "/catalogue/families"
    expect([last_response.status, html]).to match [200, /<h1>Devices of our own/]
    expect(html).not_to include("Look at it first")
    post "/catalogue/families", "authenticity_token" => token
    expect(last_response.status).to eq 403
    post "/catalogue/families/all", "authenticity_token" => token
    expect(last_response.status).to eq 403
    sign_out
    sign_in(make_account(clinic, "front_desk"))
    get "/catalogue/families"
    expect(last_response.status).to eq 403
  end
end
