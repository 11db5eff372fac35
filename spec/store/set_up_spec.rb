# frozen_string_literal: true

require "open3"
require "store_helper"

RSpec.describe Handrail::Store::SetUp, :rolled_back do
  store = Handrail::Store

  let(:form) do
    {
      "name" => "Gull Row Orthotics",
      "address" => "2 Gull Row",
      "place" => "Gull Row",
      "phone" => "12",
      "time_zone" => "America/New_York",
      "tape" => "in 1/8",
      "sheet_language" => "de",
      "person" => "Ida Marsh",
      "email" => "Ida-#{SecureRandom.hex(3)}@gullrow.example",
      "password" => "three gulls on a wall",
      "again" => "three gulls on a wall",
      "families" => %w[knee_unloader no_such_family]
    }
  end

  it "makes a clinic and its first senior, once a link" do
    token = described_class.link
    account = described_class.use(token, form)
    expect(account).to have_attributes(
      role: "senior",
      name: "Ida Marsh",
      email: form["email"].downcase
    )
    expect(account.clinic).to have_attributes(
      name: "Gull Row Orthotics",
      time_zone: "America/New_York",
      tape: "in 1/8",
      demo: false,
      families: %w[knee_unloader]
    )
    expect(account.clinic.choices_made.sheet_language).to eq "de"
    expect {
      described_class.use(token, form.merge("email" => "b@gullrow.example"))
    }.to raise_error(store::Unacceptable, %r{bin/handrail clinic new})
  end

  # as bin/handrail clinic new does it: what is chosen is wrapped before the first question to the database
  it "wraps what a clinic chose in a program that has asked nothing yet" do
    program = 'require "./lib/handrail"; print Handrail::Store.json({ "a" => 1 }).class'
    said, = Open3.capture2e(RbConfig.ruby, "-e", program, chdir: Handrail::ROOT)
    expect(said).to end_with "Sequel::Postgres::JSONBHash"
  end

  it "says what is wrong with every field, and leaves the link as it is" do
    token = described_class.link
    wrong =
      form.merge(
        "name" => "",
        "place" => " ",
        "time_zone" => "Moon/Crater",
        "tape" => "ell",
        "sheet_language" => "xx",
        "person" => "",
        "email" => "ida",
        "password" => "short",
        "again" => "other"
      )
    expect { described_class.use(token, wrong) }.to raise_error(store::Faults) { |e|
      expect(e.fields.keys).to match_array %w[
                    name
                    place
                    time_zone
                    tape
                    sheet_language
                    person
                    email
                    password
                    again
                  ]
    }
    expect(described_class.open?(token)).to be true
    expect(store::Clinic.where(name: "Gull Row Orthotics")).to be_empty
  end

  it "is closed after two days" do
    token = described_class.link
    store.db[:set_up_links].where(token_digest: store::People.digest(token)).update(
      expires_at: Time.now - 1
    )
    expect(described_class.open?(token)).to be false
    expect { described_class.use(token, form) }.to raise_error(store::Unacceptable)
  end

  it "refuses an e-mail that signs in elsewhere" do
    taken = make_account(make_clinic).email
    expect {
      described_class.use(described_class.link, form.merge("email" => taken))
    }.to raise_error(store::Faults) { |e|
      expect(e.fields["email"]).to include("signs in here already")
    }
  end

  it "says what a new clinic does first, until somebody was measured" do
    account = described_class.make(form)
    clinic = account.clinic
    steps = -> { store::Day.new(clinic).first_steps }
    expect(steps[]).to eq(product: false, chart: false, patient: false, people: false)
    visit = make_visit(clinic, account)
    expect(steps[]).to include(product: true, chart: true, patient: true)
    ask(visit, account)
    take(visit, account, "36.5")
    expect(steps[]).to eq({})
  end

  it "removes the demo clinic and touches nothing else" do
    account = described_class.make(form)
    visit = handed_over_visit(account.clinic, account)
    tables = store.db.tables.select { |table| store.db[table].columns.include?(:clinic_id) }
    count = ->(clinic) do
      tables.to_h { |table| [table, store.db[table].where(clinic_id: clinic.id).count] }
    end
    before = count[account.clinic]
    as_owner { described_class.remove(DEMO) }
    expect(count[account.clinic]).to eq before
    expect(count[DEMO].values.sum).to eq 0
    expect(store::Clinic.where(demo: true)).to be_empty
    expect(record(visit)).to be_handed_over
  end

  it "removes no clinic that is real" do
    expect do described_class.remove(described_class.make(form).clinic) end.to raise_error(
      Handrail::Error,
      /Only the demo/
    )
  end
end
